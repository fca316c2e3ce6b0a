import { filterHolds, parseFilter, printFilter } from '../../incidents/index.js';
import { inWeekHour, weekHourOf } from '../most/hours.js';
import { fewOf } from '../most/few.js';
import { bucketsOf, grainOf, MAX_PERIOD_DAYS, periodBefore, weeksBefore } from './buckets.js';
import { behind } from './slice.js';

const at = (text: string): number => Date.parse(text);
const HOUR = 3_600_000;
const DAY = 24 * HOUR;

describe('buckets', () => {
  it('cut days at midnight of the zone; the day a clock goes back has 25 hours (Europe/Berlin, 25 October 2026)', () => {
    const days = bucketsOf(
      { from: at('2026-10-23T22:00Z'), to: at('2026-10-26T23:00Z') },
      'day',
      'Europe/Berlin',
    );
    expect(days.map(({ from, to }) => (to - from) / HOUR)).toEqual([24, 25, 24]);
  });
  it('have 23 hours on the day the clock goes forward', () => {
    const [, day] = bucketsOf(
      { from: at('2026-03-27T23:00Z'), to: at('2026-03-30T22:00Z') },
      'day',
      'Europe/Berlin',
    );
    expect(((day?.to ?? 0) - (day?.from ?? 0)) / HOUR).toBe(23);
  });
  it('begin weeks on Monday, months on the first, hours at the clock of a zone with half an hour (Asia/Kolkata)', () => {
    const week = bucketsOf({ from: at('2026-11-05T00:00Z'), to: at('2026-11-20T00:00Z') }, 'week', 'UTC');
    expect(week.slice(1).map(({ from }) => new Date(from).getUTCDay())).toEqual([1, 1]);
    const months = bucketsOf({ from: at('2026-01-15T00:00Z'), to: at('2026-03-15T00:00Z') }, 'month', 'UTC');
    expect(months.map(({ from }) => new Date(from).toISOString().slice(0, 10))).toEqual([
      '2026-01-15',
      '2026-02-01',
      '2026-03-01',
    ]);
    const hours = bucketsOf(
      { from: at('2026-11-05T00:00Z'), to: at('2026-11-05T02:00Z') },
      'hour',
      'Asia/Kolkata',
    );
    expect(hours.map(({ to }) => new Date(to).toISOString().slice(11, 16))).toEqual([
      '00:30',
      '01:30',
      '02:00',
    ]);
  });
  it.each([
    [1_000, 'hour', 1],
    [20 * 366 * DAY, 'month', 241],
    [170 * DAY, 'day', 170],
  ])('cover %d milliseconds by the %s without a gap', (length, grain, most) => {
    const period = { from: at('2026-01-01T00:00Z'), to: at('2026-01-01T00:00Z') + length };
    expect(grainOf(period)).toBe(grain);
    const buckets = bucketsOf(period, grainOf(period), 'UTC');
    expect(buckets.length).toBeLessThanOrEqual(most);
    expect(buckets[0]?.from).toBe(period.from);
    expect(buckets.at(-1)?.to).toBe(period.to);
    for (const [index, { from }] of buckets.entries())
      if (index > 0) expect(from).toBe(buckets[index - 1]?.to);
  });
  it('know the longest period', () => expect(MAX_PERIOD_DAYS).toBe(7_320));
  it('know the same hours of earlier weeks by the clock, across its change', () => {
    const [week] = weeksBefore(
      { from: at('2026-10-26T07:00Z'), to: at('2026-10-26T08:00Z') },
      'Europe/Berlin',
      1,
    );
    // Eight in the morning: an hour earlier by UTC in summer.
    expect(new Date(week?.from ?? 0).toISOString()).toBe('2026-10-19T06:00:00.000Z');
  });
  it('know the same hour of earlier weeks on the day the clock changes itself', () => {
    // Ten in the morning of 25 October 2026, when the clock went back at three.
    const [week] = weeksBefore(
      { from: at('2026-10-25T09:00Z'), to: at('2026-10-25T10:00Z') },
      'Europe/Berlin',
      1,
    );
    expect(new Date(week?.from ?? 0).toISOString()).toBe('2026-10-18T08:00:00.000Z');
  });
  it('know the period before', () =>
    expect(periodBefore({ from: 100, to: 140 })).toEqual({ from: 60, to: 100 }));
});

describe('behind', () => {
  const period = { from: at('2026-11-01T00:00Z'), to: at('2026-11-02T00:00Z') };
  it('is a line that reads again as the same filter', () => {
    const parsed = parseFilter('severity eq "high" or person co "a"');
    if (parsed.status !== 'read') throw new Error('not read');
    const filter = behind(parsed.filter, period, { field: 'rule', value: 'Card "numbers"' });
    expect(parseFilter(printFilter(filter))).toEqual({ status: 'read', filter });
  });
  it('asks for what has no value where the slice has none', () =>
    expect(
      printFilter(behind({ kind: 'and', parts: [] }, period, { field: 'machine', value: null })),
    ).toContain('not (machine pr)'));
});

describe('hours of the week', () => {
  it('are told by the zone', () =>
    expect(weekHourOf(at('2026-11-30T23:30Z'), 'Europe/Berlin')).toEqual({ weekday: 1, hour: 0 }));
  it('list exactly what happened in them', () => {
    const period = { from: at('2026-10-12T00:00Z'), to: at('2026-11-09T00:00Z') };
    const zone = 'Europe/Berlin';
    const filter = inWeekHour(period, zone, { weekday: 0, hour: 8 })!;
    for (let time = period.from; time < period.to; time += HOUR / 2) {
      const its = weekHourOf(time, zone);
      const holds = filterHolds(filter, { time }, time);
      expect([new Date(time).toISOString(), holds]).toEqual([
        new Date(time).toISOString(),
        its.weekday === 0 && its.hour === 8,
      ]);
    }
  });
  it('cannot be listed over more weeks than a filter holds', () =>
    expect(inWeekHour({ from: 0, to: 400 * DAY }, 'UTC', { weekday: 0, hour: 8 })).toBeNull());
});

describe('fewOf', () => {
  it.each([
    [[10, 1, 1, 1], 1, 4],
    [[5, 5, 5, 5], 2, 4],
    [[], 0, 0],
    [[0, 3], 1, 1],
  ])('%p', (counts, half, of) => expect(fewOf(counts)).toEqual({ half, of }));
});
