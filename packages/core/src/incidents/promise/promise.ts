import type { Severity } from '../../policy/model/answers.js';
import { instantOf, localDay } from '../../shared/zone.js';

/** When analysts work. Days are 1 for Monday to 7 for Sunday; minutes count from midnight in `zone`. */
export interface WorkingHours {
  readonly zone: string;
  readonly days: readonly number[];
  /** `HH:MM`, before `to`. */
  readonly from: string;
  readonly to: string;
  /** Days without work, as `YYYY-MM-DD`. */
  readonly closed: readonly string[];
}

/** Working hours within which an incident of each severity is to be decided. */
export type Promises = Readonly<Record<Severity, number>>;

export const USUAL_HOURS: WorkingHours = {
  zone: 'UTC',
  days: [1, 2, 3, 4, 5],
  from: '08:00',
  to: '18:00',
  closed: [],
};

/** A day for what is worst, two weeks for what is least. Judgement, no source. */
export const USUAL_PROMISES: Promises = { critical: 4, high: 10, medium: 30, low: 100 };

/** Longest search for a working day: a calendar that is closed longer has no end. */
const MOST_DAYS = 3_700;
const MINUTE_MS = 60_000;
const DAY_MS = 86_400_000;

/**
 * Instant (milliseconds since 1970) by which `hours` working hours have passed since `at`. Null where the calendar has no
 * working time.
 */
export function dueAt(at: number, hours: number, calendar: WorkingHours): number | null {
  const from = minutesOf(calendar.from);
  const to = minutesOf(calendar.to);
  if (to <= from || calendar.days.length === 0) return null;
  let left = hours * 60 * MINUTE_MS;
  let day = localDay(at, calendar.zone);
  for (let tried = 0; tried < MOST_DAYS; tried += 1) {
    if (isWorked(day, calendar)) {
      const opens = Math.max(at, instantOf(day, from, calendar.zone));
      const closes = instantOf(day, to, calendar.zone);
      const open = Math.max(0, closes - opens);
      if (left <= open) return opens + left;
      left -= open;
    }
    day += DAY_MS;
  }
  return null;
}

/** Working milliseconds between two instants, for figures that say how long something took. */
export function workedBetween(from: number, to: number, calendar: WorkingHours): number {
  const [opening, closing] = [minutesOf(calendar.from), minutesOf(calendar.to)];
  let sum = 0;
  let day = localDay(from, calendar.zone);
  for (let tried = 0; tried < MOST_DAYS && day <= to + DAY_MS; tried += 1, day += DAY_MS) {
    if (!isWorked(day, calendar)) continue;
    const opens = Math.max(from, instantOf(day, opening, calendar.zone));
    const closes = Math.min(to, instantOf(day, closing, calendar.zone));
    sum += Math.max(0, closes - opens);
  }
  return sum;
}

/** Points of age that urgency includes: none before half of the promised time, more when it is over. */
export const AGE_POINTS = [
  { part: 0.5, points: 4 },
  { part: 1, points: 8 },
  { part: 2, points: 12 },
] as const;

/** Points for age at `now`, and the next instant at which they change; null where they stay. */
export function agePoints(
  opened: number,
  due: number,
  now: number,
): { readonly points: number; readonly nextAt: number | null } {
  const span = due - opened;
  const reached = AGE_POINTS.filter(({ part }) => now >= opened + span * part);
  const next = AGE_POINTS[reached.length];
  return {
    points: reached.at(-1)?.points ?? 0,
    nextAt: next ? opened + span * next.part : null,
  };
}

function isWorked(day: number, { days, closed }: WorkingHours): boolean {
  const date = new Date(day);
  const weekday = ((date.getUTCDay() + 6) % 7) + 1;
  return days.includes(weekday) && !closed.includes(date.toISOString().slice(0, 10));
}

function minutesOf(time: string): number {
  const [hours = 0, minutes = 0] = time.split(':').map(Number);
  return hours * 60 + minutes;
}
