import { randomUUID } from 'node:crypto';
import { MAX_NAME_LENGTH } from '@lantern/contracts';
import type { PreventionFigures, PreventionView } from '@lantern/contracts/insight';
import { printFilter } from '@lantern/core/incidents';
import {
  behind,
  exchangeOf,
  isInForce,
  isPatternChange,
  type PatternChange,
  type Period,
  promiseState,
  type RuleChange,
  shownChange,
  withChangedRule,
  withPatternChange,
} from '@lantern/core/insight';
import type { ExchangeId } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, MoreThan } from 'typeorm';
import { HistoryEntity } from '../../incidents/incident.entity.js';
import { KnownNames } from '../../incidents/known-names.service.js';
import { ChangedPattern } from '../../patterns/changed-pattern.service.js';
import { SpecimensService } from '../../patterns/specimens.service.js';
import { PoliciesService } from '../../policies/policies.service.js';
import { SetPartsService } from '../../policies/set-parts.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { type Sight, sightOf } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { seenBy } from '../../published/silence.js';
import { RevisionEntity } from '../../published/revision.entity.js';
import { RevisionsService } from '../../revisions/revisions.service.js';
import { Reading } from '../figures/reading.service.js';
import { Tally } from '../figures/tally.service.js';
import { type KeptRow, keptRows } from '../kept-movements.js';
import { type Computed, Prevent } from './prevent.service.js';
import type { TextOfRow, TextsTask } from './prevent-tasks.js';
import { PreventionEntity } from './prevention.entity.js';

/** Specimens kept from each side: enough to hold the pattern to both. */
const SPECIMENS_A_SIDE = 2;
/** Movements of each side that are looked at for them, the newest first. */
const LOOKED_AT = 20;
/** Longer texts show more than the pattern. */
const LONGEST_SPECIMEN = 20_000;
const DAY_MS = 86_400_000;
/** Days before a change was published that its promise is compared with. */
const BEFORE_DAYS = 28;

/** Takes a computed change into the drafts, and checks afterwards whether it kept its promise. */
@Injectable()
export class Preventions {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly prevent: Prevent,
    private readonly policies: PoliciesService,
    private readonly parts: SetPartsService,
    private readonly patterns: ChangedPattern,
    private readonly specimens: SpecimensService,
    private readonly revisions: RevisionsService,
    private readonly tally: Tally,
    private readonly reading: Reading,
    private readonly names: KnownNames,
    private readonly live: LiveEvents,
  ) {}

  /** Changes the draft. Throws `not-permitted` for somebody who may not write it, `changed-meanwhile` for a draft that moved on. */
  async take({ computed, option }: { readonly computed: string; readonly option: number }, caller: Caller) {
    const known = this.prevent.find(computed, caller);
    const change = known.changes[option];
    const effect = known.view.options[option]?.effect;
    if (!change || !effect) throw new AppError('not-found', 'There is no such change.');
    if (isPatternChange(change)) await this.changePattern(change, known, caller);
    else await this.changeRule(known.view.policy.id, change, caller);
    const id = randomUUID();
    const at = new Date();
    await this.manager.transaction(async (manager) => {
      const row = { id, at, actor: caller.name, incidentNumber: known.incident, ruleId: known.view.rule.id };
      await manager.insert(PreventionEntity, { ...row, definition: shownChange(change), effect });
      if (known.incident !== null)
        await manager.insert(HistoryEntity, {
          ...{ incidentNumber: known.incident, at, actor: caller.name, kind: 'prevented', act: null },
          ...{ accountId: caller.accountId || null, text: JSON.stringify(shownChange(change)) },
        });
    });
    if (known.incident !== null) this.live.publish({ kind: 'incident-changed', number: known.incident });
    return this.of(known.view.rule.id, caller);
  }

  /** Changes that were made about a rule, the newest first. */
  async of(rule: string, caller: Caller): Promise<PreventionView[]> {
    if (await this.isHidden(rule, caller)) return [];
    const sight = sightOf(caller);
    const rows = await this.manager.find(PreventionEntity, {
      where: { ruleId: rule },
      order: { at: 'DESC' },
    });
    return Promise.all(rows.map((row) => this.toView(row, sight)));
  }

  /** Whether it is a silent rule that the caller may not see. */
  private async isHidden(rule: string, caller: Caller): Promise<boolean> {
    const { policies } = await this.revisions.document();
    const policy = policies.find(({ rules }) => rules.some(({ id }) => id === rule));
    return policy !== undefined && !seenBy(policy, caller).rules.some(({ id }) => id === rule);
  }

  private async changeRule(policyId: string, change: RuleChange, caller: Caller): Promise<void> {
    demand(caller, 'policies.write');
    const { policy, version } = await this.policies.get(policyId, caller);
    const exchange = change.kind === 'enter-exchange' ? await this.enter(change, caller) : '';
    const { id, ...definition } = withChangedRule(policy, change, exchange as ExchangeId);
    await this.policies.save(id, { policy: definition, version }, caller);
  }

  /** Enters an exchange under a name that no other has. */
  private async enter(
    change: Extract<RuleChange, { kind: 'enter-exchange' }>,
    caller: Caller,
  ): Promise<string> {
    const { id: _id, ...entry } = exchangeOf(change, '' as ExchangeId);
    const names = new Set((await this.parts.exchanges()).map(({ name }) => name.toLowerCase()));
    let name = entry.name.slice(0, MAX_NAME_LENGTH - 4);
    for (let copy = 2; names.has(name.toLowerCase()); copy += 1)
      name = `${entry.name.slice(0, MAX_NAME_LENGTH - 4)} ${copy}`;
    return this.parts.create('exchange', { ...entry, name }, caller);
  }

  private async changePattern(change: PatternChange, computed: Computed, caller: Caller): Promise<void> {
    demand(caller, 'patterns.write');
    await this.patterns.save(change.pattern, (pattern) => withPatternChange(pattern, change), caller);
    // Texts of others are shown to whoever may read patterns: only somebody who may see them keeps them.
    if (caller.permissions.includes('incidents.unmask')) await this.keepSpecimens(change, computed, caller);
  }

  /** Keeps texts from both sides, so that no later edit brings the false positives back or loses the real ones. */
  private async keepSpecimens(
    change: PatternChange,
    { wrong, real }: Computed,
    caller: Caller,
  ): Promise<void> {
    const document = await this.revisions.document();
    const pool = this.prevent.poolOf(document, [change.pattern]);
    try {
      for (const [ids, name] of [[wrong, 'False positive'] as const, [real, 'Real case'] as const]) {
        const rows = await keptRows(this.prevent.source, ids.slice(0, LOOKED_AT), true);
        const texts = await pool.each<KeptRow, TextOfRow | null>(
          'texts',
          [...rows.values()],
          (some) => ({ rows: some, pattern: change.pattern }) satisfies TextsTask,
        );
        const short = [...texts.values()]
          .filter((one) => one !== null)
          .filter(({ text }) => text.length <= LONGEST_SPECIMEN)
          .slice(0, SPECIMENS_A_SIDE);
        for (const { text, values } of short) {
          const expected = [{ pattern: change.pattern, values: name === 'Real case' ? [...values] : [] }];
          const day = new Date().toISOString().slice(0, 10);
          await this.specimens.create({ name: `${name}, ${day}`, text, expected }, caller);
        }
      }
    } finally {
      pool.destroy();
    }
  }

  private async toView(row: PreventionEntity, sight: Sight): Promise<PreventionView> {
    const revision = await this.revisionWith(row);
    const published = revision?.publishedAt.getTime() ?? Date.now();
    const before = await this.figures(
      row.ruleId,
      { from: published - BEFORE_DAYS * DAY_MS, to: published },
      sight,
    );
    const since = revision && (await this.figures(row.ruleId, { from: published, to: Date.now() }, sight));
    const { gone, of } = row.effect.falsePositives;
    const rate = ({ falsePositives, days }: PreventionFigures) => ({ count: falsePositives, days });
    return {
      id: row.id,
      at: row.at.toISOString(),
      by: row.actor,
      incident: row.incidentNumber,
      rule: row.ruleId,
      change: row.definition,
      effect: { ...row.effect, letThrough: [] },
      revision: revision && { number: revision.number, at: revision.publishedAt.toISOString() },
      state: since ? promiseState(rate(before), of === 0 ? 0 : gone / of, rate(since)) : 'not-published',
      before,
      since,
    };
  }

  /** The first revision after the change that has it. */
  private async revisionWith({ at, definition }: PreventionEntity): Promise<RevisionEntity | null> {
    const later = await this.manager.find(RevisionEntity, {
      where: { publishedAt: MoreThan(at) },
      order: { number: 'ASC' },
      take: 20,
    });
    return later.find(({ document }) => isInForce(document, definition)) ?? null;
  }

  private async figures(rule: string, period: Period, sight: Sight): Promise<PreventionFigures> {
    const filter = this.reading.filter(`rule eq ${JSON.stringify(this.names.wordFor('rule', rule))}`);
    const counted = (line: string) => ({
      listed: 'incidents' as const,
      filter: this.reading.filter(`${printFilter(filter)}${line}`),
      sight,
    });
    return {
      days: (period.to - period.from) / DAY_MS,
      incidents: await this.tally.count(counted(''), period),
      falsePositives: await this.tally.count(counted(' and outcome eq "false-positive"'), period),
      harm: await this.tally.count(counted(' and outcome eq "harm"'), period),
      filter: printFilter(behind(filter, period)),
    };
  }
}

function demand({ permissions }: Caller, permission: 'policies.write' | 'patterns.write'): void {
  if (!permissions.includes(permission))
    throw new AppError('not-permitted', 'Your account may not change drafts. Ask a policy author.');
}
