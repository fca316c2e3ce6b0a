import type { ScheduleRequest } from '@lantern/contracts/insight';

/** Schedules that are chosen without writing a rule. */
export const REPEATS = ['days', 'workdays', 'weeks', 'months', 'own'] as const;
export type Repeat = (typeof REPEATS)[number];

export const REPEAT_WORDS: Readonly<Record<Repeat, string>> = {
  days: 'Every day',
  workdays: 'Monday to Friday',
  weeks: 'Every week on',
  months: 'Every month on day',
  own: 'By a calendar rule (RFC 5545)',
};

export const WEEKDAY_CODES = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;
export type WeekdayCode = (typeof WEEKDAY_CODES)[number];
export const WEEKDAY_WORDS: Readonly<Record<WeekdayCode, string>> = {
  MO: 'Monday',
  TU: 'Tuesday',
  WE: 'Wednesday',
  TH: 'Thursday',
  FR: 'Friday',
  SA: 'Saturday',
  SU: 'Sunday',
};

const WORKDAYS = 'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR';

/** The choice that a rule stands for; rules that somebody wrote are their own. */
export function repeatOf(rule: string): {
  readonly repeat: Repeat;
  readonly weekday: WeekdayCode;
  readonly day: number;
} {
  const usual = { weekday: 'MO' as WeekdayCode, day: 1 };
  if (rule === 'FREQ=DAILY') return { repeat: 'days', ...usual };
  if (rule === WORKDAYS) return { repeat: 'workdays', ...usual };
  const weekday = WEEKDAY_CODES.find((code) => rule === `FREQ=WEEKLY;BYDAY=${code}`);
  if (weekday) return { repeat: 'weeks', ...usual, weekday };
  const day = /^FREQ=MONTHLY;BYMONTHDAY=(\d{1,2})$/u.exec(rule)?.[1];
  return day ? { repeat: 'months', ...usual, day: Number(day) } : { repeat: 'own', ...usual };
}

export function ruleOf(repeat: Exclude<Repeat, 'own'>, weekday: WeekdayCode, day: number): string {
  switch (repeat) {
    case 'days':
      return 'FREQ=DAILY';
    case 'workdays':
      return WORKDAYS;
    case 'weeks':
      return `FREQ=WEEKLY;BYDAY=${weekday}`;
    case 'months':
      return `FREQ=MONTHLY;BYMONTHDAY=${day}`;
  }
}

/** A schedule as people say it. */
export function scheduleWords({ rule, time, zone }: ScheduleRequest): string {
  const { repeat, weekday, day } = repeatOf(rule);
  const when =
    repeat === 'own'
      ? rule
      : repeat === 'weeks'
        ? `Every ${WEEKDAY_WORDS[weekday]}`
        : repeat === 'months'
          ? `Every month on day ${day}`
          : REPEAT_WORDS[repeat];
  return `${when} at ${time}, ${zone.replace('_', ' ')}`;
}
