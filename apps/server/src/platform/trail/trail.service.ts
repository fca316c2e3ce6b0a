import { appendFile, readFile } from 'node:fs/promises';
import type { TrailCheck, TrailEntry, TrailPage, TrailQuery } from '@lantern/contracts';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThan, MoreThan } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { beforeCommit, openTransaction } from '../database/transaction-context.js';
import { BEGINNING, ChainCheck, entryHash, headSignature, readHeads, type WrittenHead } from './chain.js';
import { TrailEntity, TrailHeadEntity, TrailSegmentEntity } from './trail.entity.js';

/** What somebody did. */
export interface TrailAct {
  readonly actor: string;
  readonly action: string;
  readonly target?: string;
  readonly facts?: Readonly<Record<string, string>>;
}

const USUAL_PAGE = 200;
/** The end of the trail is written down so often: nothing older than that can be made anew unseen. */
const HEAD_EVERY_MS = 10 * 60_000;
/** Rows read at once while the whole trail is checked. */
const CHECKED_AT_ONCE = 2_000;
const LONGEST = { actor: 254, action: 80, target: 254, fact: 400 } as const;

/** The audit trail: what changed something or showed something sensitive, by whom and when. Rows are only added. */
@Injectable()
export class Trail implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('trail');
  private timer: NodeJS.Timeout | undefined;
  private writtenLast = 0;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(
      () => void this.writeHead().catch((error: Error) => this.log.error(`Trail head: ${error.name}`)),
      HEAD_EVERY_MS,
    ).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /**
   * Adds an entry, as the last part of the caller's transaction where there is one: it stands there with what it is
   * about, or neither does. Two that come at once wait for each other.
   */
  async add(act: TrailAct): Promise<void> {
    if (openTransaction()) beforeCommit(() => this.write(this.manager, act));
    else await this.manager.transaction((manager) => this.write(manager, act));
  }

  /** Adds an entry within the transaction of `manager`. */
  async write(manager: EntityManager, act: TrailAct): Promise<void> {
    const head = (await lockedHead(manager)) ?? (await this.firstHead(manager));
    const entry = {
      number: head.number + 1,
      at: new Date(),
      actor: act.actor.slice(0, LONGEST.actor),
      action: act.action.slice(0, LONGEST.action),
      target: (act.target ?? '').slice(0, LONGEST.target),
      facts: Object.fromEntries(
        Object.entries(act.facts ?? {}).map(([name, value]) => [name, value.slice(0, LONGEST.fact)]),
      ),
      previous: head.hash,
    };
    const hash = entryHash(entry);
    await manager.insert(TrailEntity, { ...entry, hash });
    const signature = headSignature(this.config.keys.installation, entry.number, hash);
    await manager.update(TrailHeadEntity, { id: 1 }, { number: entry.number, hash, signature });
  }

  /** The newest entries first. */
  async page({ actor, action, before, most = USUAL_PAGE }: TrailQuery): Promise<TrailPage> {
    const where = { ...(actor ? { actor } : {}), ...(action ? { action } : {}) };
    const [rows, total] = await Promise.all([
      this.manager.find(TrailEntity, {
        where: { ...where, ...(before ? { number: LessThan(before) } : {}) },
        order: { number: 'DESC' },
        take: most,
      }),
      this.manager.countBy(TrailEntity, where),
    ]);
    const last = rows.at(-1);
    return {
      entries: rows.map(toEntry),
      before: rows.length === most && last && last.number > 1 ? last.number : null,
      total,
    };
  }

  /** Every entry that fits, the oldest first, some at a time. */
  async *all({ actor, action }: Pick<TrailQuery, 'actor' | 'action'>): AsyncGenerator<TrailEntry> {
    const where = { ...(actor ? { actor } : {}), ...(action ? { action } : {}) };
    for await (const row of this.rows({ where })) yield toEntry(row);
  }

  /** Follows the whole trail and says whether it is as it was written. */
  async check(): Promise<TrailCheck> {
    // The end is read first: what is added meanwhile does not look cut off.
    const head = await this.manager.findOneBy(TrailHeadEntity, { id: 1 });
    const removed = await this.removed();
    const chain = new ChainCheck(await this.writtenHeads(), removed);
    for await (const row of this.rows({ after: removed?.number ?? 0 }))
      if (!head || row.number <= head.number) chain.add(row);
    return chain.end(head, this.config.keys.installation);
  }

  /** Writes down where the trail ends now, so that one that was made anew in the database does not fit. */
  async writeHead(): Promise<void> {
    const { trailHeads, keys } = this.config;
    if (trailHeads === null) return;
    const head = await this.manager.findOneBy(TrailHeadEntity, { id: 1 });
    // A head that nobody with the key has signed is not ours to vouch for.
    if (!head || head.signature !== headSignature(keys.installation, head.number, head.hash)) return;
    if (head.number === this.writtenLast) return;
    const { number, hash, signature } = head;
    const line = JSON.stringify({ at: new Date().toISOString(), number, hash, signature });
    await appendFile(trailHeads, `${line}\n`, { mode: 0o600 });
    this.writtenLast = number;
  }

  private async writtenHeads(): Promise<WrittenHead[]> {
    const { trailHeads, keys } = this.config;
    if (trailHeads === null) return [];
    const text = await readFile(trailHeads, 'utf8').catch(() => '');
    return readHeads(text, keys.installation);
  }

  /** The row that stands before the first entry; written once. */
  private async firstHead(manager: EntityManager): Promise<TrailHeadEntity> {
    await manager.query('INSERT IGNORE INTO trail_head (id, number, hash, signature) VALUES (1, 0, ?, ?)', [
      BEGINNING,
      headSignature(this.config.keys.installation, 0, BEGINNING),
    ]);
    return (await lockedHead(manager)) ?? { id: 1, number: 0, hash: BEGINNING, signature: '' };
  }

  /** Where the part ended that was deleted by age last; null for none. */
  private async removed(): Promise<TrailSegmentEntity | null> {
    const [last] = await this.manager.find(TrailSegmentEntity, { order: { number: 'DESC' }, take: 1 });
    return last ?? null;
  }

  private async *rows({
    where = {},
    after: begin = 0,
  }: {
    readonly where?: Partial<TrailEntity>;
    readonly after?: number;
  }): AsyncGenerator<TrailEntity> {
    for (let after = begin; ;) {
      const rows = await this.manager.find(TrailEntity, {
        where: { ...where, number: MoreThan(after) },
        order: { number: 'ASC' },
        take: CHECKED_AT_ONCE,
      });
      yield* rows;
      const last = rows.at(-1);
      if (!last || rows.length < CHECKED_AT_ONCE) return;
      after = last.number;
    }
  }
}

const lockedHead = (manager: EntityManager): Promise<TrailHeadEntity | null> =>
  manager.findOne(TrailHeadEntity, { where: { id: 1 }, lock: { mode: 'pessimistic_write' } });

function toEntry({ number, at, actor, action, target, facts }: TrailEntity): TrailEntry {
  return { number, at: at.toISOString(), actor, action, target, facts };
}
