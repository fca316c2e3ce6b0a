import { PatternNames } from '../patterns/pattern-names.js';
import type { CeilingRecord, CoverageView } from '@lantern/contracts';
import { type PatternKind, READY_PATTERNS } from '@lantern/core/detection';
import { SILENT_FOR_MS } from '@lantern/core/insight';
import { type Channel, CHANNELS } from '@lantern/core/movement';
import { coverage, NO_POLICIES, patternsOfRule } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, Not } from 'typeorm';
import { Guarding } from '../discovery/watching/guarding.service.js';
import { AgentEntity } from '../doors/agents/agent.entity.js';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import { labelsOf } from '../published/published-labels.js';
import { ChannelSettings } from '../movements/channels/channel-settings.service.js';
import { SubmissionEntity } from '../movements/submission.entity.js';
import { CONFIG, type Config } from '../platform/config.js';
import { GatewayServer } from '../doors/smtp/gateway.server.js';
import { HistoryEntity, IncidentEntity, MatchEntity, MovementEntity } from '../incidents/incident.entity.js';
import { factsOf, PeopleService } from '../directory/people.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { PendingService } from '../movements/pending/pending.service.js';
import { DraftSetService } from '../policies/draft-set.service.js';
import { setOf } from '../published/revision.entity.js';
import { PublishedRevision } from '../published/published-revision.js';
import { setSeenBy } from '../published/silence.js';

/** Incidents that a ceiling's record looks back over. */
const LOOKED_BACK = 5_000;
const SAID_AT_MOST = 20;

/** What the policies do today, and what ceilings keep them from doing. */
@Injectable()
export class CoverageService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly published: PublishedRevision,
    private readonly drafts: DraftSetService,
    private readonly names: PatternNames,
    private readonly people: PeopleService,
    private readonly waiting: PendingService,
    private readonly gateway: GatewayServer,
    private readonly settings: ChannelSettings,
    private readonly labels: LabelDraftsService,
    private readonly guarding: Guarding,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** By the revision in force, or by the drafts. Patterns no rule asks for are named as gaps of their kind. */
  async view(side: 'published' | 'drafts', caller: Caller): Promise<CoverageView> {
    const document = this.published.current?.document;
    const whole = side === 'drafts' ? await this.drafts.set() : document ? setOf(document) : NO_POLICIES;
    const set = setSeenBy(whole, caller);
    const asked = new Set(set.policies.flatMap(({ rules }) => rules.flatMap(patternsOfRule)));
    const names = await this.names.all();
    const ready = new Map(READY_PATTERNS.map((pattern) => [String(pattern.id), pattern.kind]));
    const patterns = [...names]
      .filter(([id]) => asked.has(id) || !ready.has(id))
      .map(([id, name]) => ({ id, name, kind: ready.get(id) ?? 'own' }));
    const people = (await this.people.all()).map(factsOf);
    const labels = side === 'drafts' ? await this.labels.set() : labelsOf(document);
    const request = { set, labels, channels: [...CHANNELS], people, at: Date.now() };
    const unasked = unaskedKinds(asked);
    const cells = coverage({
      ...request,
      patterns: [...patterns.map(({ id }) => id), ...unasked.map(({ first }) => first)],
    });
    const doors = await Promise.all(CHANNELS.map((channel) => this.doorOf(channel)));
    return { patterns, unasked, cells, people: people.length, doors };
  }

  /** What takes movements on a channel now: the gateway, stand-ins, agents that were heard of; and what it does with
   * what cannot be read in time. */
  private async doorOf(channel: Channel): Promise<CoverageView['doors'][number]> {
    const agents = await this.agentsOn(channel);
    const { machines, gaps } =
      channel === 'endpoint' ? await this.guarding.state() : { machines: 0, gaps: [] };
    const watching =
      machines - new Set(gaps.filter(({ code }) => code === 'silent').map(({ name }) => name)).size;
    const ways = [
      ...(channel === 'mail' && this.gateway.door.open
        ? [`the SMTP gateway on port ${this.gateway.door.port}`]
        : []),
      ...(this.config.standIns ? ['the stand-in of the demo'] : []),
      ...agents.filter(({ isHeard }) => isHeard).map(({ name }) => `agent "${name}"`),
      ...(watching > 0
        ? [`${watching} ${watching === 1 ? 'machine that watches' : 'machines that watch'} folders`]
        : []),
    ];
    const shut =
      channel === 'mail' && !this.gateway.door.open
        ? ` The SMTP gateway could not open port ${this.gateway.door.port}.`
        : '';
    return {
      channel,
      open: ways.length > 0,
      why: `${ways.length > 0 ? `Open: ${ways.join(', ')}.` : 'No door is open for this channel.'}${shut}`,
      gaps: [
        ...agents.flatMap(({ isHeard, name, lastSeen }) =>
          isHeard ? [] : [{ name, code: 'silent' as const, paths: [], lastSeen, isMachine: false }],
        ),
        ...gaps.map((gap) => ({ ...gap, lastSeen: timeOf(gap.lastSeen), isMachine: true })),
      ],
      unfinished: this.settings.unfinished(channel),
      seconds: this.settings.seconds(channel),
    };
  }

  /** Agents that handed in movements of a channel, and whether they were heard of in the last day. */
  private async agentsOn(
    channel: Channel,
  ): Promise<{ readonly name: string; readonly isHeard: boolean; readonly lastSeen: string | null }[]> {
    const since = Date.now() - SILENT_FOR_MS;
    const agents = await this.manager.find(AgentEntity, {
      where: { revokedAt: IsNull(), lastSeen: Not(IsNull()) },
      order: { name: 'ASC' },
    });
    const found = await Promise.all(
      agents.map(async ({ id, name, lastSeen }) => {
        const hands = await this.manager.existsBy(SubmissionEntity, { submitter: id, channel });
        const at = lastSeen?.getTime() ?? 0;
        return hands ? [{ name, isHeard: at > since, lastSeen: timeOf(at) }] : [];
      }),
    );
    return found.flat();
  }

  /** What the ceilings of a policy caught, and what the people said for whom it is as written. */
  async ceilingRecord(policyId: string): Promise<CeilingRecord> {
    const matches = await this.manager.find(MatchEntity, {
      where: { policyId },
      order: { id: 'DESC' },
      take: LOOKED_BACK,
    });
    const cut = matches.filter((match) => match.cut === 'ceiling' && match.written !== match.answer);
    const counts: Record<string, number> = {};
    for (const { written, answer } of cut) counts[written ?? answer] = (counts[written ?? answer] ?? 0) + 1;
    const numbers = [...new Set(cut.map(({ incidentNumber }) => incidentNumber))];
    const incidents = numbers.length
      ? await this.manager.findBy(IncidentEntity, { number: In(numbers) })
      : [];
    const movements = cut.length
      ? await this.manager.find(MovementEntity, {
          where: { id: In([...new Set(cut.map(({ movementId }) => movementId))]) },
          select: { id: true, personAddress: true },
        })
      : [];
    const decided = (outcome: string): number => incidents.filter((each) => each.outcome === outcome).length;
    return {
      cut: counts,
      people: new Set(movements.map(({ personAddress }) => personAddress)).size,
      decided: {
        falsePositive: decided('false-positive'),
        allowed: decided('allowed'),
        harm: decided('harm'),
      },
      ...(await this.pilot(matches.filter((match) => match.cut === null))),
    };
  }

  private async pilot(matches: readonly MatchEntity[]): Promise<Pick<CeilingRecord, 'pilot' | 'said'>> {
    const numbers = [...new Set(matches.map(({ incidentNumber }) => incidentNumber))];
    if (numbers.length === 0) return { pilot: { wentOn: 0, takenBack: 0, refused: 0 }, said: [] };
    const waited = await this.waiting.ofIncidents(numbers);
    const state = (wanted: string): number => waited.filter((entry) => entry.state === wanted).length;
    const said = await this.manager.find(HistoryEntity, {
      where: { incidentNumber: In(numbers), kind: In(['reply', 'override']) },
      order: { id: 'DESC' },
      take: SAID_AT_MOST,
    });
    return {
      pilot: { wentOn: state('went-on'), takenBack: state('taken-back'), refused: state('refused') },
      said: said.flatMap(({ text }) => (text ? [text] : [])),
    };
  }
}

/** Kinds of ready patterns that no rule asks for, with how many there are and one to begin with. */
function unaskedKinds(asked: ReadonlySet<string>): CoverageView['unasked'] {
  const kinds = new Map<PatternKind, { patterns: number; first: string }>();
  for (const { id, kind } of READY_PATTERNS) {
    if (asked.has(id)) continue;
    const known = kinds.get(kind) ?? { patterns: 0, first: id };
    kinds.set(kind, { ...known, patterns: known.patterns + 1 });
  }
  return [...kinds].map(([kind, counts]) => ({ kind, ...counts }));
}

const timeOf = (at: number | null): string | null => (at === null ? null : new Date(at).toISOString());
