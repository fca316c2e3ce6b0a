import type { MovementWayView } from '@lantern/contracts';
import { incidentOf, type IncidentSummary } from '@lantern/core/incidents';
import type { InspectedMovement } from '@lantern/core/movement';
import {
  bytesMoved,
  goesOutside,
  rowsTaken,
  type Verdict,
  weigh,
  withLabelMatches,
} from '@lantern/core/policy';
import type { EntityManager } from 'typeorm';
import type { IncidentEntity, MatchEntity, MovementEntity } from '../incidents/incident.entity.js';
import { TraitEntity } from '../incidents/queue/trait.entity.js';
import { insertOnly } from '../platform/database/insert-only.js';
import { maskedName, type SharedColumns, sharedColumns, type traitsOf } from './record-facts.js';
import type { JudgedMovement } from './recorder.service.js';
import { stateAfter } from './submission.js';

/** The rules that held and the labels that forbade it, as they are written down. */
export function matchesOf(
  movementId: string,
  incidentNumber: number,
  summary: IncidentSummary,
): Partial<MatchEntity>[] {
  const matches = summary.matches.map((match) => ({
    movementId,
    incidentNumber,
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
    incidentNumber,
    labelId: match.label.id,
    effect: match.effect,
    answer: match.answer,
    severity: match.severity,
  }));
  return [...matches, ...forbidden];
}

/**
 * Whether the content is kept as it was. Where reading did not finish, no rule may have matched, and the original is all
 * that an analyst can look at.
 */
export function keepsOriginal(judged: Pick<JudgedMovement, 'verdict' | 'set' | 'reportedBy'>): boolean {
  return judged.verdict.matches.length === 0 || keepsExcerpts(judged);
}

/** An incident before the database numbers it. */
export type NewIncident = Omit<
  IncidentEntity,
  'number' | 'sealedVerdict' | 'caseNumber' | 'caseValues' | 'signature' | 'signatureSize' | 'alikeKey'
>;

export async function insertTraits(
  manager: EntityManager,
  traits: ReturnType<typeof traitsOf>,
  of: Pick<TraitEntity, 'movementId' | 'incidentNumber'>,
): Promise<void> {
  await insertOnly(
    manager,
    TraitEntity,
    traits.map((trait) => ({ ...of, ...trait })),
  );
}

/** Hashes are looked up and never read: they need no entity. */
export async function insertHashes(
  manager: EntityManager,
  table: 'alike_band' | 'case_value',
  incidentNumber: number,
  hashes: readonly string[],
): Promise<void> {
  const distinct = [...new Set(hashes)];
  if (distinct.length === 0) return;
  await manager.query(
    `INSERT INTO ${table} (hash, incidentNumber) VALUES ${distinct.map(() => '(UNHEX(?), ?)').join(', ')}`,
    distinct.flatMap((hash) => [hash, incidentNumber]),
  );
}

/** Longest name of a person that a movement keeps; somebody unknown goes by an address, which may be longer. */
const NAME_LENGTH = 120;

/** Excerpts are kept where any rule that held wants them. */
export function keepsExcerpts({
  verdict,
  set,
  reportedBy,
}: Pick<JudgedMovement, 'verdict' | 'set' | 'reportedBy'>): boolean {
  const rules = new Map(
    set.policies.flatMap(({ rules: all }) => all.map((rule) => [rule.id, rule] as const)),
  );
  return (
    reportedBy !== undefined ||
    verdict.forbidden !== undefined ||
    verdict.matches.some((match) => rules.get(match.rule)?.keep !== 'counts')
  );
}

export function toMovement(
  id: string,
  { movement, person, at, revision, verdict, contentDigest, activity, reportedBy }: JudgedMovement,
  shared: SharedColumns,
): MovementEntity {
  return {
    id,
    ...shared,
    title: null,
    incidentNumber: null,
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
    // What another system says about a movement is no movement that amounts are counted of.
    bytesMoved: reportedBy ? 0 : bytesMoved(movement),
    rowsTaken: reportedBy ? 0 : rowsTaken(movement),
    toOutside: !reportedBy && goesOutside(movement),
    wentOn: stateAfter(verdict) === 'went-on',
  };
}

/** Out of what, into what, over what: no content. */
function wayOf(
  { from, into, link, connection, machine, network, use, window }: InspectedMovement,
  activity: string | undefined,
): MovementWayView {
  return {
    activity: activity ?? null,
    ...(window ? { window: maskedName(window) } : {}),
    from: from ?? [],
    into: into ?? [],
    link: link ?? null,
    connection: connection ?? null,
    machine: machine ?? null,
    network: network ?? null,
    ...(use ? { use } : {}),
  };
}

export function toIncident(
  movementId: string,
  judged: JudgedMovement,
  summary: IncidentSummary,
): NewIncident {
  const { movement, person, verdict, revision } = judged;
  return {
    ...sharedColumns(judged),
    movementId,
    at: judged.at,
    channel: movement.channel,
    personAddress: movement.sender.address,
    personName: person.name.slice(0, NAME_LENGTH),
    department: person.department.slice(0, NAME_LENGTH),
    answer: verdict.answer,
    revision,
    firstSeverity: summary.severity,
    dueAt: null,
    nextAgeAt: null,
    decidedAt: null,
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
  summary: IncidentSummary,
): Pick<
  IncidentEntity,
  'silent' | 'openSeverity' | 'openUrgency' | 'openUrgencyParts' | 'openMatches' | 'openAnswer'
> {
  const { matches, forbidden } = summary;
  const open = matches.filter(({ silent }) => !silent);
  // What reading did not finish says is nobody's silent rule.
  const silent =
    matches.some((match) => match.silent) && open.length + forbidden.length === 0 && !verdict.unfinished;
  const seen = open.length < matches.length && !silent ? incidentOf(movement, withoutSilent(verdict)) : null;
  if (silent)
    return {
      silent,
      openSeverity: null,
      openUrgency: null,
      openUrgencyParts: null,
      openMatches: null,
      openAnswer: null,
    };
  const shown = seen ?? summary;
  return {
    silent,
    openSeverity: shown?.severity ?? null,
    openUrgency: shown?.urgency.total ?? null,
    openUrgencyParts: shown?.urgency ?? null,
    openMatches: shown ? shown.matches.length + shown.forbidden.length : null,
    openAnswer: shown?.answer ?? null,
  };
}

/** A verdict as it would be without its silent rules. */
function withoutSilent(verdict: Verdict): Verdict {
  const open = weigh(verdict.matches.filter(({ silent }) => !silent));
  return { ...verdict, ...withLabelMatches(open, verdict.forbidden ?? []) };
}
