import { incidentOf, type IncidentSummary } from '@lantern/core/incidents';
import { type InspectedMovement } from '@lantern/core/movement';
import { type PolicySet, type Verdict, weigh, withLabelMatches } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { MatchMails } from './notice/match-mails.service.js';
import type { InspectedItemPart } from '../inspection/inspect-item.js';
import { JournalEntity } from '../journal/journal.entity.js';
import { JournalService } from '../journal/journal.service.js';
import { CONFIG, type Config } from '../platform/config.js';
import { sealJson } from '../platform/sealing.js';
import { evidencePlace, toStoredEvidence } from '../incidents/evidence.js';
import {
  EvidenceEntity,
  HistoryEntity,
  IncidentEntity,
  MatchEntity,
  MovementEntity,
  type MovementWay,
} from '../incidents/incident.entity.js';

/** A judged movement, ready to be written down. */
export interface JudgedMovement {
  readonly movement: InspectedMovement;
  readonly person: { readonly name: string; readonly department: string };
  readonly at: Date;
  readonly inspected: readonly InspectedItemPart[];
  readonly verdict: Verdict;
  readonly revision: number | null;
  readonly contentDigest: string | null;
  /** What the person is told; left out or null where nobody is. */
  readonly notice?: { readonly text: string } | null;
  /** What the person did, where the channel tells. */
  readonly activity?: string;
  /** By which it was judged. */
  readonly set: PolicySet;
}

/** What is written down of a movement, sealed. */
export interface PreparedRecord {
  readonly movementId: string;
  readonly journal: JournalEntity;
  /** Null where no rule held and no label forbade anything: then there is no incident. */
  readonly summary: IncidentSummary | null;
  readonly evidence: Buffer | null;
}

@Injectable()
export class RecorderService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly journal: JournalService,
    private readonly mails: MatchMails,
  ) {}

  /** Seals what is kept of a movement, before the transaction that writes it down. */
  async prepare(movementId: string, judged: JudgedMovement): Promise<PreparedRecord> {
    const { movement, revision } = judged;
    const texts = judged.inspected.map(({ text }) => text);
    const journal = await this.journal.sealed({ id: movementId, movement, texts, revision });
    const summary = incidentOf(judged.movement, judged.verdict);
    if (!summary) return { movementId, journal, summary, evidence: null };
    const evidence = toStoredEvidence(judged.inspected, keepsExcerpts(judged));
    const place = evidencePlace(movementId);
    return {
      movementId,
      journal,
      summary,
      evidence: await sealJson(this.config.evidenceKey, place, evidence),
    };
  }

  /** Writes movement, matches, incident and evidence within the caller's transaction. Gives the incident's number. */
  async record(
    manager: EntityManager,
    judged: JudgedMovement,
    { movementId, journal, summary, evidence }: PreparedRecord,
  ): Promise<number | null> {
    await manager.insert(MovementEntity, toMovement(movementId, judged));
    await manager.insert(JournalEntity, journal);
    if (!summary || !evidence) return null;
    const incident = await manager.save(
      manager.create(IncidentEntity, toIncident(movementId, judged, summary)),
    );
    const matches = summary.matches.map((match) => ({
      movementId,
      incidentNumber: incident.number,
      policyId: match.policy,
      ruleId: match.rule,
      answer: match.answer,
      severity: match.severity,
      written: match.written,
      cut: match.cut,
      silent: match.silent,
    }));
    const forbidden = summary.forbidden.map((match) => ({
      movementId,
      incidentNumber: incident.number,
      labelId: match.label.id,
      effect: match.effect,
      answer: match.answer,
      severity: match.severity,
    }));
    await manager.insert(MatchEntity, [...matches, ...forbidden]);
    await manager.insert(EvidenceEntity, { movementId, sealed: evidence });
    await manager.insert(HistoryEntity, {
      incidentNumber: incident.number,
      at: judged.at,
      actor: 'Uncut Lantern',
      kind: 'recorded',
      act: null,
      text: null,
    });
    await this.mails.tell(manager, {
      incident: incident.number,
      at: judged.at,
      matches: summary.matches,
      set: judged.set,
    });
    return incident.number;
  }
}

/** Longest name of a person that a movement keeps; somebody unknown goes by an address, which may be longer. */
const NAME_LENGTH = 120;

/** Excerpts are kept where any rule that held wants them. */
function keepsExcerpts({ verdict, set }: JudgedMovement): boolean {
  const rules = new Map(
    set.policies.flatMap(({ rules: all }) => all.map((rule) => [rule.id, rule] as const)),
  );
  return (
    verdict.forbidden !== undefined ||
    verdict.matches.some((match) => rules.get(match.rule)?.keep !== 'counts')
  );
}

function toMovement(
  id: string,
  { movement, person, at, revision, verdict, contentDigest, activity }: JudgedMovement,
): MovementEntity {
  return {
    id,
    channel: movement.channel,
    at,
    personAddress: movement.sender.address,
    personName: person.name.slice(0, NAME_LENGTH),
    department: person.department.slice(0, NAME_LENGTH),
    recipients: movement.recipients.map(({ address, outside }) => ({ address, outside })),
    revision,
    answer: verdict.answer,
    contentDigest,
    way: wayOf(movement, activity),
  };
}

/** Out of what, into what, over what: no content. */
function wayOf(
  { from, into, link, connection, machine, network }: InspectedMovement,
  activity: string | undefined,
): MovementWay {
  return {
    activity: activity ?? null,
    from: from ?? [],
    into: into ?? [],
    link: link ?? null,
    connection: connection ?? null,
    machine: machine ?? null,
    network: network ?? null,
  };
}

function toIncident(
  movementId: string,
  judged: JudgedMovement,
  summary: IncidentSummary,
): Omit<IncidentEntity, 'number'> {
  return {
    movementId,
    at: judged.at,
    status: 'new',
    outcome: null,
    lookedFor: null,
    allRight: null,
    cause: null,
    severity: summary.severity,
    urgency: summary.urgency.total,
    urgencyParts: summary.urgency,
    counts: [...summary.counts],
    unreadableParts: summary.unreadableParts,
    matches: summary.matches.length + summary.forbidden.length,
    verdict: judged.verdict,
    reported: false,
    told: judged.notice?.text || null,
    ...openSide(judged, summary),
    assignee: null,
    version: 1,
  };
}

/** How an incident looks to those who may not see the silent matches in it; nothing where it has no others. */
function openSide(
  { movement, verdict }: JudgedMovement,
  { matches, forbidden }: IncidentSummary,
): Pick<
  IncidentEntity,
  'silent' | 'openSeverity' | 'openUrgency' | 'openUrgencyParts' | 'openMatches' | 'openAnswer'
> {
  const open = matches.filter(({ silent }) => !silent);
  // What reading did not finish says is nobody's silent rule.
  const silent =
    matches.some((match) => match.silent) && open.length + forbidden.length === 0 && !verdict.unfinished;
  const seen = open.length < matches.length && !silent ? incidentOf(movement, withoutSilent(verdict)) : null;
  return {
    silent,
    openSeverity: seen?.severity ?? null,
    openUrgency: seen?.urgency.total ?? null,
    openUrgencyParts: seen?.urgency ?? null,
    openMatches: seen ? seen.matches.length + seen.forbidden.length : null,
    openAnswer: seen?.answer ?? null,
  };
}

/** A verdict as it would be without its silent rules. */
function withoutSilent(verdict: Verdict): Verdict {
  const open = weigh(verdict.matches.filter(({ silent }) => !silent));
  return { ...verdict, ...withLabelMatches(open, verdict.forbidden ?? []) };
}
