import { randomUUID } from 'node:crypto';
import type { PreventOption, PreventRequest, PreventView } from '@lantern/contracts/insight';
import type { OwnPattern } from '@lantern/core/detection';
import {
  byEffect,
  type DecidedRules,
  effectOf,
  isPatternChange,
  type PreventingChange,
  propose,
  shownChange,
  type WeighedCase,
  withPatternChange,
} from '@lantern/core/insight';
import { patternsOfRule, type Policy, type Rule } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { incidentRows, type Source } from '../../incidents/queue/rows.js';
import { compiled } from '../../platform/processes/compiled.js';
import { SpecimensService } from '../../patterns/specimens.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { type Sight, sightOf } from '../../platform/auth/sight.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { stable } from '../../published/draft-state.js';
import { labelsOf } from '../../published/published-labels.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { type RevisionDocument, setOf } from '../../published/revision.entity.js';
import { RevisionsService } from '../../revisions/revisions.service.js';
import { Recent } from '../recent.js';
import { matchedBy, type MatchedIncident } from './false-positives.js';
import { type KeptRow, keptRows, LOOK_BACK_DAYS } from '../kept-movements.js';
import { JournalPool } from '../journal-pool.js';
import type { JudgeTask, PreventData, ReadRow } from './prevent-tasks.js';
import { Targets } from './targets.service.js';

/** One computation, with what taking a change needs. */
export interface Computed {
  readonly view: PreventView;
  /** The changes with their values, in the order of the view. */
  readonly changes: readonly PreventingChange[];
  readonly incident: number | null;
  /** Movements called false and real ones, the newest first. */
  readonly wrong: readonly string[];
  readonly real: readonly string[];
}

/** What is decided under each change; null where it cannot be told. */
type Decisions = readonly (DecidedRules | null)[];

interface Material {
  readonly document: RevisionDocument;
  readonly policy: Policy;
  readonly rule: Rule;
  readonly matched: readonly MatchedIncident[];
  readonly kept: readonly KeptRow[];
  readonly pool: JournalPool;
}

/** Changes that would have prevented false positives, each computed on the journal before anybody makes it. */
@Injectable()
export class Prevent {
  private readonly computed = new Recent<Computed>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly targets: Targets,
    private readonly revisions: RevisionsService,
    private readonly published: PublishedRevision,
    private readonly specimens: SpecimensService,
  ) {}

  /** Throws `not-found` where no rule of the drafts made the false positives. */
  async options(request: PreventRequest, caller: Caller): Promise<PreventView> {
    const sight = sightOf(caller);
    const target = await this.targets.find(request, sight);
    const document = await this.revisions.document();
    const policy = document.policies.find(({ rules }) => rules.some(({ id }) => id === target.rule));
    const rule = policy?.rules.find(({ id }) => id === target.rule);
    if (!policy || !rule)
      throw new AppError('not-found', 'The drafts no longer have the rule that made these incidents.');
    const matched = await matchedBy(this.manager, rule.id, sight);
    const asked = patternsOfRule(rule);
    const own = document.patterns.filter(({ id }) => asked.includes(id));
    const kept = await keptRows(
      this.source,
      matched.map(({ movementId }) => movementId),
      own.length > 0,
    );
    const pool = this.poolOf(document, asked);
    try {
      const material = { document, policy, rule, matched, kept: [...kept.values()], pool };
      const { options, read } = await this.compute(material, new Set(target.incidents), sight);
      const shown = options.map((option) => ({ ...option, change: shownChange(option.change) }));
      const view = this.viewOf(material, shown, read);
      const changes = options.map(({ change }) => change);
      const computed = { view, changes, incident: target.incident, ...sides(material) };
      this.computed.keep(view.computed, caller.accountId, computed);
      return view;
    } finally {
      pool.destroy();
    }
  }

  /** Where kept movements are read from. */
  get source(): Source {
    return { manager: this.manager, keys: this.config.keys };
  }

  /** A computation of the caller; throws `not-found` for another's, and for one that was too long ago. */
  find(id: string, { accountId }: Caller): Computed {
    return this.computed.find(id, accountId);
  }

  poolOf(document: RevisionDocument, asked: readonly string[]): JournalPool {
    const data: PreventData = {
      set: setOf(document),
      labels: labelsOf(document),
      own: document.patterns,
      asked,
    };
    return new JournalPool(compiled('./prevent-tasks.js', import.meta.url), data);
  }

  private async compute(
    { document, rule, matched, kept, pool }: Material,
    targets: ReadonlySet<number>,
    sight: Sight,
  ): Promise<{ readonly options: PreventOption[]; readonly read: number }> {
    const read = await pool.each<KeptRow, ReadRow>('read', kept);
    const cases = matched.flatMap((one) => {
      const row = read.get(one.movementId);
      return row ? [{ ...one, ...row }] : [];
    });
    const facts = cases.map(({ facts: each, outcome }) => ({ ...each, outcome }));
    const changes = propose(facts, rule, document.patterns);
    const after = await pool.each<KeptRow, Decisions>(
      'judge',
      kept,
      (rows) => ({ rows, changes }) satisfies JudgeTask,
    );
    const options: PreventOption[] = [];
    for (const [index, change] of changes.entries()) {
      const weighed = cases.map((one) => ({
        ...{ id: one.movementId, outcome: one.outcome, person: one.person, day: one.day },
        before: one.decided,
        after: after.get(one.movementId)?.[index] ?? null,
      }));
      const gone = goneFrom(rule.id, weighed);
      const hit = cases.filter(
        ({ number, movementId }) => targets.has(number) && gone.has(movementId),
      ).length;
      if (hit === 0) continue;
      const effect = effectOf(rule.id, weighed);
      options.push({
        ...{ change, effect, targets: { gone: hit, of: targets.size } },
        letThrough: await this.rows(effect.letThrough, cases, sight),
        brokenSpecimens: isPatternChange(change) ? await this.broken(document.patterns, change) : null,
      });
    }
    options.sort((one, other) => byEffect(one.effect, other.effect));
    return { options, read: read.size };
  }

  private async rows(ids: readonly string[], cases: readonly MatchedIncident[], sight: Sight) {
    const numbers = new Map(cases.map(({ movementId, number }) => [movementId, number]));
    const wanted = ids.flatMap((id) => numbers.get(id) ?? []);
    return incidentRows(this.source, wanted, sight, new Date());
  }

  private async broken(patterns: readonly OwnPattern[], change: PreventingChange): Promise<number> {
    if (!isPatternChange(change)) return 0;
    if ((await this.specimens.list(change.pattern)).length === 0) return 0;
    const changed = patterns.map((pattern) =>
      pattern.id === change.pattern ? (withPatternChange(pattern, change) ?? pattern) : pattern,
    );
    return (await this.specimens.broken(changed, patterns)).length;
  }

  private viewOf(
    { policy, rule, matched }: Material,
    options: readonly PreventOption[],
    judged: number,
  ): PreventView {
    const published = this.published.current?.document.policies.find(({ id }) => id === policy.id);
    return {
      computed: randomUUID(),
      policy: { id: policy.id, name: policy.name },
      rule: { id: rule.id, name: rule.name || `Rule of ${policy.name}` },
      days: LOOK_BACK_DAYS,
      matches: matched.length,
      judged,
      options,
      drafted: stable(published?.rules.find(({ id }) => id === rule.id) ?? null) !== stable(rule),
    };
  }
}

/** Movements that the journal keeps, called false and real. */
function sides({ matched, kept }: Material): Pick<Computed, 'wrong' | 'real'> {
  const known = new Set(kept.map(({ id }) => id));
  const of = (...outcomes: readonly MatchedIncident['outcome'][]) =>
    matched
      .filter(({ outcome, movementId }) => outcomes.includes(outcome) && known.has(movementId))
      .map(({ movementId }) => movementId);
  return { wrong: of('false-positive'), real: of('allowed', 'harm') };
}

/** Movements that a rule would no longer match. */
function goneFrom(rule: string, cases: readonly WeighedCase[]): Set<string> {
  return new Set(
    cases
      .filter(({ before, after }) => before.rules.includes(rule) && after && !after.rules.includes(rule))
      .map(({ id }) => id),
  );
}
