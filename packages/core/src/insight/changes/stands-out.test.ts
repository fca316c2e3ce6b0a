import { bucketsOf, type Grain, type Period } from './buckets.js';
import { type Clock, historyOf, spikesOf, statedTrend } from './stands-out.js';

const at = (text: string): number => Date.parse(text);
const DAY = 86_400_000;
const zone = 'Europe/Berlin';
/** Midnight in Berlin, in winter. */
const NOW = at('2026-11-29T23:00Z');

function clockOf(grain: Grain, change: Partial<Clock> = {}): Clock {
  return { grain, zone, now: NOW, since: at('2026-06-01T00:00Z'), ...change };
}

/** Spikes of buckets whose counts `countOf` gives, in the period and in the weeks before. */
function spikes(period: Period, clock: Clock, countOf: (bucket: Period) => number) {
  const buckets = bucketsOf(period, clock.grain, zone);
  const history = historyOf(buckets, clock);
  return spikesOf(
    { buckets, counts: buckets.map(countOf) },
    { buckets: history, counts: history.map(countOf) },
    clock,
  );
}

describe('spikesOf', () => {
  const fortnight = { from: NOW - 14 * DAY, to: NOW };
  const loud = at('2026-11-23T23:00Z');

  it('finds the loud day, by the weeks before it, across the change of the clock', () =>
    expect(
      spikes(fortnight, clockOf('day'), ({ from }) => (from === loud ? 160 : 20)).map(({ bucket }) => bucket),
    ).toEqual([8]));

  it('compares a weekday with the same weekday: a quiet weekend every week is none', () => {
    const weekday = ({ from }: Period) => new Date(from + DAY / 2).getUTCDay();
    expect(
      spikes(fortnight, clockOf('day'), (bucket) => ([0, 6].includes(weekday(bucket)) ? 0 : 60)),
    ).toEqual([]);
  });

  it('compares the loud hour with the same hour of the clock in weeks of summer time', () => {
    const hour = at('2026-11-24T09:00Z');
    const local = ({ from }: Period) =>
      Number(new Date(from).toLocaleString('en-GB', { hour: '2-digit', timeZone: zone }));
    // Every day at ten by the clock forty happen, and nothing else ever.
    const counts = (bucket: Period) =>
      bucket.from === hour + 3_600_000 ? 40 : local(bucket) === 10 ? 40 : 0;
    expect(
      spikes({ from: NOW - 7 * DAY, to: NOW }, clockOf('hour'), counts).map(({ bucket }) => bucket),
    ).toEqual([24 + 11]);
  });

  it.each([
    ['what is not over', fortnight, clockOf('day', { now: loud + DAY - 1 })],
    [
      'a day that the end of the period cuts short',
      { from: fortnight.from, to: loud + DAY / 2 },
      clockOf('day'),
    ],
    ['a day that the beginning cuts short', { from: loud + 1, to: NOW }, clockOf('day')],
    ['fewer weeks than tell what is usual', fortnight, clockOf('day', { since: loud - 21 * DAY })],
    ['nothing recorded', fortnight, clockOf('day', { since: null })],
    ['months', { from: NOW - 700 * DAY, to: NOW }, clockOf('month')],
  ])('says nothing about %s', (_what, period, clock) =>
    expect(spikes(period, clock, ({ from }) => (from >= loud && from < loud + DAY ? 160 : 20))).toEqual([]),
  );
});

describe('statedTrend', () => {
  const rising = (period: Period, clock: Clock) => {
    const buckets = bucketsOf(period, clock.grain, zone);
    return statedTrend({ buckets, counts: buckets.map((_, index) => 10 + index) }, clock);
  };
  /** From midnight in summer time. */
  const weeks = { from: at('2026-10-18T22:00Z'), to: NOW };

  it('states the rise from one week to the next', () =>
    expect(rising(weeks, clockOf('day'))).toMatchObject({ slope: 7 }));

  it('leaves out a day that the period cuts short, whenever it ends', () => {
    const buckets = bucketsOf({ from: weeks.from, to: NOW - DAY / 2 }, 'day', zone);
    const counts = buckets.map((_, index) => (index < 41 ? 10 + index : 0));
    // The last of 42 days is half a day: five whole weeks are left.
    expect(buckets).toHaveLength(42);
    expect(statedTrend({ buckets, counts }, clockOf('day'))).toEqual(
      rising({ from: weeks.from, to: at('2026-11-22T23:00Z') }, clockOf('day')),
    );
  });

  it.each([
    ['what only scatters', weeks, clockOf('day'), (index: number) => 10 + ((index * 37) % 11)],
    ['three weeks', { from: NOW - 21 * DAY, to: NOW }, clockOf('day'), (index: number) => 10 + index],
    ['hours', { from: NOW - 42 * DAY, to: NOW }, clockOf('hour'), (index: number) => 10 + index],
  ])('states none for %s', (_what, period, clock, countOf) => {
    const buckets = bucketsOf(period, clock.grain, zone);
    expect(statedTrend({ buckets, counts: buckets.map((_, index) => countOf(index)) }, clock)).toBeNull();
  });
});
