import { exposureOf, type ExposedItem, POINTS } from './exposure.js';
import { holdingOf } from './item.js';

const NOW = Date.parse('2026-11-30T09:00:00Z');
const item = (other: Partial<ExposedItem> = {}): ExposedItem => ({
  ...{ state: 'read', found: [{ pattern: 'payment-card', count: 100, certainty: 100 }], labelRank: 1 },
  ...{ digest: 'd', reach: 'few', changedAt: NOW, misplaced: false },
  ...other,
});
const guard = { reach: 'few', labelRank: 1, unmanaged: false } as const;

it('holds 1 for one certain finding and 1 more for every tenfold', () => {
  const held = (count: number, certainty = 100) =>
    holdingOf(item({ found: [{ pattern: 'p', count, certainty }] }));
  expect([held(1), held(10), held(1_000)]).toEqual([1, 2, 4]);
  expect(held(10, 80)).toBeCloseTo(1.6, 12);
  expect(held(10, 59)).toBe(0);
});

it('adds nothing for what only a few can open, labelled as the place', () => {
  expect(exposureOf(guard, [item(), item({ found: [], reach: 'outside' })], NOW)).toEqual({
    total: 0,
    parts: [],
  });
});

it('shows every part, and the total is their sum', () => {
  const { total, parts } = exposureOf(
    { ...guard, unmanaged: true },
    [
      item({ reach: 'anybody-with-link', labelRank: null }),
      item({ reach: 'organisation', labelRank: 3, changedAt: NOW - 4 * 365 * 86_400_000 }),
      item({ found: [], misplaced: true }),
      item({ state: 'gone', misplaced: true, reach: 'outside' }),
    ],
    NOW,
  );
  expect(parts.map(({ code, items, holding }) => [code, items, holding])).toEqual([
    ['open-with-link', 1, 3],
    ['open-inside', 1, 3],
    ['unmanaged', 2, 6],
    ['without-label', 1, 3],
    ['above-place', 1, 3],
    ['old', 1, 3],
    ['misplaced', 1, 1],
  ]);
  for (const { code, holding, adds } of parts) expect(adds).toBe(holding * POINTS[code]);
  expect(total).toBe(3 * 8 + 3 * 2 + 6 * 2 + 3 + 3 + 3 * 0.5 + 1);
});

it('never falls when an item opens wider', () => {
  const totals = (['few', 'organisation', 'outside', 'anybody-with-link'] as const).map(
    (reach) => exposureOf(guard, [item({ reach })], NOW).total,
  );
  expect(totals).toEqual([...totals].sort((left, right) => left - right));
  expect(new Set(totals).size).toBe(4);
});
