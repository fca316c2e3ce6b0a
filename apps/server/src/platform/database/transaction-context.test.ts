import type { QueryRunner } from 'typeorm';
import { Gate } from './gate.js';
import {
  afterCommit,
  demandNoTransaction,
  insideTransaction,
  type OpenTransaction,
  openTransaction,
  outsideTransaction,
} from './transaction-context.js';

const transaction = (): OpenTransaction => ({
  runner: {} as QueryRunner,
  beforeCommit: [],
  afterCommit: [],
  over: false,
});

describe('a transaction that knows itself', () => {
  it('is found through asynchronous calls, each its own', async () => {
    const [first, second] = [transaction(), transaction()];
    const found = await Promise.all(
      [first, second].map((each) =>
        insideTransaction(each, async () => {
          await new Promise((resolve) => setImmediate(resolve));
          return openTransaction();
        }),
      ),
    );
    expect(found).toEqual([first, second]);
    expect(found[0]).not.toBe(found[1]);
    expect(openTransaction()).toBeUndefined();
  });

  it('keeps what is to be said until it is committed', async () => {
    const said: string[] = [];
    const open = transaction();
    await insideTransaction(open, () => {
      afterCommit(() => said.push('later'));
      return Promise.resolve();
    });
    expect(said).toEqual([]);
    for (const each of open.afterCommit) each();
    expect(said).toEqual(['later']);
    afterCommit(() => said.push('at once'));
    expect(said).toEqual(['later', 'at once']);
  });

  it('lets nothing slow be waited for inside, and lets work that outlives it go its own way', async () => {
    const open = transaction();
    await insideTransaction(open, () => {
      expect(() => demandNoTransaction('Reading a file')).toThrow('Reading a file');
      expect(outsideTransaction(openTransaction)).toBeUndefined();
      open.over = true;
      expect(() => demandNoTransaction('Reading a file')).not.toThrow();
      return Promise.resolve();
    });
  });
});

describe('Gate', () => {
  it('lets in as many as there is room for, in their order', async () => {
    const gate = new Gate(1, 10_000);
    const order: number[] = [];
    await gate.enter();
    const rest = [1, 2, 3].map((each) => gate.enter().then(() => order.push(each)));
    expect(order).toEqual([]);
    for (let each = 0; each < 3; each += 1) {
      gate.leave();
      await rest[each];
    }
    expect(order).toEqual([1, 2, 3]);
    gate.leave();
    await gate.enter();
  });

  it('says that it is busy to whoever waited too long, and gives the place to nobody twice', async () => {
    const gate = new Gate(1, 10);
    await gate.enter();
    // A timer that does not hold the process needs something beside it that does.
    const hold = setTimeout(() => undefined, 5_000);
    await expect(gate.enter()).rejects.toMatchObject({ code: 'busy' });
    clearTimeout(hold);
    gate.leave();
    await gate.enter();
  });
});
