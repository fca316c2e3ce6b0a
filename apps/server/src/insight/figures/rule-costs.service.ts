import type { PeriodQuery, ReasonView, RuleCostView, RuleReasonsQuery } from '@lantern/contracts/insight';
import { allOf, type Filter } from '@lantern/core/incidents';
import {
  byPrice,
  NO_RULE_FIGURES,
  type Period,
  remarksOnRule,
  type RuleFigures,
  within,
} from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { RowCounts } from '../../incidents/counts/row-counts.service.js';
import { KnownNames } from '../../incidents/known-names.service.js';
import { divided } from '../../incidents/queue/group-expression.js';
import { Queue } from '../../incidents/queue/queue.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { type Sight, sightOf } from '../../platform/auth/sight.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { setSeenBy } from '../../published/silence.js';
import { periodOf } from './period.js';
import { Reading } from './reading.service.js';
import { answersOf, type FromMatches, figuresOf, repeatsOf, timesOf } from './rule-sql.js';

/** Different words that are listed for a rule. */
const MOST_REASONS = 60;

interface NamedRule {
  readonly policy: { readonly id: string; readonly name: string };
  readonly rule: { readonly id: string; readonly name: string };
}

/** What each rule costs the people, and what it stops. */
@Injectable()
export class RuleCosts {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly reading: Reading,
    private readonly queue: Queue,
    private readonly counts: RowCounts,
    private readonly names: KnownNames,
    private readonly published: PublishedRevision,
  ) {}

  /** Rules with matches in the period, and those in force without; what deserves a look first. */
  async view(query: PeriodQuery, caller: Pick<Caller, 'permissions' | 'limits'>): Promise<RuleCostView[]> {
    const period = periodOf(query);
    const figures = await this.figures(query.filter, period, sightOf(caller));
    const inForce = new Map(this.rulesInForce(caller).map((named) => [named.rule.id, named]));
    const views = [...new Set([...figures.keys(), ...inForce.keys()])].map((id): RuleCostView => {
      const found = figures.get(id);
      const named = inForce.get(id) ?? this.known(id, found?.policy ?? '');
      const sums = found?.sums ?? NO_RULE_FIGURES;
      return {
        ...named,
        published: inForce.has(id),
        figures: sums,
        remarks: remarksOnRule(sums),
        minutesToDecide: found?.minutes ?? null,
        filter: this.reading.line(this.reading.filter(query.filter), period, {
          field: 'rule',
          value: this.names.wordFor('rule', id),
        }),
      };
    });
    return views.sort(
      (one, other) => byPrice(one.figures, other.figures) || one.rule.name.localeCompare(other.rule.name),
    );
  }

  /** What people said when a rule stopped or asked them, word for word. */
  async reasons(query: RuleReasonsQuery, sight: Sight): Promise<ReasonView[]> {
    const { from, where, values } = this.matches(this.reading.filter(query.filter), periodOf(query), sight);
    const rows = await this.manager.query<
      { kind: ReasonView['kind']; text: string; n: string; incident: number }[]
    >(
      `SELECT h.kind AS kind, h.text AS text, COUNT(DISTINCT i.number) AS n, MAX(i.number) AS incident
       FROM ${from} JOIN incident_history h ON h.incidentNumber = i.number
       WHERE ${where} AND x.ruleId = ?
       AND h.kind IN ('reply', 'override') AND h.text IS NOT NULL
       GROUP BY h.kind, h.text ORDER BY n DESC, incident DESC LIMIT ?`,
      [...values, query.rule, MOST_REASONS],
    );
    return rows.map(({ kind, text, n, incident }) => {
      const [, about = '', words = text] = /^([^:]{1,40}): (.*)$/su.exec(text) ?? [];
      return { kind, about, words, count: Number(n), incident: Number(incident) };
    });
  }

  /** Figures of every rule with a match in a period, by rule. */
  async figures(
    line: string | undefined,
    period: Period,
    sight: Sight,
  ): Promise<
    Map<string, { readonly policy: string; readonly sums: RuleFigures; readonly minutes: number | null }>
  > {
    const looking = { listed: 'matches' as const, sight, now: new Date() };
    const counted = await this.counts.ask(this.queue.read(line), looking, {
      kind: 'rules',
      ...{ from: period.from, to: period.to, now: looking.now.getTime() },
    });
    if (counted)
      return new Map(
        counted.map(({ rule, policy, figures, minutes }) => [rule, { policy, sums: figures, minutes }]),
      );
    // Tests are counted beside the rest here, so that a rule which only they trip is not called unused.
    const source = this.matches(this.queue.read(line), period, sight);
    const week = this.matches(this.queue.read(line), { from: period.from, to: period.to + WEEK_MS }, sight);
    const sums = await figuresOf(this.manager, source);
    const answers = await answersOf(this.manager, source);
    const repeats = await repeatsOf(this.manager, week, period);
    const times = await timesOf(this.manager, source);
    return new Map(
      [...sums].map(([rule, { policy, ...figures }]) => [
        rule,
        {
          policy,
          sums: { ...NO_RULE_FIGURES, ...figures, ...answers.get(rule), ...repeats.get(rule) },
          minutes: times.get(rule) ?? null,
        },
      ]),
    );
  }

  private matches(filter: Filter, period: Period, sight: Sight): FromMatches {
    const looking = { listed: 'matches' as const, sight, now: new Date() };
    const { sql, values } = this.counts.where(allOf([within(period), filter]), looking);
    const [from, where] = divided(sql);
    return { from, where, values };
  }

  private rulesInForce(caller: Pick<Caller, 'permissions'>): NamedRule[] {
    const document = this.published.current?.document;
    if (!document) return [];
    return setSeenBy(document, caller).policies.flatMap((policy) =>
      policy.rules.map((rule) => ({
        policy: { id: policy.id, name: policy.name },
        rule: { id: rule.id, name: rule.name || `Rule of ${policy.name}` },
      })),
    );
  }

  private known(rule: string, policy: string): NamedRule {
    return {
      policy: { id: policy, name: this.names.nameOf('policy', policy) },
      rule: { id: rule, name: this.names.nameOf('rule', rule) },
    };
  }
}

const WEEK_MS = 7 * 86_400_000;
