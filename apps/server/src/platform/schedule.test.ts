import { nextRun, nextRuns, runsBetween } from './schedule.js';

const NEW_YORK = 'America/New_York';
const at = (text: string): number => Date.parse(text);
const days = (rule: string, after: string, count: number): string[] =>
  nextRuns({ rule, time: '09:00', zone: NEW_YORK }, at(after), count).map((run) =>
    new Date(run).toISOString().slice(0, 10),
  );

describe('a calendar rule', () => {
  // Examples of RFC 5545, section 3.8.5.3, which begin on 2 September 1997 at nine in New York.
  it.each<[string, string[]]>([
    ['FREQ=MONTHLY;BYDAY=1FR', ['1997-09-05', '1997-10-03', '1997-11-07', '1997-12-05', '1998-01-02']],
    [
      'FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13',
      ['1998-02-13', '1998-03-13', '1998-11-13', '1999-08-13', '2000-10-13'],
    ],
    ['FREQ=YEARLY;BYDAY=20MO', ['1998-05-18', '1999-05-17']],
    [
      'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2',
      ['1997-09-29', '1997-10-30', '1997-11-27', '1997-12-30', '1998-01-29'],
    ],
    [
      'FREQ=MONTHLY;BYMONTHDAY=-3',
      ['1997-09-28', '1997-10-29', '1997-11-28', '1997-12-29', '1998-01-29', '1998-02-26'],
    ],
    ['RRULE:FREQ=WEEKLY;BYDAY=TU,TH', ['1997-09-02', '1997-09-04', '1997-09-09', '1997-09-11']],
  ])('%s', (rule, expected) =>
    expect(days(rule, '1997-09-01T00:00:00-04:00', expected.length)).toEqual(expected),
  );

  it('runs at the time of its zone, before and after the clock changes', () => {
    const schedule = { rule: 'FREQ=WEEKLY;BYDAY=MO', time: '08:00', zone: 'Europe/Berlin' };
    const runs = runsBetween(schedule, at('2026-10-18T00:00Z'), at('2026-11-03T00:00Z'));
    expect(runs.map((run) => new Date(run).toISOString())).toEqual([
      ...['2026-10-19T06:00:00.000Z', '2026-10-26T07:00:00.000Z', '2026-11-02T07:00:00.000Z'],
    ]);
  });

  it('runs after a time that the clock leaps over', () => {
    const [run] = nextRuns(
      { rule: 'FREQ=DAILY', time: '02:30', zone: 'Europe/Berlin' },
      at('2026-03-29T00:00Z'),
      1,
    );
    expect(new Date(run ?? 0).toISOString()).toBe('2026-03-29T01:30:00.000Z');
  });

  it('means the same weeks whenever it is asked', () => {
    const schedule = { rule: 'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO', time: '08:00', zone: 'UTC' };
    const first = nextRuns(schedule, at('2026-11-01T00:00Z'), 4);
    expect(nextRun(schedule, first[0] ?? 0)).toBe(first[1]);
    expect(nextRun(schedule, (first[1] ?? 0) - 1)).toBe(first[1]);
  });

  it.each([
    ['FREQ=HOURLY', 'DAILY'],
    ['FREQ=SECONDLY;INTERVAL=1', 'DAILY'],
    ['every Monday', 'DAILY'],
    ['FREQ=WEEKLY;BYHOUR=8', 'not a part'],
    ['FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30', 'not a part'],
    ['FREQ=DAILY;INTERVAL=0', 'INTERVAL'],
    ['FREQ=DAILY;INTERVAL=99999', 'INTERVAL'],
    ['BYDAY=MO', 'DAILY'],
    ['FREQ=MONTHLY;BYDAY=XX', 'cannot be read'],
  ])('%s is refused, and says why', (rule, why) =>
    expect(() => nextRun({ rule, time: '08:00', zone: 'UTC' }, Date.now())).toThrow(why),
  );

  it('that never comes has no run', () => {
    expect(
      nextRun({ rule: 'FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=30', time: '08:00', zone: 'UTC' }, Date.now()),
    ).toBeNull();
  });
});
