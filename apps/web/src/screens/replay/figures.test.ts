import { changedGroups, dayBefore, perDay, periodOf, progressOf, secondsLeft } from './figures';

const counts = (stopped: number, same = 0) => ({
  'newly-stopped': stopped,
  'newly-let-through': 0,
  'otherwise-answered': 0,
  same,
});

it('lists groups in which something changes, the most changes first', () => {
  const groups = { Fleet: counts(2), Crewing: counts(0, 9), Treasury: counts(5) };
  expect(changedGroups(groups).map(([name]) => name)).toEqual(['Treasury', 'Fleet']);
});

it.each([
  [{ judged: 0, total: 0 }, 1],
  [{ judged: 5, total: 20 }, 0.25],
])('is so far: %j', (view, expected) => expect(progressOf(view)).toBe(expected));

it.each([
  [{ judged: 0, total: 10, seconds: 1 }, null],
  [{ judged: 5, total: 20, seconds: 2 }, 6],
  [{ judged: 20, total: 20, seconds: 2 }, 0],
])('has so long to go: %j', (view, expected) => expect(secondsLeft(view)).toBe(expected));

it.each([
  [0, '0'],
  [0.42, '0.4'],
  [12.4, '12'],
])('says %d people a day as %s', (value, words) => expect(perDay(value)).toBe(words));

it('counts the last day of a period whole, and takes none that ends before it begins', () => {
  expect(periodOf('2026-03-01', '2026-03-01')).toEqual({
    since: '2026-03-01T00:00:00.000Z',
    until: '2026-03-02T00:00:00.000Z',
  });
  expect(periodOf('2026-03-02', '2026-03-01')).toBeNull();
  expect(periodOf('', '2026-03-01')).toBeNull();
  expect(dayBefore(new Date('2026-03-31T12:00:00Z'), 30)).toBe('2026-03-01');
});
