import type { Chance } from '@lantern/testkit';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

/** Weeks that the demo looks back. */
export const PAST_WEEKS = 12;

/** How much is moved in each hour of a working day: ferries leave early, offices open at eight and close at six. */
const BY_HOUR = [1, 1, 1, 1, 2, 6, 14, 26, 60, 92, 96, 84, 48, 62, 88, 94, 80, 52, 26, 14, 9, 6, 3, 2];
/** Monday to Sunday: ships sail at the weekend, offices do not. */
const BY_DAY = [100, 104, 98, 101, 92, 26, 18];
const MOST = Math.max(...BY_HOUR) * Math.max(...BY_DAY);

/**
 * An instant of the past weeks in the daily and weekly rhythm of a ferry line, in milliseconds since 1970. UTC, since its
 * ports share one zone with little offset.
 */
export function workingInstant(random: Chance, now: number): number {
  for (;;) {
    const at = now - random.next() * PAST_WEEKS * 7 * DAY_MS;
    const date = new Date(at);
    const weight = (BY_HOUR[date.getUTCHours()] ?? 0) * (BY_DAY[(date.getUTCDay() + 6) % 7] ?? 0);
    if (random.next() * MOST < weight) return at;
  }
}

/** The same hour of a working day, so many days before `now`; what falls on a weekend moves to the Friday before. */
export function workday(now: number, daysAgo: number, hour: number): number {
  const day = Math.floor(now / DAY_MS) * DAY_MS - daysAgo * DAY_MS;
  const weekday = (new Date(day).getUTCDay() + 6) % 7;
  const back = weekday === 5 ? 1 : weekday === 6 ? 2 : 0;
  return Math.min(day - back * DAY_MS + hour * HOUR_MS, now - HOUR_MS);
}
