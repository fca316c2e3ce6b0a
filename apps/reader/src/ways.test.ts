import { Ways } from './ways.js';

const A = 'http://workbench.example';
const B = 'http://relay-b.example:4700';
const C = 'http://relay-c.example:4700';

/** A clock that goes on by what each address takes; null for no answer. They are asked one after the other. */
function measured(ways: Ways, takes: Readonly<Record<string, number | null>>, at: number): Promise<void> {
  const clock = { now: at };
  const asked = (address: string): Promise<void> => {
    const time = takes[address];
    return time === null || time === undefined
      ? Promise.reject(new Error('no answer'))
      : new Promise((resolve) => {
          times.push([time, resolve]);
        });
  };
  const times: [number, () => void][] = [];
  const done = ways.measure(asked, () => clock.now);
  void (async () => {
    for (const [time, resolve] of times.sort(([one], [other]) => one - other)) {
      clock.now = at + time;
      resolve();
      await new Promise((next) => setImmediate(next));
    }
  })();
  return done;
}
const MINUTE = 60_000;

it('takes the nearest address that answers, and stays with one that is about as near', async () => {
  const ways = new Ways([A, B, C]);
  expect(ways.current).toBe(A);
  await measured(ways, { [A]: 120, [B]: 40, [C]: null }, 0);
  expect(ways.current).toBe(B);
  await measured(ways, { [A]: 5, [B]: 40, [C]: 5 }, MINUTE);
  expect(ways.current).toBe(B);
  await measured(ways, { [A]: 30, [B]: 40, [C]: 30 }, 10 * MINUTE);
  expect(ways.current).toBe(B);
  await measured(ways, { [A]: 12, [B]: 40, [C]: 11 }, 20 * MINUTE);
  expect(ways.current).toBe(C);
});

it('goes to the next nearest one where there is no answer, and tries all in turn where none answers', async () => {
  const ways = new Ways([A, B, C]);
  await measured(ways, { [A]: 5, [B]: 90, [C]: 40 }, 0);
  ways.failed(A);
  expect(ways.current).toBe(C);
  // A request that was under way on the old one fails later: that says nothing of the new one.
  ways.failed(A);
  expect(ways.current).toBe(C);
  ways.failed(C);
  expect(ways.current).toBe(B);
  const tried = new Set<string>();
  for (let time = 0; time < 3; time += 1) {
    ways.failed(ways.current);
    tried.add(ways.current);
  }
  expect([...tried].sort()).toEqual([A, B, C].sort());
});

it('tries addresses that were never measured before it has measured any', () => {
  const ways = new Ways([A, B]);
  ways.failed(A);
  expect(ways.current).toBe(B);
  ways.failed(B);
  expect(ways.current).toBe(A);
});

it('has nothing to choose with one address', async () => {
  const ways = new Ways([A]);
  ways.failed(A);
  await ways.measure(() => Promise.reject(new Error('never asked')));
  expect(ways.current).toBe(A);
});
