import { instantOf, localDay, offsetAt } from '../../shared/zone.js';

/** A stretch of time in milliseconds since 1970, UTC; `to` is the first instant after it. */
export interface Period {
  readonly from: number;
  readonly to: number;
}

/** How long the bars of a chart are. */
export const GRAINS = ['hour', 'day', 'week', 'month'] as const;
export type Grain = (typeof GRAINS)[number];

const HOUR_MS = 3_600_000;
export const DAY_MS = 24 * HOUR_MS;
/** Longest period that is counted: more than any retention keeps, and 240 months still fit a chart. */
export const MAX_PERIOD_DAYS = 20 * 366;
/** Weeks before that say what is usual for an hour of the week: two months, so that one odd week stays one of eight. */
export const USUAL_WEEKS = 8;
/** Longest period in days for each grain, so that no chart has more than about 170 bars. */
const LONGEST: readonly (readonly [Grain, number])[] = [
  ['hour', 7],
  ['day', 170],
  ['week', 3 * 366],
];

/** The grain in which a period is read at a glance. */
export function grainOf({ from, to }: Period): Grain {
  const days = (to - from) / DAY_MS;
  return LONGEST.find(([, most]) => days <= most)?.[0] ?? 'month';
}

/** The period of the same length just before. */
export function periodBefore({ from, to }: Period): Period {
  return { from: from - (to - from), to: from };
}

/**
 * A period in buckets of the zone's clock: hours, days, weeks from Monday, or months. The first and the last end with the
 * period. A day on which the clock changes has 23 or 25 hours.
 */
export function bucketsOf(period: Period, grain: Grain, zone: string): Period[] {
  const buckets: Period[] = [];
  let from = period.from;
  while (from < period.to) {
    const to = Math.min(period.to, endOf(from, grain, zone));
    buckets.push({ from, to });
    from = to;
  }
  return buckets;
}

/** The same stretch of the week in each of the `weeks` before, by the zone's clock, the nearest first. */
export function weeksBefore({ from, to }: Period, zone: string, weeks = USUAL_WEEKS): Period[] {
  return Array.from({ length: weeks }, (_, index) => ({
    from: shifted(from, -7 * (index + 1), zone),
    to: shifted(to, -7 * (index + 1), zone),
  }));
}

function endOf(at: number, grain: Grain, zone: string): number {
  if (grain === 'hour') {
    const local = at + offsetAt(at, zone);
    return at + (HOUR_MS - (((local % HOUR_MS) + HOUR_MS) % HOUR_MS));
  }
  const day = localDay(at, zone);
  const next = nextDay(day, grain);
  const end = instantOf(next, 0, zone);
  // Where midnight falls into a gap of the clock, the day ends with the gap.
  return end > at ? end : at + HOUR_MS;
}

function nextDay(day: number, grain: Exclude<Grain, 'hour'>): number {
  const date = new Date(day);
  if (grain === 'month') return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 1);
  const weekday = (date.getUTCDay() + 6) % 7;
  return day + DAY_MS * (grain === 'week' ? 7 - weekday : 1);
}

function shifted(at: number, days: number, zone: string): number {
  const day = localDay(at, zone);
  const minutes = (at + offsetAt(at, zone) - day) / 60_000;
  return instantOf(day + days * DAY_MS, minutes, zone);
}
