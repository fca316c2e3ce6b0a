import { randomUUID } from 'node:crypto';
import type { RoutingRuleRequest, RoutingRuleView } from '@lantern/contracts';
import {
  type DeskAct,
  type Filter,
  type FilterFacts,
  filterHolds,
  parseFilter,
} from '@lantern/core/incidents';
import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { Acts } from '../../incidents/acts.service.js';
import { Queue } from '../../incidents/queue/queue.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { insertOnly } from '../../platform/database/insert-only.js';
import { Hooks } from '../hooks/hooks.service.js';
import { RoutedResponses } from './routed-responses.service.js';
import { AlertEntity, RoutingRuleEntity } from './routing.entity.js';

/** Rules of the desk, and watches of one account. */
const MOST_RULES = 200;
const MOST_WATCHES = 50;

interface ReadRule {
  readonly entity: RoutingRuleEntity;
  readonly filter: Filter;
}

/** Ordered rules that act on incidents as they are recorded: assign, set the severity, mark, tell, open a ticket, respond. */
@Injectable()
export class Routing implements OnModuleInit {
  private readonly log = new Logger('routing');
  private rules: readonly ReadRule[] = [];

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly queue: Queue,
    private readonly acts: Acts,
    private readonly hooks: Hooks,
    private readonly responses: RoutedResponses,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.read();
  }

  async list(caller: Caller): Promise<RoutingRuleView[]> {
    const found = await this.manager.find(RoutingRuleEntity, { order: { position: 'ASC' } });
    return found.filter(({ owner }) => owner === null || owner === caller.accountId).map(toView);
  }

  /** Saves a rule of the desk, or a watch of the caller. */
  async save(id: string | null, request: RoutingRuleRequest, caller: Caller): Promise<RoutingRuleView[]> {
    this.queue.read(request.filter);
    const own = request.watch;
    if (!own && !caller.permissions.includes('incidents.route'))
      throw new AppError('not-permitted', 'Your account may watch filters, but not route incidents.');
    const { version, ...rule } = request;
    if (!own && rule.respond?.length && !caller.permissions.includes('incidents.respond'))
      throw new AppError('not-permitted', 'Your account may route incidents, but not respond to them.');
    // A watch tells its owner and does nothing else.
    const kept = own
      ? {
          ...rule,
          test: false,
          tell: [caller.email],
          assign: undefined,
          severity: undefined,
          hook: undefined,
          respond: undefined,
        }
      : rule;
    await this.manager.transaction(async (manager) => {
      const known = id === null ? null : await this.find(manager, id, caller);
      if (known && known.version !== version)
        throw new AppError('changed-meanwhile', `${known.updatedBy} changed this rule meanwhile.`, {
          details: { by: known.updatedBy },
        });
      const all = await manager.find(RoutingRuleEntity);
      const most = own ? MOST_WATCHES : MOST_RULES;
      if (!known && all.filter(({ owner }) => owner === (own ? caller.accountId : null)).length >= most)
        throw new AppError('too-many', `There are ${most} of them already. Delete one first.`);
      await manager.save(
        manager.create(RoutingRuleEntity, {
          id: known?.id ?? randomUUID(),
          position: known?.position ?? Math.max(0, ...all.map(({ position }) => position)) + 1,
          owner: own ? caller.accountId : null,
          ownerName: own ? caller.name : null,
          rule: kept,
          version: (known?.version ?? 0) + 1,
          updatedBy: caller.name,
        }),
      );
    });
    await this.read();
    return this.list(caller);
  }

  async remove(id: string, caller: Caller): Promise<RoutingRuleView[]> {
    await this.manager.transaction(async (manager) => {
      await this.find(manager, id, caller);
      await manager.delete(RoutingRuleEntity, { id });
    });
    await this.read();
    return this.list(caller);
  }

  /** Reorders the rules of the desk. Rules that are not named keep their position. */
  async order(ids: readonly string[], caller: Caller): Promise<RoutingRuleView[]> {
    await this.manager.transaction(async (manager) => {
      for (const [at, id] of ids.entries())
        await manager.update(RoutingRuleEntity, { id }, { position: at + 1 });
    });
    await this.read();
    return this.list(caller);
  }

  /**
   * Acts on a recorded incident, within the transaction that records it. Of several rules that hold, the first decides
   * who gets it, how severe it is and whether it is a test; all of them tell. What leaves the desk, alerts and tickets,
   * goes by `open`, which holds nothing that only silent rules found, and is null where there is nothing else.
   */
  async route(
    manager: EntityManager,
    number: number,
    {
      whole,
      open,
      at,
    }: { readonly whole: FilterFacts; readonly open: FilterFacts | null; readonly at: Date },
  ): Promise<void> {
    const done = new Set<string>();
    for (const { entity, filter } of this.rules) {
      const { rule } = entity;
      if (!rule.active) continue;
      if (filterHolds(filter, whole, at.getTime())) await this.act(manager, number, { rule, done, at });
      if (open && filterHolds(filter, open, at.getTime())) await this.tell(manager, number, { rule, at });
    }
  }

  private async act(
    manager: EntityManager,
    number: number,
    {
      rule,
      done,
      at,
    }: { readonly rule: RoutingRuleEntity['rule']; readonly done: Set<string>; readonly at: Date },
  ): Promise<void> {
    for (const act of await this.actsOf(rule, done)) {
      const incident = await this.acts.locked(manager, number);
      if (!incident) return;
      const by = { name: 'Uncut Lantern', email: '', accountId: '' };
      await this.acts.apply(manager, incident, act, { by, at, reason: `Routing rule "${rule.name}"` });
    }
  }

  private async tell(
    manager: EntityManager,
    number: number,
    { rule, at }: { readonly rule: RoutingRuleEntity['rule']; readonly at: Date },
  ): Promise<void> {
    await insertOnly(
      manager,
      AlertEntity,
      rule.tell.map((address) => ({ address, reason: rule.name, incidentNumber: number, at, sentAt: null })),
    );
    if (rule.respond?.length)
      await this.responses.queue(manager, number, { name: rule.name, respond: rule.respond });
    if (rule.hook)
      await this.hooks
        .queue(manager, rule.hook, number, `Routing rule "${rule.name}"`)
        // A hook that was deleted keeps no incident from being recorded.
        .catch((error: unknown) => {
          if (!(error instanceof AppError)) throw error;
        });
  }

  private async actsOf(rule: RoutingRuleEntity['rule'], done: Set<string>): Promise<DeskAct[]> {
    const acts: DeskAct[] = [];
    const once = (what: string): boolean => !done.has(what) && Boolean(done.add(what));
    if (rule.severity && once('severity')) acts.push({ act: 'set-severity', severity: rule.severity });
    if (rule.test && once('test')) acts.push({ act: 'mark-test', yes: true });
    if (rule.assign && once('assign')) {
      // Whoever cannot take incidents any more gets none, and the incident stays new.
      const act = await this.acts.read({ act: 'assign', to: rule.assign }).catch(() => null);
      if (act) acts.push(act);
    }
    return acts;
  }

  private async read(): Promise<void> {
    const found = await this.manager.find(RoutingRuleEntity, { order: { position: 'ASC' } });
    this.rules = found.flatMap((entity) => {
      const parsed = parseFilter(entity.rule.filter);
      if (parsed.status === 'read') return [{ entity, filter: parsed.filter }];
      this.log.warn(`Routing rule ${entity.id} has a filter that cannot be read and does nothing`);
      return [];
    });
  }

  private async find(manager: EntityManager, id: string, caller: Caller): Promise<RoutingRuleEntity> {
    const rule = await manager.findOne(RoutingRuleEntity, {
      where: { id },
      lock: { mode: 'pessimistic_write' },
    });
    const mine = rule?.owner === caller.accountId;
    const shared = rule?.owner === null && caller.permissions.includes('incidents.route');
    if (!rule || (!mine && !shared)) throw new AppError('not-found', 'There is no such rule.');
    return rule;
  }
}

function toView({ id, position, owner, ownerName, rule, version }: RoutingRuleEntity): RoutingRuleView {
  return { ...rule, id, position, version, watch: owner !== null, owner: ownerName };
}
