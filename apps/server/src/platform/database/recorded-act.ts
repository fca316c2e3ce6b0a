import { AsyncLocalStorage } from 'node:async_hooks';
import type { EntityManager } from 'typeorm';

/** What somebody does, that is to stand in the audit trail together with what it changes. */
export interface RecordedAct {
  /** Adds the entry, within the transaction of `manager`. */
  readonly write: (manager: EntityManager) => Promise<void>;
  isWritten: boolean;
  /** Whatever runs on behind the answer is not this act any more. */
  isOver: boolean;
}

const storage = new AsyncLocalStorage<RecordedAct>();

/** Runs work whose first change of the database carries the entry with it: both are there, or neither is. */
export function recording<Result>(act: RecordedAct, work: () => Result): Result {
  return storage.run(act, work);
}

/** The act that the caller runs inside and whose entry is still to be written; undefined for none. */
export function actToWrite(): RecordedAct | undefined {
  const act = storage.getStore();
  return act && !act.isWritten && !act.isOver ? act : undefined;
}

const CHANGES = /^\s*(?:insert|update|delete|replace)\b/iu;

/** Whether a statement changes rows. */
export function isChange(statement: string): boolean {
  return CHANGES.test(statement);
}
