import { setTimeout as wait } from 'node:timers/promises';
import { OneAtATime } from './one-at-a-time.js';

describe('OneAtATime', () => {
  it('keeps work about one key apart, in its order, and lets others run beside it', async () => {
    const order: string[] = [];
    const queue = new OneAtATime();
    const work = (name: string, ms: number) => async () => {
      order.push(`${name} begins`);
      await wait(ms);
      order.push(`${name} ends`);
    };
    await Promise.all([
      queue.run('ann', work('first', 20)),
      queue.run('ann', work('second', 0)),
      queue.run('bea', work('other', 0)),
    ]);
    expect(order.indexOf('first ends')).toBeLessThan(order.indexOf('second begins'));
    expect(order.indexOf('other ends')).toBeLessThan(order.indexOf('first ends'));
  });

  it('goes on after work that failed, and gives its failure to whoever asked for it', async () => {
    const queue = new OneAtATime();
    const failing = queue.run('ann', () => Promise.reject(new Error('no')));
    const next = queue.run('ann', () => Promise.resolve('yes'));
    await expect(failing).rejects.toThrow('no');
    await expect(next).resolves.toBe('yes');
  });
});
