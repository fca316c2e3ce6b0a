import { AsyncLocalStorage } from 'node:async_hooks';
import type { QueryRunner } from 'typeorm';

/** An open transaction: everything that runs inside it reads and writes through its one connection. */
export interface OpenTransaction {
  readonly runner: QueryRunner;
  /** Done as its last statements, in order: locks that many wait for are taken as late as can be. */
  beforeCommit: (() => Promise<void>)[];
  /** Done once the transaction is committed, in order; dropped where it is rolled back. */
  afterCommit: (() => void)[];
  over: boolean;
}

const storage = new AsyncLocalStorage<OpenTransaction>();

/** The transaction that the caller runs inside; undefined outside of one, and in work that outlived it. */
export function openTransaction(): OpenTransaction | undefined {
  const open = storage.getStore();
  return open && !open.over ? open : undefined;
}

/** Runs work so that all of its database calls belong to `transaction`. */
export function insideTransaction<Result>(
  transaction: OpenTransaction,
  work: () => Promise<Result>,
): Promise<Result> {
  return storage.run(transaction, work);
}

/** Runs work as the last part of the open transaction. Throws where none is open. */
export function beforeCommit(work: () => Promise<void>): void {
  const open = openTransaction();
  if (!open) throw new Error('No transaction is open');
  open.beforeCommit.push(work);
}

/** Calls back after the commit of the open transaction, or at once where none is open. Never for one that is rolled back. */
export function afterCommit(callback: () => void): void {
  const open = openTransaction();
  if (open) open.afterCommit.push(callback);
  else storage.exit(callback);
}

/**
 * Throws where a transaction is open: workers, mail and network may take seconds, and a connection that waits for them
 * is one that others wait for.
 */
export function demandNoTransaction(what: string): void {
  if (openTransaction()) throw new Error(`${what} must not be waited for inside a transaction`);
}

/** Runs work outside of whatever transaction is open. */
export function outsideTransaction<Result>(work: () => Result): Result {
  return storage.exit(work);
}
