import { Worker } from 'node:worker_threads';
import type { CountAnswers, CountKind, CountQuestion } from '@lantern/core/insight';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { openTransaction, outsideTransaction } from '../../platform/database/transaction-context.js';
import { compiled } from '../../platform/processes/compiled.js';
import type { AskedCount, CountsWorkerData, FromCounts } from './counts-worker.js';

/** An answer that takes longer is given by the database: so many rows changed that reading them takes a while. */
const ANSWER_WITHIN_MS = 3_000;
/** A thread that ended, for instance because the database was away, is followed by another after this long, and ever longer. */
const AGAIN_AFTER_MS = 30_000;
const AGAIN_AT_LAST_MS = 3_600_000;
/** Texts of file names, addresses and people stand on its heap; all else stands beside it. */
const HEAP_MEGABYTES = 2_048;
/** Entries of the list of changes are kept this long: every thread looks once a minute. */
const KEEP_CHANGES_MS = 2 * 3_600_000;
const PRUNE_EVERY_MS = 10 * 60_000;
const PRUNED_AT_ONCE = 10_000;

/** With as many incidents the columns are read at the start; with fewer, when something is first counted. */
const LOADED_AT_START = 5_000;

interface Waiting {
  readonly settle: (answer: CountAnswers[CountKind] | null) => void;
  readonly timer: NodeJS.Timeout;
}

/**
 * Counts of movements, incidents and matches from columns in memory, which a thread of its own keeps to what is committed: it
 * reads what changed before every answer. Whatever it cannot answer, and everything until it is ready, the database answers.
 */
@Injectable()
export class DeskCounts implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger('Counts');
  private readonly waiting = new Map<number, Waiting>();
  private worker: Worker | null = null;
  private readies: (() => void)[] = [];
  private isReady = false;
  private isOver = false;
  private asked = 0;
  private readonly unsent: AskedCount[] = [];
  private mayStartAt = 0;
  /** How often in a row a thread ended before it was ready. */
  private ended = 0;
  private pruning: NodeJS.Timeout | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    @InjectEntityManager() private readonly manager: EntityManager,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const [row] = await this.manager.query<{ n: number | null }[]>('SELECT MAX(number) AS n FROM incident');
    if (Number(row?.n ?? 0) >= LOADED_AT_START) this.started();
    this.pruning = setInterval(() => void this.prune().catch(() => undefined), PRUNE_EVERY_MS).unref();
  }

  /** The answer as of now; null where the database has to give it. */
  ask<Kind extends CountKind>(
    question: CountQuestion & { readonly kind: Kind },
  ): Promise<CountAnswers[Kind] | null> {
    // What a transaction wrote is seen by itself alone until it is committed.
    if (openTransaction()) return Promise.resolve(null);
    const worker = this.started();
    if (!worker || !this.isReady) return Promise.resolve(null);
    this.asked += 1;
    const id = this.asked;
    return new Promise((resolve) => {
      const timer = setTimeout(() => this.settle(id, null), ANSWER_WITHIN_MS);
      this.waiting.set(id, { settle: resolve as Waiting['settle'], timer });
      this.tell({ id, question });
    });
  }

  /** Questions that are asked in one go are answered after one look at what changed. */
  private tell(one: AskedCount): void {
    this.unsent.push(one);
    if (this.unsent.length > 1) return;
    outsideTransaction(() =>
      setImmediate(() => {
        // Where the thread ended meanwhile, the database answers these.
        const questions = this.unsent.splice(0);
        this.worker?.postMessage(questions);
      }),
    );
  }

  /** Whether it answers now; the database does until then. */
  get answers(): boolean {
    return this.isReady;
  }

  /** Resolves once it answers. */
  ready(): Promise<void> {
    this.started();
    if (this.isReady) return Promise.resolve();
    return new Promise((resolve) => this.readies.push(resolve));
  }

  /** Has every thread, also of other processes, read everything again. */
  async rebuild(): Promise<void> {
    await this.manager.query('UPDATE counted_state SET rebuilt = rebuilt + 1');
  }

  async onApplicationShutdown(): Promise<void> {
    this.isOver = true;
    clearInterval(this.pruning);
    await this.worker?.terminate();
  }

  /** The thread, started where there is none. */
  private started(): Worker | null {
    if (this.worker || this.isOver || Date.now() < this.mayStartAt) return this.worker;
    const { host, port, username, password, database } = this.config.database;
    const data: CountsWorkerData = { host, port, user: username, password, database };
    const worker = outsideTransaction(
      () =>
        new Worker(new URL(compiled('./counts-worker.js', import.meta.url)), {
          workerData: data,
          resourceLimits: { maxOldGenerationSizeMb: HEAP_MEGABYTES },
        }),
    );
    worker.unref();
    worker.on('message', (message: FromCounts) => this.take(message));
    worker.on('error', (error) => this.logger.warn(`Counting from memory ended: ${error.name}`));
    worker.on('exit', () => this.forget(worker));
    this.worker = worker;
    return worker;
  }

  private take(message: FromCounts): void {
    if (message.kind === 'answer') return this.settle(message.id, message.answer);
    this.isReady = message.kind === 'ready';
    if (!this.isReady) return this.settleAll();
    this.ended = 0;
    for (const ready of this.readies.splice(0)) ready();
  }

  /** The database answers what still waits. */
  private settleAll(): void {
    for (const id of [...this.waiting.keys()]) this.settle(id, null);
  }

  private settle(id: number, answer: CountAnswers[CountKind] | null): void {
    const waiting = this.waiting.get(id);
    if (!waiting) return;
    clearTimeout(waiting.timer);
    this.waiting.delete(id);
    waiting.settle(answer);
  }

  private forget(worker: Worker): void {
    if (this.worker !== worker) return;
    this.worker = null;
    this.isReady = false;
    this.mayStartAt = Date.now() + Math.min(AGAIN_AFTER_MS * 2 ** this.ended, AGAIN_AT_LAST_MS);
    this.ended += 1;
    this.settleAll();
  }

  /** Takes old entries off the list of changes. */
  private async prune(): Promise<void> {
    const until = new Date(Date.now() - KEEP_CHANGES_MS);
    for (;;) {
      const [row] = await this.manager.query<{ seq: string; old: number }[]>(
        `SELECT seq, at < ? AS old FROM counted_change ORDER BY seq LIMIT 1 OFFSET ${PRUNED_AT_ONCE}`,
        [until],
      );
      if (!row || Number(row.old) !== 1) return;
      await this.manager.query('UPDATE counted_state SET prunedTo = GREATEST(prunedTo, ?)', [row.seq]);
      await this.manager.query('DELETE FROM counted_change WHERE seq <= ?', [row.seq]);
    }
  }
}
