import { CHANNELS, type Channel } from '@lantern/core/movement';
import { coverage, patternsOfRule, type PolicySet } from '@lantern/core/policy';
import type { RuleFigures, StateFacts } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import { AgentEntity } from '../../doors/agents/agent.entity.js';
import { PendingEntity } from '../../movements/pending/pending.entity.js';
import { SpecimensService } from '../../patterns/specimens.service.js';
import { labelsOf } from '../../published/published-labels.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { type RevisionDocument, setOf } from '../../published/revision.entity.js';
import { RevisionsService } from '../../revisions/revisions.service.js';
import { FurtherFacts } from './further-facts.js';
import { RuleCosts } from '../figures/rule-costs.service.js';

const DAY_MS = 86_400_000;
/** Days that figures are taken over. */
export const LOOKED_BACK_DAYS = 28;
/** Days over which decisions about the same case are compared. */
const COMPARED_DAYS = 84;
const MOST_NUMBERS = 40;

/** Reads the state that improvements are computed from. */
@Injectable()
export class StateReader {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly published: PublishedRevision,
    private readonly revisions: RevisionsService,
    private readonly people: PeopleService,
    private readonly specimens: SpecimensService,
    private readonly costs: RuleCosts,
    private readonly further: FurtherFacts,
  ) {}

  /** Null before anything is published: everything is still to be done. */
  async read(now = Date.now()): Promise<StateFacts | null> {
    const current = this.published.current;
    if (!current) return null;
    const { document } = current;
    const period = { from: now - LOOKED_BACK_DAYS * DAY_MS, to: now };
    const figures = await this.costs.figures(undefined, period, { silent: true, limits: null });
    return {
      now,
      policies: document.policies,
      labels: labelsOf(document).labels,
      offers: labelsOf(document).offers,
      rules: new Map([...figures].map(([rule, { sums }]): [string, RuleFigures] => [rule, sums])),
      publishedAt: await this.firstPublished(),
      coverage: await this.coverage(document, now),
      movements: await this.movements(period.from),
      lateRequests: await this.lateRequests(now),
      overdue: await this.overdue(now),
      agents: await this.agents(),
      ...(await this.further.read(new Date(now))),
      failingSpecimens: await this.specimens.failing(document.patterns),
      draft: await this.draft(),
      differently: await this.differently(now - COMPARED_DAYS * DAY_MS),
    };
  }

  private async firstPublished(): Promise<number | null> {
    const [row] = await this.manager.query<{ at: Date | null }[]>(
      'SELECT MIN(publishedAt) AS at FROM revision',
    );
    return row?.at ? new Date(row.at).getTime() : null;
  }

  /** What happens to each kind of data that some rule asks for, on every channel. */
  async coverage(document: RevisionDocument, at: number): Promise<StateFacts['coverage']> {
    const set: PolicySet = setOf(document);
    const asked = new Set(set.policies.flatMap(({ rules }) => rules.flatMap(patternsOfRule)));
    const people = (await this.people.all()).map(factsOf);
    return coverage({
      ...{ set, labels: labelsOf(document), patterns: [...asked], channels: [...CHANNELS], people, at },
    });
  }

  private async movements(from: number): Promise<StateFacts['movements']> {
    const rows = await this.manager.query<{ channel: Channel; n: string }[]>(
      'SELECT channel, COUNT(*) AS n FROM movement WHERE at >= ? AND test = 0 GROUP BY channel',
      [new Date(from)],
    );
    return Object.fromEntries(rows.map(({ channel, n }) => [channel, Number(n)]));
  }

  private async lateRequests(now: number): Promise<number[]> {
    const waiting = await this.manager.find(PendingEntity, {
      where: { state: 'waiting' },
      select: { id: true, kind: true, since: true, deadline: true },
    });
    return waiting
      .filter(({ kind }) => kind !== 'ask')
      .filter(({ since, deadline }) => (deadline?.getTime() ?? since.getTime() + DAY_MS) < now)
      .map(({ since }) => since.getTime());
  }

  private async overdue(now: number): Promise<number> {
    const [row] = await this.manager.query<{ n: string }[]>(
      "SELECT COUNT(*) AS n FROM incident WHERE status <> 'decided' AND test = 0 AND silent = 0 AND dueAt < ?",
      [new Date(now)],
    );
    return Number(row?.n ?? 0);
  }

  private async agents(): Promise<StateFacts['agents']> {
    const found = await this.manager.find(AgentEntity, {
      where: { revokedAt: IsNull() },
      order: { name: 'ASC' },
    });
    return found.map(({ id, name, createdAt, lastSeen }) => ({
      ...{ id, name, created: createdAt.getTime(), lastSeen: lastSeen?.getTime() ?? null },
    }));
  }

  private async draft(): Promise<StateFacts['draft']> {
    const { changes } = await this.revisions.outline();
    if (changes.length === 0) return null;
    const [row] = await this.manager.query<{ at: Date | null }[]>(
      `SELECT MAX(at) AS at FROM (SELECT MAX(updatedAt) AS at FROM policy_draft UNION ALL SELECT MAX(updatedAt) FROM set_part
       UNION ALL SELECT MAX(updatedAt) FROM own_pattern UNION ALL SELECT MAX(updatedAt) FROM adjusted_pattern
       UNION ALL SELECT MAX(updatedAt) FROM label_part) AS drafts`,
    );
    return row?.at ? { changes: changes.length, since: new Date(row.at).getTime() } : null;
  }

  /** Incidents with the same text by the same rules, of which some were called false and some were not. */
  private async differently(from: number): Promise<StateFacts['differently']> {
    const groups = await this.manager.query<{ numbers: string }[]>(
      `SELECT GROUP_CONCAT(number ORDER BY number DESC) AS numbers FROM incident
       WHERE at >= ? AND outcome IS NOT NULL AND signature IS NOT NULL AND silent = 0 AND test = 0
       GROUP BY alikeKey, signature HAVING COUNT(DISTINCT outcome = 'false-positive') > 1 LIMIT 500`,
      [new Date(from)],
    );
    const numbers = groups.flatMap((group) => group.numbers.split(',').map(Number));
    return { groups: groups.length, numbers: numbers.slice(0, MOST_NUMBERS) };
  }
}
