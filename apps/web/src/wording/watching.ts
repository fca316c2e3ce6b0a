import type { ReaderCost } from '@lantern/contracts';
import type {
  WatchedAs,
  WatchedFolder,
  WatchingTold,
  WatchSettings,
  WatchState,
} from '@lantern/contracts/discovery';
import { number, size } from './discovery';

export const WATCH_STATE_WORDS: Readonly<Record<WatchState, string>> = {
  watching: 'is watched',
  missing: 'is not there now',
  'not-allowed': 'is not among the folders that the owner of the machine allowed',
  'cannot-change': 'is watched, but nothing can be moved into quarantine from it',
};

export const WATCHED_AS_WORDS: Readonly<Record<WatchedAs, string>> = {
  device: 'something plugged in',
  place: 'a share',
  service: 'a folder synced to a service',
};

/** What the name of a watched folder means. */
export const WATCHED_NAME_WORDS: Readonly<Record<WatchedAs, string>> = {
  device: 'Name of the device',
  place: 'Path of the share',
  service: 'Host of the service',
};

/** What a machine cannot see of what happens on it. */
export const BLIND_WORDS: readonly string[] = [
  'Files are judged once they are written whole, about a second after. Until then they lie where they arrived.',
  'What a device already held when it was plugged in is not judged.',
  'It sees watched folders only: not printers, clipboards, or programs that send data by themselves.',
  'While the workbench cannot be reached, own records, sample documents and what the person moved before do not count.',
];

/** One folder that a group watches, in a sentence. */
export function watchedWords({ path, as, name, trusted }: WatchedFolder): string {
  const what =
    as === 'device'
      ? `${trusted ? 'a device of the organisation' : 'a device of somebody else'} (${name})`
      : as === 'place'
        ? `the share ${name}`
        : `the service ${name}`;
  return `What arrives in ${path} goes to ${what}.`;
}

/** What lies on a machine because of its watching. */
export function watchingWords({ kept, backlog, dropped }: WatchingTold): string[] {
  const files = (count: number): string => (count === 1 ? '1 file' : `${count} files`);
  const movements = (count: number): string => (count === 1 ? '1 movement' : `${count} movements`);
  return [
    ...(kept > 0 ? [`${files(kept)} in quarantine on the machine.`] : []),
    ...(backlog > 0 ? [`${movements(backlog)} to be handed in, from the time without a connection.`] : []),
    ...(dropped > 0
      ? [`${movements(dropped)} without a finding were let go because the store on the machine was full.`]
      : []),
  ];
}

/** What machines may cost, a sentence for each limit. */
export function costWords(cost: ReaderCost | null): string[] {
  const { processor, bytesPerSecond, itemsPerSecond, hours, batteryAbove } = cost ?? {};
  return [
    ...(processor ? [`Each may use ${number(Math.round(processor * 100))} % of a processor.`] : []),
    ...(bytesPerSecond ? [`Each may read ${size(bytesPerSecond)} a second.`] : []),
    ...(itemsPerSecond ? [`Each may read ${number(itemsPerSecond)} items a second.`] : []),
    ...(hours ? [`Each reads from ${hours.from} to ${hours.to} by its own clock.`] : []),
    ...(batteryAbove ? [`On battery, each reads only while more than ${batteryAbove} % are left.`] : []),
  ];
}

/** Everything that settings of a group say, a sentence each. */
export const settingsWords = ({ folders, person, cost }: WatchSettings): string[] => [
  ...folders.map(watchedWords),
  ...(person ? [`On machines that the directory gives to nobody, it counts as ${person}.`] : []),
  ...costWords(cost),
];

/** What a draft adds to the settings in force, and what it takes away. */
export function settingsChanges(
  inForce: WatchSettings,
  draft: WatchSettings,
): { readonly added: string[]; readonly gone: string[] } {
  const [before, after] = [settingsWords(inForce), settingsWords(draft)];
  return {
    added: after.filter((each) => !before.includes(each)),
    gone: before.filter((each) => !after.includes(each)),
  };
}
