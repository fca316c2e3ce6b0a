import type { ScheduleRequest } from '@lantern/contracts/insight';
import { instantOf, localDay } from '@lantern/core/shared';
import rrule from 'rrule';
import { AppError } from './errors/app-error.js';

const { RRule } = rrule;
const DAY_MS = 86_400_000;
/** A schedule whose next day lies farther off has none: a rule can ask for the 30th of February. */
const FARTHEST_MS = 5 * 366 * DAY_MS;
/** Runs that are looked for at once, when many were missed. */
const MOST_RUNS = 1_000;
/**
 * Parts of an RRULE (RFC 5545, 3.3.10) that say days, by its frequency; times are given beside the rule. Days and weeks take
 * no parts under which they may never come: the search for the next one ends in the year 9999 only.
 */
const PARTS: Readonly<Record<string, readonly string[]>> = {
  DAILY: ['FREQ', 'INTERVAL', 'UNTIL'],
  WEEKLY: ['FREQ', 'INTERVAL', 'BYDAY', 'WKST', 'UNTIL'],
  MONTHLY: ['FREQ', 'INTERVAL', 'BYDAY', 'BYMONTHDAY', 'BYMONTH', 'BYSETPOS', 'WKST', 'UNTIL'],
  YEARLY: [
    ...['FREQ', 'INTERVAL', 'BYDAY', 'BYMONTHDAY', 'BYMONTH', 'BYYEARDAY', 'BYWEEKNO', 'BYSETPOS'],
    ...['WKST', 'UNTIL'],
  ],
};
const VALUE = /^[A-Z0-9,+-]{1,120}$/u;

/**
 * Instants at which a schedule runs after `after` and not after `until` (milliseconds since 1970), in order, 1,000 at most.
 * A time that a clock leaps over runs as much later as it leaps. Throws `invalid-request` for a rule that cannot be read.
 */
export function runsBetween(schedule: ScheduleRequest, after: number, until: number): number[] {
  const { zone, time } = schedule;
  const [hours = 0, minutes = 0] = time.split(':').map(Number);
  // Days are counted by the zone's calendar: as midnights of UTC with the same numbers.
  const from = localDay(after, zone) - DAY_MS;
  const to = localDay(until, zone) + DAY_MS;
  const rule = readRule(schedule.rule, new Date(from));
  const found: number[] = [];
  rule.between(new Date(from), new Date(to), true, (day) => {
    const at = instantOf(day.getTime(), hours * 60 + minutes, zone);
    if (at > after && at <= until) found.push(at);
    return found.length < MOST_RUNS;
  });
  return found;
}

/** The first run after an instant; null where there is none within five years. */
export function nextRun(schedule: ScheduleRequest, after: number): number | null {
  return runsBetween(schedule, after, after + FARTHEST_MS)[0] ?? null;
}

/** The next runs, for somebody who writes a schedule. */
export function nextRuns(schedule: ScheduleRequest, after: number, count: number): number[] {
  return runsBetween(schedule, after, after + FARTHEST_MS).slice(0, count);
}

function readRule(text: string, from: Date) {
  const line = text
    .trim()
    .toUpperCase()
    .replace(/^RRULE:/u, '');
  const parts = line.split(';').map((part) => part.split('='));
  const frequency = parts.find(([name]) => name === 'FREQ')?.[1] ?? '';
  const allowed = PARTS[frequency];
  if (!allowed) throw refused('FREQ must be DAILY, WEEKLY, MONTHLY or YEARLY');
  for (const [name = '', value = '', ...rest] of parts)
    if (!allowed.includes(name) || !VALUE.test(value) || rest.length > 0)
      throw refused(`“${[name, value].join('=').slice(0, 40)}” is not a part of a ${frequency} rule here`);
  const interval = Number(parts.find(([name]) => name === 'INTERVAL')?.[1] ?? 1);
  if (!Number.isInteger(interval) || interval < 1 || interval > MOST_INTERVAL)
    throw refused(`INTERVAL must be a number from 1 to ${MOST_INTERVAL}`);
  try {
    const options = RRule.parseString(line);
    // Every other week is counted from the first Monday of 2001, so that a rule means the same weeks whenever it is asked.
    const start = interval > 1 ? FIRST_MONDAY : from;
    return new RRule({ ...options, dtstart: start });
  } catch {
    throw refused('it cannot be read');
  }
}

/** Days, weeks, months or years between two runs at most. */
const MOST_INTERVAL = 1_000;
const FIRST_MONDAY = new Date(Date.UTC(2001, 0, 1));

function refused(why: string): AppError {
  return new AppError('invalid-request', `The calendar rule was refused: ${why}. Nothing was saved.`, {
    fields: [{ field: 'schedule.rule', message: why }],
  });
}
