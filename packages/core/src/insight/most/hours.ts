import { allOf } from '../../incidents/filter/print.js';
import type { Filter } from '../../incidents/filter/filter.js';
import { offsetAt } from '../../shared/zone.js';
import { bucketsOf, DAY_MS, type Period } from '../changes/buckets.js';
import { within } from '../changes/slice.js';

const HOUR_MS = 3_600_000;
/** Stretches that one filter names at most: two comparisons each, and a filter takes 120. */
const MOST_STRETCHES = 50;

/** An hour of the week by a zone's clock; weekday 0 is Monday. */
export interface WeekHour {
  readonly weekday: number;
  readonly hour: number;
}

export function weekHourOf(at: number, zone: string): WeekHour {
  const local = at + offsetAt(at, zone);
  const day = Math.floor(local / DAY_MS);
  // The first of January 1970 was a Thursday.
  return { weekday: (((day + 3) % 7) + 7) % 7, hour: Math.floor((local - day * DAY_MS) / HOUR_MS) };
}

/** What happened in one hour of the week within a period, as a filter; null where the period has too many weeks for one. */
export function inWeekHour(period: Period, zone: string, { weekday, hour }: WeekHour): Filter | null {
  if (period.to - period.from > 7 * (MOST_STRETCHES - 1) * DAY_MS) return null;
  const stretches = bucketsOf(period, 'hour', zone).filter(({ from }) => {
    const its = weekHourOf(from, zone);
    return its.weekday === weekday && its.hour === hour;
  });
  const parts = stretches.map(within);
  return parts.length === 1 ? allOf(parts) : { kind: 'or', parts };
}
