import type { ImprovementsView, ImprovementView } from '@lantern/contracts/insight';
import { type Improvement, improvementKey, improvements } from '@lantern/core/insight';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull, MoreThan } from 'typeorm';
import { KnownNames } from '../../incidents/known-names.service.js';
import { PatternNames } from '../../patterns/pattern-names.js';
import type { Caller } from '../../platform/auth/permit.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { setSeenBy } from '../../published/silence.js';
import { Guard } from '../guard/guard.service.js';
import { ImprovementEntity } from './improvement.entity.js';
import { StateReader } from './state-facts.service.js';

/** People who look at the same time share one reading of the state. */
const FRESH_MS = 2_000;
/** The count in the navigation may be so old. */
const COUNTED_MS = 300_000;
/** It is read once an hour though nobody looks, so that it is known when something was mended. */
const SWEEP_MS = 3_600_000;
const WEEK_MS = 7 * 86_400_000;
const WEEKS = 12;

/** What to do next, computed from the real state, and what was done. */
@Injectable()
export class Improvements implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('insight');
  private timer: NodeJS.Timeout | undefined;
  private last: readonly Improvement[] | null = null;
  private known: { readonly at: number; readonly found: Promise<Improvement[]> } | null = null;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly state: StateReader,
    private readonly published: PublishedRevision,
    private readonly names: KnownNames,
    private readonly patterns: PatternNames,
    private readonly guard: Guard,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.sweep().catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /** Keeps the record of what is open, and of how well the day is guarded, though nobody looks. */
  private async sweep(): Promise<void> {
    await this.fresh();
    await this.guard.recordToday();
  }

  async view(caller: Caller): Promise<ImprovementsView> {
    const seen = this.seenBy(caller, await this.fresh());
    const since = new Map(
      (await this.manager.findBy(ImprovementEntity, { goneAt: IsNull() })).map((row) => [row.id, row.since]),
    );
    const names = await this.namesOf(caller);
    return {
      open: seen.map((improvement): ImprovementView => ({
        improvement,
        names: named(improvement, names),
        ruleWord: 'rule' in improvement ? this.names.wordFor('rule', improvement.rule) : null,
        since: (since.get(improvementKey(improvement)) ?? new Date()).toISOString(),
      })),
      weeks: await this.weeks(),
    };
  }

  /** How many there were when they were last computed; null before the first computation, which is begun and not waited for. */
  countSoon(caller: Caller): number | null {
    const { known } = this;
    if (!known || Date.now() - known.at > COUNTED_MS) void this.fresh().catch(() => undefined);
    return this.last && this.seenBy(caller, this.last).length;
  }

  /** Without what silent rules are about, for those who may not see them. */
  private seenBy(caller: Caller, found: readonly Improvement[]): Improvement[] {
    const document = this.published.current?.document;
    const rules = new Set(
      document
        ? setSeenBy(document, caller).policies.flatMap((policy) => policy.rules.map(({ id }) => String(id)))
        : [],
    );
    return found.filter((improvement) => !('rule' in improvement) || rules.has(improvement.rule));
  }

  private fresh(): Promise<Improvement[]> {
    const now = Date.now();
    if (!this.known || now - this.known.at > FRESH_MS) {
      const found = this.compute().catch((error: unknown) => {
        this.known = null;
        this.log.error(
          `Improvements could not be computed: ${error instanceof Error ? error.message : 'unknown'}`,
        );
        throw error;
      });
      this.known = { at: now, found };
    }
    return this.known.found;
  }

  private async compute(): Promise<Improvement[]> {
    const facts = await this.state.read();
    const found = facts ? improvements(facts) : [];
    await this.remember(found.map(improvementKey));
    this.last = found;
    return found;
  }

  /** Writes down what is new and what is gone. What comes back begins anew. */
  private async remember(keys: readonly string[]): Promise<void> {
    const now = new Date();
    await this.manager.transaction(async (manager) => {
      const rows = await manager.find(ImprovementEntity, { lock: { mode: 'pessimistic_write' } });
      const open = new Set(rows.filter(({ goneAt }) => goneAt === null).map(({ id }) => id));
      const wanted = new Set(keys.map((key) => key.slice(0, 120)));
      for (const id of wanted)
        if (!open.has(id)) await manager.upsert(ImprovementEntity, { id, since: now, goneAt: null }, ['id']);
      for (const id of open)
        if (!wanted.has(id)) await manager.update(ImprovementEntity, { id }, { goneAt: now });
    });
  }

  private async weeks(): Promise<ImprovementsView['weeks']> {
    const now = Date.now();
    const from = now - WEEKS * WEEK_MS;
    const rows = [
      ...(await this.manager.findBy(ImprovementEntity, { goneAt: IsNull() })),
      ...(await this.manager.findBy(ImprovementEntity, { goneAt: MoreThan(new Date(from)) })),
    ];
    return Array.from({ length: WEEKS }, (_, index) => {
      const [begin, end] = [from + index * WEEK_MS, from + (index + 1) * WEEK_MS];
      const gone = (at: Date | null) => at !== null && at.getTime() < end;
      return {
        from: new Date(begin).toISOString(),
        done: rows.filter(({ goneAt }) => goneAt !== null && goneAt.getTime() >= begin && gone(goneAt))
          .length,
        open: rows.filter(({ since, goneAt }) => since.getTime() < end && !gone(goneAt)).length,
      };
    });
  }

  private async namesOf(caller: Caller): Promise<(id: string) => string> {
    const document = this.published.current?.document;
    const patterns = await this.patterns.all();
    const known = new Map<string, string>();
    for (const policy of document ? setSeenBy(document, caller).policies : []) {
      known.set(policy.id, policy.name);
      for (const rule of policy.rules) known.set(rule.id, rule.name || `Rule of ${policy.name}`);
    }
    return (id) => known.get(id) ?? patterns.get(id) ?? this.names.nameOf('rule', id);
  }
}

function named(improvement: Improvement, nameOf: (id: string) => string): Record<string, string> {
  const ids = [
    ...('rule' in improvement ? [improvement.rule] : []),
    ...('policy' in improvement ? [improvement.policy] : []),
    ...('patterns' in improvement ? improvement.patterns : []),
    ...('pattern' in improvement ? [improvement.pattern] : []),
  ];
  return Object.fromEntries(ids.map((id) => [id, nameOf(id)]));
}
