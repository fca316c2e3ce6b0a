import type { WatchedAs, WatchedFolder, WatchingTold, WatchState } from '@lantern/contracts/discovery';

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
