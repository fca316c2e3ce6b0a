import { randomUUID } from 'node:crypto';
import type { ReplayItem, ReplayRequest, ReplayView } from '@lantern/contracts';
import { domainOf } from '@lantern/core/directory';
import { Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { IncidentEntity, MovementEntity } from '../incidents/incident.entity.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { ReplayEntity, type ReplayFigures } from './replay.entity.js';
import { ReplayRunner } from './replay-runner.js';

/** Replays listed; older ones go when new ones come. */
const KEPT_REPLAYS = 50;
const NO_FIGURES: ReplayFigures = {
  total: 0,
  judged: 0,
  detectedAgain: 0,
  notJudged: 0,
  seconds: 0,
  difference: null,
  rules: {},
};

/** Drafts over the journal: one runs at a time, each can be stopped, and what came out stays to be read. */
@Injectable()
export class ReplayService implements OnModuleInit, OnApplicationShutdown {
  private readonly log = new Logger('replay');
  private line: Promise<unknown> = Promise.resolve();
  private readonly stopped = new Set<string>();
  private readonly stoppers = new Map<string, AbortController>();
  private closing = false;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly runner: ReplayRunner,
    private readonly live: LiveEvents,
  ) {}

  /** A server that died while one ran says so; the replay is begun again by whoever wants it. */
  async onModuleInit(): Promise<void> {
    await this.manager.update(ReplayEntity, { state: In(['waiting', 'running']) }, { state: 'cut-off' });
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    for (const stopper of this.stoppers.values()) stopper.abort();
    await this.line.catch(() => undefined);
  }

  async list(): Promise<ReplayView[]> {
    const found = await this.manager.find(ReplayEntity, { order: { startedAt: 'DESC' }, take: KEPT_REPLAYS });
    return found.map(toView);
  }

  async get(id: string): Promise<ReplayView> {
    return toView(await this.find(id));
  }

  async start(request: ReplayRequest, caller: Caller): Promise<ReplayView> {
    const { since, until, unlimited, over = 'journal' } = request;
    const now = new Date();
    const [from, to] = over === 'stored' ? [now, now] : [new Date(since), new Date(until)];
    if (over === 'journal' && from >= to)
      throw new AppError('invalid-request', 'The period ends before it starts. Nothing was started.', {
        fields: [{ field: 'until', message: 'must be later than since' }],
      });
    const entity = this.manager.create(ReplayEntity, {
      id: randomUUID(),
      state: 'waiting',
      over,
      since: from,
      until: to,
      startedAt: new Date(),
      startedBy: caller.name,
      figures: NO_FIGURES,
    });
    await this.manager.insert(ReplayEntity, entity);
    await this.forgetOld();
    this.line = this.line.then(() => this.run(entity, unlimited));
    this.announce(entity.id);
    return toView(entity);
  }

  async stop(id: string): Promise<ReplayView> {
    const { state } = await this.find(id);
    if (state === 'waiting' || state === 'running') {
      this.stopped.add(id);
      this.stopper(id).abort();
    }
    return this.get(id);
  }

  /** Movements that are answered otherwise, in the order of the journal. */
  async items(id: string, shift: string | undefined): Promise<ReplayItem[]> {
    const { figures, over, startedAt } = await this.find(id);
    const items = (figures.difference?.items ?? []).filter((item) => !shift || item.shift === shift);
    if (items.length === 0) return [];
    if (over === 'stored') return items.map((item) => storedItem(item, startedAt));
    const ids = items.map((item) => item.id);
    const movements = new Map(
      (await this.manager.findBy(MovementEntity, { id: In(ids) })).map((each) => [each.id, each]),
    );
    const incidents = new Map(
      (
        await this.manager.find(IncidentEntity, {
          where: { movementId: In(ids), silent: false },
          select: { number: true, movementId: true },
        })
      ).map((each) => [each.movementId, each.number]),
    );
    return items.flatMap((item): ReplayItem[] => {
      const movement = movements.get(item.id);
      if (!movement) return [];
      return [
        {
          ...item,
          at: movement.at.toISOString(),
          channel: movement.channel,
          person: movement.personName,
          department: movement.department,
          destinations: [...new Set(movement.recipients.map(({ address }) => domainOf(address)))].slice(0, 6),
          incident: incidents.get(item.id) ?? null,
        },
      ];
    });
  }

  /** Ends at once what a replay is judging. */
  private stopper(id: string): AbortController {
    const known = this.stoppers.get(id) ?? new AbortController();
    this.stoppers.set(id, known);
    return known;
  }

  private async run(entity: ReplayEntity, unlimited: string | undefined): Promise<void> {
    const { id, since, until } = entity;
    const save = async (state: ReplayEntity['state'], figures: ReplayFigures): Promise<void> => {
      await this.manager.update(ReplayEntity, { id }, { state, figures });
      this.announce(id);
    };
    try {
      const isStopped = (): boolean => this.closing || this.stopped.has(id);
      const { signal } = this.stopper(id);
      const watch = { isStopped, signal, progress: (now: ReplayFigures) => save('running', now) };
      const figures =
        entity.over === 'stored'
          ? await this.runner.runStored(unlimited, watch)
          : await this.runner.run({ since, until, unlimited }, watch);
      await save(this.closing ? 'cut-off' : this.stopped.has(id) ? 'stopped' : 'done', figures);
    } catch (error) {
      this.log.error(`A replay ended by itself: ${error instanceof Error ? error.name : 'unknown'}`);
      await this.manager.update(ReplayEntity, { id }, { state: 'failed' }).catch(() => undefined);
      this.announce(id);
    } finally {
      this.stopped.delete(id);
      this.stoppers.delete(id);
    }
  }

  private announce(id: string): void {
    this.live.publish({ kind: 'replay-changed', id });
  }

  private async find(id: string): Promise<ReplayEntity> {
    const found = await this.manager.findOneBy(ReplayEntity, { id });
    if (!found) throw new AppError('not-found', 'There is no such replay.');
    return found;
  }

  private async forgetOld(): Promise<void> {
    const old = await this.manager.find(ReplayEntity, {
      order: { startedAt: 'DESC' },
      skip: KEPT_REPLAYS,
      take: KEPT_REPLAYS,
      select: { id: true },
    });
    if (old.length > 0) await this.manager.delete(ReplayEntity, { id: In(old.map(({ id }) => id)) });
  }
}

function toView(entity: ReplayEntity): ReplayView {
  const { difference, ...figures } = entity.figures;
  const { items: _items, ...shown } = difference ?? { items: [] };
  return {
    id: entity.id,
    state: entity.state,
    over: entity.over,
    since: entity.since.toISOString(),
    until: entity.until.toISOString(),
    startedAt: entity.startedAt.toISOString(),
    startedBy: entity.startedBy,
    ...figures,
    difference: difference && (shown as ReplayView['difference']),
  };
}

/** A stored item as a row: its place stands where a movement has its person. */
function storedItem(
  item: {
    readonly id: string;
    readonly shift: string;
    readonly before: string | null;
    readonly after: string | null;
    readonly rule: string | null;
  },
  at: Date,
): ReplayItem {
  const [place = '', ...rest] = item.id.split('/').filter(Boolean);
  return {
    ...item,
    at: at.toISOString(),
    channel: 'drive',
    person: rest.join('/'),
    department: place,
    destinations: ['anybody outside'],
    incident: null,
  };
}
