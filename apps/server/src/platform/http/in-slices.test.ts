import { performance } from 'node:perf_hooks';
import type { Request, Response } from 'express';
import { inSlices, SLICE_MS } from './in-slices.js';

const take = inSlices();
const hand = (work: () => void): void => take({} as Request, {} as Response, work);
const busy = (milliseconds: number): void => {
  const end = performance.now() + milliseconds;
  while (performance.now() < end);
};

it('takes up requests in their order, and lets the event loop have its turn between them', async () => {
  const order: string[] = [];
  await new Promise<void>((resolve) => {
    for (const name of ['first', 'second', 'third'])
      hand(() => {
        order.push(name);
        // Whatever else waits is due by now, and comes before the next request.
        setTimeout(() => order.push(`after ${name}`), 0);
        busy(SLICE_MS + 5);
        if (name === 'third') setTimeout(resolve, 20);
      });
  });
  expect(order).toEqual(['first', 'after first', 'second', 'after second', 'third', 'after third']);
});
