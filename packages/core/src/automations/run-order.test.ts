import fc from 'fast-check';
import { runOrder } from './run-order.js';

const steps = (links: Readonly<Record<string, readonly string[]>>) =>
  Object.entries(links).map(([id, after]) => ({ id, after }));
const ids = (links: Readonly<Record<string, readonly string[]>>): string =>
  runOrder(steps(links))
    .map(({ id }) => id)
    .join(' ');

it.each([
  ['in their order', { a: [], b: ['a'], c: ['b'] }, 'a b c'],
  ['whatever order they are written in', { c: ['b'], b: ['a'], a: [] }, 'a b c'],
  ['after all whose data they get', { a: [], d: ['b', 'c'], b: ['a'], c: ['a'] }, 'a b c d'],
  ['past steps that are gone', { a: ['gone'], b: ['a', 'gone'] }, 'a b'],
  ['with a step that names itself or names one twice', { a: ['a'], b: ['a', 'a'] }, 'a b'],
  ['into a ring at its first step', { b: ['c'], c: ['b'], a: [], d: ['c', 'a'] }, 'a b c d'],
])('runs %s', (_what, links, order) => {
  expect(ids(links)).toBe(order);
});

it('runs each step once, and outside of rings never before one that it waits for (Kahn 1962)', () => {
  const links = fc.array(fc.array(fc.nat(30), { maxLength: 4 }), { minLength: 1, maxLength: 30 });
  fc.assert(
    fc.property(links, fc.boolean(), (given, isRingFree) => {
      const all = given.map((after, at) => ({
        id: String(at),
        after: after.filter((each) => !isRingFree || each < at).map(String),
      }));
      const order = runOrder(all);
      expect(order.map(({ id }) => Number(id)).sort((left, right) => left - right)).toEqual(
        all.map((_step, at) => at),
      );
      if (!isRingFree) return;
      const place = new Map(order.map(({ id }, at) => [id, at]));
      for (const { id, after } of all)
        for (const before of after) expect(place.get(before)).toBeLessThan(place.get(id) ?? -1);
    }),
    { seed: 24, numRuns: 300 },
  );
});
