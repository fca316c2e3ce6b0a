import type { DataSource } from 'typeorm';
import { tooBusy } from './gate.js';

/** Longest wait for a free connection; the driver's pool has no such limit of its own. */
const CONNECTION_WITHIN_MS = 10_000;
/** Longest silence of the database to a statement, in milliseconds: one that is frozen must not freeze those who ask. */
export const ANSWER_WITHIN_MS = 20_000;
/** The same while the schema is brought up to date: a large table is rewritten for minutes. */
const MIGRATION_WITHIN_MS = 30 * 60_000;

type Callback = (error: unknown, ...results: unknown[]) => void;

/** A connection of mysql2 as far as it is used here. */
interface Connection {
  query(options: { sql: string; values: unknown; timeout: number }, done: Callback): unknown;
  release(): void;
  destroy(): void;
  lanternBounded?: true;
}

interface Driver {
  obtainMasterConnection(): Promise<Connection>;
}

/** Puts a limit on the wait for a connection and on the silence of the database to each statement. */
export function boundedConnections(source: DataSource): void {
  const driver = source.driver as unknown as Driver;
  const obtain = driver.obtainMasterConnection.bind(driver);
  driver.obtainMasterConnection = async () => {
    const connection = await withinTime(obtain());
    if (!connection.lanternBounded) boundStatements(connection, source);
    return connection;
  };
}

/** The connection, or the error `busy`; one that comes too late goes straight back. */
function withinTime(obtaining: Promise<Connection>): Promise<Connection> {
  return new Promise((resolve, reject) => {
    let late = false;
    const timer = setTimeout(() => {
      late = true;
      reject(tooBusy());
    }, CONNECTION_WITHIN_MS).unref();
    obtaining.then(
      (connection) => {
        clearTimeout(timer);
        if (late) connection.release();
        else resolve(connection);
      },
      (error: unknown) => {
        clearTimeout(timer);
        reject(error as Error);
      },
    );
  });
}

function boundStatements(connection: Connection, source: DataSource): void {
  const query = connection.query.bind(connection);
  connection.lanternBounded = true;
  connection.query = (given: unknown, ...rest: unknown[]) => {
    const done = rest.at(-1);
    if (typeof given !== 'string' || typeof done !== 'function')
      return (query as (...all: unknown[]) => unknown)(given, ...rest);
    const values = rest.length > 1 ? rest[0] : undefined;
    const timeout = source.isInitialized ? ANSWER_WITHIN_MS : MIGRATION_WITHIN_MS;
    return query({ sql: given, values, timeout }, (error, ...results) => {
      // Its answer may come yet, and would be taken for that of the next statement.
      if (isTimeout(error)) connection.destroy();
      (done as Callback)(isTimeout(error) ? tooBusy() : error, ...results);
    });
  };
}

function isTimeout(error: unknown): boolean {
  return (
    typeof error === 'object' &&
    error !== null &&
    'code' in error &&
    error.code === 'PROTOCOL_SEQUENCE_TIMEOUT'
  );
}
