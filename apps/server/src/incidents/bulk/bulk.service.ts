import { randomUUID } from 'node:crypto';
import { type BulkRequest, type BulkView, MAX_BULK } from '@lantern/contracts';
import { Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { type Sight, sightOf } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { type ActContext, Acts, type AppliedAct } from '../acts.service.js';
import type { IncidentEntity } from '../incident.entity.js';
import { visibleAmong } from '../visible.js';
import { Queue } from '../queue/queue.service.js';
import { BulkEntity, BulkItemEntity } from './bulk.entity.js';

/** Incidents decided in one transaction: locks are held a moment, and a stop is heard soon. */
const AT_ONCE = 100;
/** Rows written by one insert. */
const INSERTED = 1_000;
/** Decisions in bulk that are listed. */
const LISTED = 20;
/** Somebody may add a few incidents while another reads a list; more is another list than they saw. */
const TOLERANCE = 0.02;

/** Decisions about many incidents: in the background, in small steps, stopped and undone as one. */
@Injectable()
export class BulkDecisions implements OnModuleInit, OnApplicationShutdown {
  private readonly log = new Logger('incidents');
  private readonly stopping = new Set<string>();
  private running: Promise<unknown> = Promise.resolve();
  private closing = false;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly queue: Queue,
    private readonly acts: Acts,
    private readonly live: LiveEvents,
  ) {}

  /** Marks decisions that a stopped server left unfinished as interrupted: they can be undone, or begun again. */
  async onModuleInit(): Promise<void> {
    await this.manager.update(BulkEntity, { state: In(['running', 'undoing']) }, { state: 'cut-off' });
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    await this.running.catch(() => undefined);
  }

  /** Begins a decision; it goes on when the caller leaves. Refused where it would be about more than they saw. */
  async begin(request: BulkRequest, caller: Caller): Promise<BulkView> {
    const act = await this.acts.read(request);
    const numbers = await this.chosen(request, sightOf(caller));
    if (numbers.length === 0) throw new AppError('not-found', 'No incident matches any more.');
    if (numbers.length > request.expected + Math.ceil(request.expected * TOLERANCE))
      throw new AppError(
        'changed-meanwhile',
        `There are ${numbers.length} incidents by now, not ${request.expected}. Look at the list again.`,
        { details: { by: '' } },
      );
    const bulk = {
      id: randomUUID(),
      at: new Date(),
      actor: caller.name,
      account: caller.email,
      act,
      state: 'running' as const,
      total: numbers.length,
      done: 0,
      skipped: 0,
      undone: 0,
    };
    await this.manager.transaction(async (manager) => {
      await manager.insert(BulkEntity, bulk);
      for (let at = 0; at < numbers.length; at += INSERTED)
        await manager.insert(
          BulkItemEntity,
          numbers.slice(at, at + INSERTED).map((incidentNumber) => ({
            ...{ bulkId: bulk.id, incidentNumber, state: 'waiting' as const },
            ...{ version: null, earlier: null, reason: null },
          })),
        );
    });
    const context = { by: caller, reason: request.reason ?? null, bulk: bulk.id };
    this.start(bulk.id, () => this.decideAll(bulk.id, act, context));
    return this.get(bulk.id, caller);
  }

  async stop(id: string, caller: Caller): Promise<BulkView> {
    const bulk = await this.get(id, caller);
    this.stopping.add(id);
    return bulk;
  }

  /** Puts back every incident that nothing else happened to since. */
  async undo(id: string, caller: Caller): Promise<BulkView> {
    await this.get(id, caller);
    const changed = await this.manager.update(
      BulkEntity,
      { id, state: In(['done', 'stopped', 'cut-off']) },
      { state: 'undoing' },
    );
    if (!changed.affected)
      throw new AppError('act-refused', 'This decision cannot be undone now.', {
        details: { reason: 'not-undoable' },
      });
    this.start(id, () => this.undoAll(id, { by: caller, reason: null, bulk: id }));
    return this.get(id, caller);
  }

  /** A caller with limits reads only their own bulk decisions: those of others can cover any incident. */
  async get(id: string, caller: Caller): Promise<BulkView> {
    const bulk = await this.manager.findOneBy(BulkEntity, { id, ...ownOnly(caller) });
    if (!bulk) throw new AppError('not-found', 'There is no such decision.');
    return this.toView(bulk);
  }

  async list(caller: Caller): Promise<BulkView[]> {
    const found = await this.manager.find(BulkEntity, {
      where: ownOnly(caller),
      order: { at: 'DESC' },
      take: LISTED,
    });
    return Promise.all(found.map((bulk) => this.toView(bulk)));
  }

  /** Ends when everything that was begun has ended: for tests. */
  async settled(): Promise<void> {
    await this.running;
  }

  private async chosen(request: BulkRequest, sight: Sight): Promise<number[]> {
    const except = new Set(request.except ?? []);
    if (request.numbers) {
      const wanted = request.numbers.filter((number) => !except.has(number));
      const found = await visibleAmong(this.manager, wanted, sight);
      return [...found].sort((one, other) => one - other);
    }
    const numbers = await this.queue.numbers(this.queue.read(request.filter), sight, MAX_BULK + 1);
    if (numbers.length > MAX_BULK)
      throw new AppError(
        'too-many',
        `One decision can be about ${MAX_BULK} incidents at most. Narrow the filter.`,
      );
    return numbers.filter((number) => !except.has(number));
  }

  private start(id: string, work: () => Promise<void>): void {
    this.running = this.running
      .then(work)
      .catch(async (error: unknown) => {
        this.log.error(
          `A decision in bulk ended early: ${error instanceof Error ? error.message : 'unknown'}`,
        );
        await this.manager.update(BulkEntity, { id }, { state: 'cut-off' }).catch(() => undefined);
      })
      .finally(() => {
        this.stopping.delete(id);
        this.live.publish({ kind: 'bulk-changed', id });
        this.live.publish({ kind: 'incidents-aged' });
      });
  }

  private async decideAll(
    id: string,
    act: BulkEntity['act'],
    context: Omit<ActContext, 'at'>,
  ): Promise<void> {
    for (;;) {
      const items = await this.next(id, 'waiting');
      if (items.length === 0) break;
      if (this.stopping.has(id) || this.closing) {
        await this.manager.update(BulkEntity, { id }, { state: this.closing ? 'cut-off' : 'stopped' });
        return;
      }
      await this.manager.transaction(async (manager) => {
        const counts = { done: 0, skipped: 0 };
        for (const item of items) {
          const incident = await this.acts.locked(manager, item.incidentNumber);
          const result = await this.decideOne(manager, incident, act, context);
          counts[result.status === 'changed' ? 'done' : 'skipped'] += 1;
          await manager.update(
            BulkItemEntity,
            { bulkId: id, incidentNumber: item.incidentNumber },
            result.status === 'changed'
              ? { state: 'done', version: result.version, earlier: result.before }
              : { state: 'skipped', reason: result.reason },
          );
        }
        await manager.increment(BulkEntity, { id }, 'done', counts.done);
        await manager.increment(BulkEntity, { id }, 'skipped', counts.skipped);
      });
      this.live.publish({ kind: 'bulk-changed', id });
    }
    await this.manager.update(BulkEntity, { id }, { state: 'done' });
  }

  /** Answers skip decided incidents, so that a decision in bulk overwrites nobody's answer. */
  private decideOne(
    manager: EntityManager,
    incident: IncidentEntity | null,
    act: BulkEntity['act'],
    context: Omit<ActContext, 'at'>,
  ): Promise<AppliedAct> | { readonly status: 'refused'; readonly reason: string } {
    if (!incident) return { status: 'refused', reason: 'gone' };
    const answers = act.act === 'answer-looked-for' || act.act === 'answer-all-right';
    if (answers && incident.status === 'decided') return { status: 'refused', reason: 'already-decided' };
    return this.acts.apply(manager, incident, act, { ...context, at: new Date() });
  }

  private async undoAll(id: string, context: Omit<ActContext, 'at'>): Promise<void> {
    for (;;) {
      const items = await this.next(id, 'done');
      if (items.length === 0 || this.closing) break;
      await this.manager.transaction(async (manager) => {
        let undone = 0;
        for (const { incidentNumber, version, earlier } of items) {
          const incident = await this.acts.locked(manager, incidentNumber);
          const untouched = incident !== null && earlier !== null && incident.version === version;
          if (untouched) {
            await this.acts.restore(manager, incident, earlier, { ...context, at: new Date() });
            undone += 1;
          }
          await manager.update(
            BulkItemEntity,
            { bulkId: id, incidentNumber },
            untouched ? { state: 'undone' } : { state: 'kept', reason: 'changed-since' },
          );
        }
        await manager.increment(BulkEntity, { id }, 'undone', undone);
      });
      this.live.publish({ kind: 'bulk-changed', id });
    }
    await this.manager.update(BulkEntity, { id }, { state: this.closing ? 'cut-off' : 'undone' });
  }

  private next(id: string, state: BulkItemEntity['state']): Promise<BulkItemEntity[]> {
    return this.manager.find(BulkItemEntity, {
      where: { bulkId: id, state },
      order: { incidentNumber: 'ASC' },
      take: AT_ONCE,
    });
  }

  private async toView(bulk: BulkEntity): Promise<BulkView> {
    const reasons = await this.manager.query<{ reason: string; count: string }[]>(
      'SELECT reason, COUNT(*) AS count FROM bulk_decision_item WHERE bulkId = ? AND reason IS NOT NULL GROUP BY reason',
      [bulk.id],
    );
    const { id, at, actor, act, state, total, done, skipped, undone } = bulk;
    return {
      ...{ id, at: at.toISOString(), by: actor, act, state, total, done, skipped, undone },
      reasons: reasons.map(({ reason, count }) => ({ reason, count: Number(count) })),
    };
  }
}

const ownOnly = ({ email, limits }: Caller): { readonly account?: string } =>
  limits === null ? {} : { account: email };
