import {
  type KeptForRequest,
  type KeptKind,
  KEPT_KINDS,
  type KeptTrial,
  type KeptView,
  leastKeptDays,
} from '@lantern/contracts/retention';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AppError } from '../platform/errors/app-error.js';
import { CONFIG, type Config } from '../platform/config.js';
import { TrailSegmentEntity } from '../platform/trail/trail.entity.js';
import { Trail } from '../platform/trail/trail.service.js';
import { deleteRows, FIRST_DAYS, rowsOf } from './kinds.js';
import { KeptForEntity } from './kept-for.entity.js';

const DAY_MS = 86_400_000;
const SWEEP_MS = 60 * 60_000;
/** Rows of one transaction: a sweep must hold up nobody. */
const BATCH = 200;
/** Who does it, in the audit trail. */
const ITSELF = 'retention';

/** Deletes what has been kept long enough, unless a legal hold is about it, and says in the trail how much. */
@Injectable()
export class Retention implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('retention');
  private timer: NodeJS.Timeout | undefined;
  private running: Promise<void> | null = null;
  private stopped = false;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly trail: Trail,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(
      () => void this.sweep(new Date()).catch((error: Error) => this.log.error(error.message)),
      SWEEP_MS,
    ).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    this.stopped = true;
    await this.running;
  }

  /** Gives a new installation the days that it begins with. */
  async begin(): Promise<void> {
    for (const kind of KEPT_KINDS)
      await this.manager.query('INSERT IGNORE INTO kept_for (kind, days) VALUES (?, ?)', [
        kind,
        FIRST_DAYS[kind],
      ]);
  }

  async list(): Promise<KeptView[]> {
    const settings = await this.settings();
    return Promise.all(
      KEPT_KINDS.map(async (kind) => {
        const setting = settings.get(kind);
        const counts = await Promise.all(rowsOf(kind).map((rows) => this.countAll(rows)));
        const oldest = counts.flatMap((each) => (each.oldest ? [each.oldest.getTime()] : []));
        return {
          kind,
          days: setting?.days ?? null,
          count: counts.reduce((sum, each) => sum + each.count, 0),
          oldest: oldest.length === 0 ? null : new Date(Math.min(...oldest)).toISOString(),
          swept: kind === 'trail' ? await this.sweptTrail() : sweptOf(setting),
        };
      }),
    );
  }

  /** What so many days would delete now. */
  async try(kind: KeptKind, { days }: KeptForRequest, now: Date): Promise<KeptTrial> {
    demandEnough(kind, days);
    if (days === null) return { deletes: 0, held: 0 };
    const before = new Date(now.getTime() - days * DAY_MS);
    let deletes = 0;
    let held = 0;
    for (const rows of rowsOf(kind)) {
      const old = `${rows.when} AND ${rows.at} < ?`;
      deletes += await this.countOf(`${rows.from} WHERE ${old} AND NOT ${rows.held}`, before);
      held += await this.countOf(`${rows.from} WHERE ${old} AND ${rows.held}`, before);
    }
    return { deletes, held };
  }

  /** Holds from the next sweep on, which comes within the hour. */
  async set(kind: KeptKind, { days }: KeptForRequest): Promise<KeptView[]> {
    demandEnough(kind, days);
    const before = await this.manager.findOneBy(KeptForEntity, { kind });
    await this.manager.save(KeptForEntity, {
      ...{ kind, days, sweptAt: before?.sweptAt ?? null },
      deleted: before?.deleted ?? 0,
    });
    return this.list();
  }

  /** Deletes everything that is too old at `now`. One sweep at a time; one that is cut off goes on at the next. */
  sweep(now: Date): Promise<void> {
    this.running ??= this.sweepAll(now).finally(() => (this.running = null));
    return this.running;
  }

  private async sweepAll(now: Date): Promise<void> {
    const settings = await this.settings();
    for (const kind of KEPT_KINDS) {
      const setting = settings.get(kind);
      const days = setting?.days ?? null;
      // The trail is not the server's to delete: the start command does that with an account of its own.
      if (days === null || kind === 'trail') continue;
      const deleted = await this.sweepKind(kind, new Date(now.getTime() - days * DAY_MS));
      if (deleted === 0 && setting?.sweptAt) continue;
      await this.manager.save(KeptForEntity, { kind, days, sweptAt: now, deleted });
    }
  }

  private async sweepKind(kind: KeptKind, before: Date): Promise<number> {
    let deleted = 0;
    for (const rows of rowsOf(kind))
      for (let isMore = true; isMore && !this.stopped;) {
        // Chosen and deleted in one transaction: a hold that is put on in between waits for it, or comes before it.
        const count = await this.manager.transaction(async (manager) => {
          await manager.query('SELECT id FROM legal_hold WHERE endedAt IS NULL LOCK IN SHARE MODE');
          const found: { id: string }[] = await manager.query(
            `SELECT ${rows.id} AS id FROM ${rows.from}
             WHERE ${rows.when} AND ${rows.at} < ? AND NOT ${rows.held} LIMIT ${BATCH}`,
            [before],
          );
          await deleteRows(
            manager,
            rows,
            found.map(({ id }) => id),
            { kind, keys: this.config.keys },
          );
          if (found.length > 0)
            await this.trail.add({
              ...{ actor: ITSELF, action: 'deleted-by-age', target: kind },
              facts: { deleted: String(found.length), before: before.toISOString() },
            });
          return found.length;
        });
        deleted += count;
        isMore = count === BATCH;
      }
    return deleted;
  }

  private async sweptTrail(): Promise<KeptView['swept']> {
    const [last, before] = await this.manager.find(TrailSegmentEntity, {
      order: { number: 'DESC' },
      take: 2,
    });
    return last ? { at: last.removedAt.toISOString(), deleted: last.number - (before?.number ?? 0) } : null;
  }

  private async settings(): Promise<ReadonlyMap<KeptKind, KeptForEntity>> {
    const found = await this.manager.find(KeptForEntity);
    return new Map(found.map((setting) => [setting.kind, setting]));
  }

  private async countOf(sql: string, before: Date): Promise<number> {
    const [row]: { n: string }[] = await this.manager.query(`SELECT COUNT(*) AS n FROM ${sql}`, [before]);
    return Number(row?.n ?? 0);
  }

  private async countAll({ from, at, when }: ReturnType<typeof rowsOf>[number]) {
    const [row]: { n: string; oldest: Date | string | null }[] = await this.manager.query(
      `SELECT COUNT(*) AS n, MIN(${at}) AS oldest FROM ${from} WHERE ${when}`,
    );
    return { count: Number(row?.n ?? 0), oldest: row?.oldest ? new Date(row.oldest) : null };
  }
}

function sweptOf(setting: KeptForEntity | undefined): KeptView['swept'] {
  return setting?.sweptAt ? { at: setting.sweptAt.toISOString(), deleted: setting.deleted } : null;
}

function demandEnough(kind: KeptKind, days: number | null): void {
  const least = leastKeptDays(kind);
  if (days !== null && days < least)
    throw new AppError(
      'invalid-request',
      `Keep the audit trail for ${least} days or more. Nothing was changed.`,
    );
}
