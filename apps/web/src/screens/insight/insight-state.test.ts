import {
  instantsOf,
  type InsightState,
  periodBetween,
  readInsight,
  SPANS,
  writeInsight,
} from './insight-state';

const USUAL: InsightState = {
  ...{ period: { kind: 'span', span: 'four-weeks' }, listed: 'incidents', by: null, filter: '' },
};
const read = (search: string) => readInsight(new URLSearchParams(search));

it.each<[string, InsightState]>([
  ['the usual', USUAL],
  ['another span', { ...USUAL, period: { kind: 'span', span: 'quarter' } }],
  ['days', { ...USUAL, period: { kind: 'days', from: '2026-02-01', to: '2026-02-28' } }],
  [
    'instants with everything else',
    {
      period: { kind: 'instants', from: '2026-03-29T00:30:00.000Z', to: '2026-03-29T02:00:00.000Z' },
      listed: 'matches',
      by: 'rule',
      filter: 'person eq "a+b@merrowstrait.example" and any co "&=%"',
    },
  ],
])('an address holds %s, and nothing is lost on the way', (_name, state) =>
  expect(read(writeInsight(state))).toEqual(state),
);

it('writes nothing for what is usual', () => expect(writeInsight(USUAL)).toBe(''));

it.each([
  'from=2026-02-30&to=2026-03-01',
  'from=2026-02-01',
  'from=yesterday&to=today',
  'from=2026-02-01&to=2026-02-02T00:00:00Z',
  'span=ages&list=people&by=colour',
])('an address that says nothing sensible (%s) shows the usual', (search) =>
  expect(read(search)).toEqual(USUAL),
);

describe('the instants of a period', () => {
  // Local times: the tests hold in every zone, and through its changed clocks.
  const now = new Date(2026, 10, 25, 14, 30, 20);
  const of = (period: InsightState['period']) => instantsOf(period, now);

  it('end with the minute that runs, so that a screen drawn again asks the same', () => {
    for (const span of SPANS) expect(of({ kind: 'span', span }).to).toEqual(new Date(2026, 10, 25, 14, 31));
  });

  it('begin with a day or a week of the calendar', () => {
    const from = (span: (typeof SPANS)[number]) => of({ kind: 'span', span }).from;
    expect(from('yesterday')).toEqual(new Date(2026, 10, 24));
    expect(from('week')).toEqual(new Date(2026, 10, 23));
    expect(from('four-weeks')).toEqual(new Date(2026, 9, 26));
    expect(from('quarter')).toEqual(new Date(2026, 7, 31));
  });

  it('hold the last of its days whole', () => {
    expect(of({ kind: 'days', from: '2026-02-28', to: '2026-02-28' })).toEqual({
      from: new Date(2026, 1, 28),
      to: new Date(2026, 2, 1),
    });
  });
});

it('takes a stretch of whole days as days, and anything else by its instants', () => {
  const day = (date: number, hour = 0) => new Date(2026, 5, date, hour);
  expect(periodBetween(day(1), day(8))).toEqual({ kind: 'days', from: '2026-06-01', to: '2026-06-07' });
  expect(periodBetween(day(1), day(8, 1)).kind).toBe('instants');
  const { from, to } = instantsOf(periodBetween(day(1), day(8)), day(20));
  expect([from, to]).toEqual([day(1), day(8)]);
});
