import { randomUUID } from 'node:crypto';
import {
  incidentOf,
  type IncidentSummary,
  type InspectedMovement,
  type PolicySet,
  type Verdict,
} from '@lantern/core';
import { Inject, Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { DeskMessages } from '../channels/mail/desk-messages.service.js';
import type { InspectedItemPart } from '../inspection/inspect-item.js';
import { JournalService } from '../journal/journal.service.js';
import { CONFIG, type Config } from '../platform/config.js';
import { sealJson } from '../platform/sealing.js';
import { toStoredEvidence } from './evidence.js';
import {
  EvidenceEntity,
  HistoryEntity,
  IncidentEntity,
  MatchEntity,
  MovementEntity,
  type MovementWay,
} from './incident.entity.js';

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

/** Place that evidence is sealed to. */
export function evidencePlace(movementId: string): string {
  return `evidence ${movementId}`;
}

@Injectable()
export class RecorderService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly journal: JournalService,
    private readonly desk: DeskMessages,
  ) {}

  /** Writes movement, matches, incident and evidence within the caller's transaction. Announce it after the commit. */
  async record(
    manager: EntityManager,
    judged: JudgedMovement,
  ): Promise<{ movementId: string; incident: number | null }> {
    const movementId = randomUUID();
    await manager.insert(MovementEntity, toMovement(movementId, judged));
    const { movement, revision } = judged;
    const texts = judged.inspected.map(({ text }) => text);
    await this.journal.keep(manager, { id: movementId, movement, texts, revision });
    const summary = incidentOf(judged.movement, judged.verdict);
    if (!summary) return { movementId, incident: null };
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
    }));
    await manager.insert(MatchEntity, matches);
    const evidence = toStoredEvidence(judged.inspected, keepsExcerpts(judged));
    const sealed = sealJson(this.config.evidenceKey, evidencePlace(movementId), evidence);
    await manager.insert(EvidenceEntity, { movementId, sealed });
    await manager.insert(HistoryEntity, {
      incidentNumber: incident.number,
      at: judged.at,
      actor: 'Uncut Lantern',
      kind: 'recorded',
      act: null,
      text: null,
    });
    await this.desk.tell(manager, {
      incident: incident.number,
      at: judged.at,
      matches: summary.matches,
      set: judged.set,
    });
    return { movementId, incident: incident.number };
  }
}

/** Excerpts are kept where any rule that held wants them. */
function keepsExcerpts({ verdict, set }: JudgedMovement): boolean {
  const rules = new Map(
    set.policies.flatMap(({ rules: all }) => all.map((rule) => [rule.id, rule] as const)),
  );
  return verdict.matches.some((match) => rules.get(match.rule)?.keep !== 'counts');
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
    personName: person.name,
    department: person.department,
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
    matches: summary.matches.length,
    verdict: judged.verdict,
    reported: false,
    told: judged.notice?.text || null,
    silent: judged.verdict.matches.some((match) => match.silent),
    assignee: null,
    version: 1,
  };
}
