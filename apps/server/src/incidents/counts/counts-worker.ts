import { parentPort, workerData } from 'node:worker_threads';
import {
  answerFrom,
  type CountAnswers,
  type CountKind,
  type CountQuestion,
  DeskColumns,
  KeptStretches,
} from '@lantern/core/insight';
import mysql, { type Connection } from 'mysql2/promise';
import { ChangesLog } from './changes-log.js';
import { loadAll, readAgain } from './desk-rows.js';

/** How the thread reaches the database. */
export interface CountsWorkerData {
  readonly host: string;
  readonly port: number;
  readonly user: string;
  readonly password: string;
  readonly database: string;
}

export interface AskedCount {
  readonly id: number;
  readonly question: CountQuestion;
}

export type FromCounts =
  /** Whether questions are answered now: not while everything is read. */
  | { readonly kind: 'ready' | 'reading' }
  | { readonly kind: 'answer'; readonly id: number; readonly answer: CountAnswers[CountKind] | null };

/** Movements that are read again one by one; with more, reading everything takes no longer. */
const MOST_READ_AGAIN = 200_000;
/** Without a question it still follows the list of changes, which is kept for hours. */
const FOLLOW_EVERY_MS = 60_000;
/** While somebody works with counts it follows at once, so that no question waits for what others changed before it. */
const FOLLOW_IN_USE_MS = 200;
const IN_USE_MS = 60_000;

const asked: AskedCount[] = [];
let columns = new DeskColumns();
let kept = new KeptStretches(columns);
let isBusy = false;
let askedAt = 0;
let followedAt = 0;

async function load(connection: Connection, log: ChangesLog): Promise<void> {
  say({ kind: 'reading' });
  columns = new DeskColumns();
  kept = new KeptStretches(columns);
  await log.begin();
  await loadAll(connection, columns);
}

/** Brings the columns to what is committed now. */
async function follow(connection: Connection, log: ChangesLog): Promise<void> {
  followedAt = Date.now();
  const reading = await log.read();
  if (reading.kind === 'changed' && reading.ids.length <= MOST_READ_AGAIN)
    return readAgain(connection, columns, reading.ids);
  await load(connection, log);
  await follow(connection, log);
  say({ kind: 'ready' });
}

/** Answers all that was asked up to now after one look at what changed. */
async function work(connection: Connection, log: ChangesLog, always = false): Promise<void> {
  if (isBusy) return;
  isBusy = true;
  try {
    while (asked.length > 0 || always) {
      always = false;
      // Whoever asks while it looks is answered by the next look: only that one knows what they know.
      const some = asked.splice(0);
      await follow(connection, log);
      for (const { id, question } of some)
        say({ kind: 'answer', id, answer: answerFrom(columns, question, kept) });
    }
  } finally {
    isBusy = false;
  }
}

const say = (message: FromCounts): void => parentPort?.postMessage(message);

async function main(): Promise<void> {
  const connection = await mysql.createConnection({
    ...(workerData as CountsWorkerData),
    charset: 'utf8mb4',
  });
  const log = new ChangesLog(connection);
  await load(connection, log);
  const fail = (error: unknown) => {
    // The thread ends; the database answers until another one is ready.
    queueMicrotask(() => {
      throw error;
    });
  };
  connection.on('error', fail);
  parentPort?.on('message', (message: readonly AskedCount[]) => {
    asked.push(...message);
    askedAt = Date.now();
    void work(connection, log).catch(fail);
  });
  setInterval(() => {
    const isInUse = Date.now() - askedAt < IN_USE_MS;
    if (isInUse || Date.now() - followedAt > FOLLOW_EVERY_MS) void work(connection, log, true).catch(fail);
  }, FOLLOW_IN_USE_MS).unref();
  await follow(connection, log);
  say({ kind: 'ready' });
}

await main();
