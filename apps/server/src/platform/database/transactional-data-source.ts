import { setTimeout as wait } from 'node:timers/promises';
import { DataSource, type DataSourceOptions, type EntityManager, type QueryRunner } from 'typeorm';
import { Gate } from './gate.js';
import { actToWrite, isChange, type RecordedAct } from './recorded-act.js';
import { boundedConnections } from './bounded-connections.js';
import {
  insideTransaction,
  openTransaction,
  type OpenTransaction,
  outsideTransaction,
} from './transaction-context.js';

/** Connections to the database. One server process uses no more; the database allows 151 (MariaDB's default). */
export const CONNECTIONS = 20;
/** Transactions at the same time: fewer than connections, so that reads outside of them always find one. */
const TRANSACTIONS = 12;
/** Longest wait for one's turn to begin a transaction. */
const TURN_WITHIN_MS = 20_000;
/** Tries of a transaction that the database gave up in favour of another one. */
const MOST_TRIES = 5;
/** Errors after which the database asks to begin again (MariaDB error reference: 1213, 1205, 1020). */
const TRY_AGAIN = new Set(['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD']);

type Work<Result> = (manager: EntityManager) => Promise<Result>;

const gate = new Gate(TRANSACTIONS, TURN_WITHIN_MS);

/**
 * A data source whose every call made inside a transaction, by whatever manager or repository, goes over the connection
 * of that transaction. Without it a read beside an open transaction takes a second connection, and ten transactions
 * that each wait for an eleventh wait for ever.
 */
export class TransactionalDataSource extends DataSource {
  constructor(options: DataSourceOptions) {
    super(options);
    boundedConnections(this);
  }

  override createQueryRunner(mode?: 'master' | 'slave'): QueryRunner {
    const open = openTransaction();
    if (open) return borrowed(open.runner);
    const runner = againWhereGivenUp(super.createQueryRunner(mode));
    return actToWrite() ? recorded(runner) : runner;
  }

  override createEntityManager(runner?: QueryRunner): EntityManager {
    const manager = super.createEntityManager(runner);
    const plain = manager.transaction.bind(manager) as <Result>(work: Work<Result>) => Promise<Result>;
    const contextual = <Result>(...given: readonly unknown[]): Promise<Result> => {
      // The isolation level may stand in front of the work, and is left out here: all have the database's own.
      const work = given.find((each) => typeof each === 'function') as Work<Result>;
      const open = openTransaction();
      if (open) return open.runner.manager === manager ? plain(work) : open.runner.manager.transaction(work);
      return this.begin(work);
    };
    manager.transaction = contextual as EntityManager['transaction'];
    return manager;
  }

  private async begin<Result>(work: Work<Result>): Promise<Result> {
    await gate.enter();
    try {
      return await tried(() => this.once(work));
    } finally {
      gate.leave();
    }
  }

  private async once<Result>(work: Work<Result>): Promise<Result> {
    const runner = super.createQueryRunner('master');
    const transaction: OpenTransaction = { runner, beforeCommit: [], afterCommit: [], over: false };
    const changes = noticed(runner);
    try {
      let act: RecordedAct | undefined;
      const result = await insideTransaction(transaction, () =>
        committed(runner, async (manager) => {
          const done = await work(manager);
          act = changes.any ? actToWrite() : undefined;
          if (act) await act.write(manager);
          for (const last of transaction.beforeCommit) await last();
          return done;
        }),
      );
      transaction.over = true;
      if (act) act.isWritten = true;
      for (const callback of transaction.afterCommit) outsideTransaction(callback);
      return result;
    } finally {
      transaction.over = true;
      await runner.release();
    }
  }
}

async function committed<Result>(runner: QueryRunner, work: Work<Result>): Promise<Result> {
  await runner.startTransaction();
  try {
    const result = await work(runner.manager);
    await runner.commitTransaction();
    return result;
  } catch (error) {
    // The first error is the one that tells what happened, also where the connection is gone.
    await runner.rollbackTransaction().catch(() => undefined);
    throw error;
  }
}

/** Whether a runner was asked to change anything, from now on. */
function noticed(runner: QueryRunner): { any: boolean } {
  const changes = { any: false };
  const plain = runner.query.bind(runner) as QueryRunner['query'];
  runner.query = ((statement: string, ...rest: unknown[]) => {
    changes.any ||= isChange(statement);
    return (plain as (...given: unknown[]) => unknown)(statement, ...rest);
  }) as QueryRunner['query'];
  return changes;
}

/**
 * A runner outside of our transactions whose first change carries the entry of the act that it belongs to: a statement
 * alone is put into a transaction with it, and a transaction of the mapper's own gets it as its last part.
 */
function recorded(runner: QueryRunner): QueryRunner {
  const changes = noticed(runner);
  const withEntry = async <Result>(work: () => Promise<Result>): Promise<Result> => {
    const act = actToWrite();
    if (act) await act.write(runner.manager);
    const result = await work();
    if (act) act.isWritten = true;
    return result;
  };
  const over: Partial<Record<PropertyKey, (...given: never[]) => unknown>> = {
    commitTransaction: () => {
      const commit = () => runner.commitTransaction();
      return changes.any ? withEntry(commit) : commit();
    },
    query: (statement: string, ...rest: never[]) => {
      const ask = () => runner.query(statement, ...rest) as Promise<unknown>;
      if (runner.isTransactionActive || !isChange(statement) || !actToWrite()) return ask();
      const together = () =>
        committed(runner, async () => {
          const answer = await ask();
          return withEntry(() => Promise.resolve(answer));
        });
      return tried(together);
    },
  };
  return new Proxy(runner, {
    get(target, property) {
      const value: unknown = over[property] ?? Reflect.get(target, property, target);
      return typeof value === 'function' ? (value as (...given: unknown[]) => unknown).bind(target) : value;
    },
  });
}

/** Does `work` again where the database gave it up in favour of another one. */
async function tried<Result>(work: () => Promise<Result>): Promise<Result> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await work();
    } catch (error) {
      if (tries >= MOST_TRIES || !mayTryAgain(error)) throw error;
      // Of two that met once, each waits for another time, so that they do not meet again.
      await wait(tries * 20 * (0.5 + Math.random()));
    }
  }
}

/** A runner whose statements outside of any transaction are tried again: each of them is one of its own. */
function againWhereGivenUp(runner: QueryRunner): QueryRunner {
  const plain = runner.query.bind(runner) as (...given: unknown[]) => Promise<unknown>;
  runner.query = ((...given: unknown[]) =>
    runner.isTransactionActive ? plain(...given) : tried(() => plain(...given))) as QueryRunner['query'];
  return runner;
}

function mayTryAgain(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'code' in error && TRY_AGAIN.has(String(error.code));
}

/** The runner of a transaction for a call inside it, which must not give its connection back. */
function borrowed(runner: QueryRunner): QueryRunner {
  return new Proxy(runner, {
    get(target, property) {
      if (property === 'release') return () => Promise.resolve();
      const value: unknown = Reflect.get(target, property, target);
      return typeof value === 'function' ? (value as (...given: unknown[]) => unknown).bind(target) : value;
    },
  });
}
