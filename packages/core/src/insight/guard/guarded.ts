import type { Channel } from '../../movement/movement.js';
import type { CoverageCell } from '../../policy/coverage/coverage.js';

/** How far one channel guards the kinds of data that some rule asks for, on their way outside. */
export interface GuardedChannel {
  readonly channel: Channel;
  readonly kinds: number;
  /** Kinds that get some answer from somebody on. */
  readonly guarded: number;
  /** Kinds that get an answer whoever sends them. */
  readonly guardedForAll: number;
}

/** What each channel guards; a note counts, since somebody learns of it. Answers at certain places alone are not for all. */
export function guardedChannels(
  cells: readonly CoverageCell[],
  channels: readonly Channel[],
): GuardedChannel[] {
  const outside = cells.filter(({ side }) => side === 'outside');
  return channels.map((channel) => {
    const own = outside.filter((cell) => cell.channel === channel);
    return {
      channel,
      kinds: own.length,
      guarded: own.filter(({ shares }) => shares.some(({ answer }) => answer !== null)).length,
      guardedForAll: own.filter(isForAll).length,
    };
  });
}

function isForAll({ shares }: CoverageCell): boolean {
  const everywhere = shares.filter(({ at }) => at === null);
  return everywhere.length > 0 && everywhere.every(({ answer }) => answer !== null);
}

/** The most people whom one kind of data is guarded from on one channel. */
export function peopleGuarded(cells: readonly CoverageCell[]): number {
  const counts = cells
    .filter(({ side }) => side === 'outside')
    .map(({ shares }) =>
      shares.reduce(
        (sum, { answer, at, people }) => (answer !== null && at === null ? sum + people : sum),
        0,
      ),
    );
  return Math.max(0, ...counts);
}
