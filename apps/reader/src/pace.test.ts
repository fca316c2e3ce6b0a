import { Pace } from './pace.js';

const NONE = { processor: null, bytesPerSecond: null, itemsPerSecond: null };

function paceAt(cost: Partial<typeof NONE> | Record<string, number>) {
  const clock = { now: 0 };
  return { clock, pace: new Pace({ ...NONE, ...cost }, () => clock.now) };
}

it('rests for nothing where nothing was promised', () => {
  const { pace } = paceAt({});
  for (let item = 0; item < 1_000; item += 1) pace.add({ bytes: 1e6, processor: 100 });
  expect(pace.pauseBefore()).toBe(0);
});

it.each([
  [{ itemsPerSecond: 2 }, 5_000],
  [{ bytesPerSecond: 1_000 }, 10_000],
  [{ processor: 0.1 }, 5_000],
  [{ itemsPerSecond: 2, bytesPerSecond: 1_000, processor: 0.1 }, 10_000],
])('%j asks for %d ms after ten items of 1,000 bytes and 50 ms', (cost, pause) => {
  const { pace, clock } = paceAt(cost);
  for (let item = 0; item < 10; item += 1) pace.add({ bytes: 1_000, processor: 50 });
  expect(pace.pauseBefore()).toBe(pause);
  clock.now = pause;
  expect(pace.pauseBefore()).toBe(0);
});

it('keeps a promise over an hour of work', () => {
  const { pace, clock } = paceAt({ itemsPerSecond: 5 });
  let items = 0;
  while (clock.now < 3_600_000) {
    clock.now += pace.pauseBefore() + 1;
    pace.add({ bytes: 10, processor: 1 });
    items += 1;
  }
  // At most the promise, and nearly all of it.
  expect(items / 3_600).toBeLessThanOrEqual(5.05);
  expect(items / 3_600).toBeGreaterThan(4.5);
});

it('measures the last minute alone', () => {
  const { pace, clock } = paceAt({});
  pace.add({ bytes: 1e9, processor: 1e6 });
  clock.now = 100_000;
  expect(pace.used(80)).toBeNull();
  pace.add({ bytes: 6_000, processor: 600 });
  expect(pace.used(80)).toEqual({
    processor: 0.01,
    bytesPerSecond: 100,
    itemsPerSecond: 1 / 60,
    residentMegabytes: 80,
  });
});
