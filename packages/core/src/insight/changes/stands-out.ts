import { bucketsOf, type Grain, type Period, USUAL_WEEKS, weeksBefore } from './buckets.js';
import { type Spike, spikeOf } from './spikes.js';
import { type Trend, TREND_CHANCE, trendOf } from './trend.js';

/** Counts of buckets, each of which begins where the one before ends. */
export interface Counts {
  readonly buckets: readonly Period[];
  readonly counts: readonly number[];
}

/** The clock by which buckets are cut, the time it is, and since when anything was recorded (both milliseconds since 1970). */
export interface Clock {
  readonly grain: Grain;
  readonly zone: string;
  readonly now: number;
  /** Null where nothing was recorded so far. */
  readonly since: number | null;
}

/** A bucket that stands out, by its index. */
export interface PlacedSpike extends Spike {
  readonly bucket: number;
}

/** Buckets of the weeks before, which say what is usual; none for months, which no weeks explain. */
export function historyOf(buckets: readonly Period[], { grain, zone }: Clock): Period[] {
  const [first] = buckets;
  const earliest = first && weeksBefore(first, zone, USUAL_WEEKS).at(-1);
  return first && earliest && grain !== 'month'
    ? bucketsOf({ from: earliest.from, to: first.from }, grain, zone)
    : [];
}

/**
 * Buckets that the same stretch of the weeks before does not explain. What is not over, and what begins or ends with the
 * period, is compared with nothing; weeks before the first record say nothing.
 */
export function spikesOf(shown: Counts, history: Counts, clock: Clock): PlacedSpike[] {
  const { zone, since } = clock;
  const known = new Map(
    [history, shown].flatMap(({ buckets, counts }) =>
      buckets.map(({ from }, index) => [from, counts[index] ?? 0] as const),
    ),
  );
  return shown.buckets.flatMap((bucket, index) => {
    if (!isOver(bucket, clock)) return [];
    const earlier = weeksBefore(bucket, zone).flatMap(({ from }) =>
      since !== null && from >= since ? (known.get(from) ?? []) : [],
    );
    const spike = spikeOf(shown.counts[index] ?? 0, earlier);
    return spike ? [{ bucket: index, ...spike }] : [];
  });
}

/** The trend over whole days that are over, weekday by weekday; null for other buckets, and where it may well be chance. */
export function statedTrend({ buckets, counts }: Counts, clock: Clock): Trend | null {
  if (clock.grain !== 'day') return null;
  const days = buckets.flatMap((bucket, index) => (isOver(bucket, clock) ? [counts[index] ?? 0] : []));
  const seasons = Array.from({ length: 7 }, (_, weekday) =>
    days.filter((_count, index) => index % 7 === weekday && index < Math.floor(days.length / 7) * 7),
  );
  const trend = trendOf(seasons);
  return trend && trend.chance < TREND_CHANCE ? trend : null;
}

/** Whether a bucket is over, and a whole one of its grain: not cut short where the period begins or ends. */
function isOver({ from, to }: Period, { grain, zone, now }: Clock): boolean {
  const before = bucketsOf({ from: from - 1, to }, grain, zone).at(1);
  const beyond = bucketsOf({ from, to: to + 1 }, grain, zone).at(0);
  return to <= now && before?.from === from && beyond?.to === to;
}
