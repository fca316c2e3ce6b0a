import type { IncidentRow } from '@lantern/contracts';
import { domainOf } from '@lantern/core/directory';
import { spotName } from '@lantern/core/movement';
import type { IncidentEntity, MovementEntity } from './incident.entity.js';

/** Destinations named in a row; the detail has them all. */
const SHOWN_DESTINATIONS = 6;

/** A row as somebody sees it: without what silent matches add, for those who may not see them. */
export function toRow(
  incident: IncidentEntity,
  movement: MovementEntity,
  {
    seesSilent,
    now,
    title,
  }: { readonly seesSilent: boolean; readonly now: Date; readonly title: string | null },
): IncidentRow {
  const { dueAt, status } = incident;
  return {
    number: incident.number,
    at: incident.at.toISOString(),
    status,
    outcome: incident.outcome,
    severity: seesSilent ? incident.severity : (incident.openSeverity ?? incident.severity),
    urgency: seesSilent ? incident.urgency : (incident.openUrgency ?? incident.urgency),
    answer: (seesSilent ? movement.answer : incident.openAnswer) ?? 'note',
    channel: movement.channel,
    person: { name: movement.personName, address: movement.personAddress, department: movement.department },
    destinations: destinationsOf(movement),
    recipients: movement.recipients.length,
    counts: incident.counts,
    unreadableParts: incident.unreadableParts,
    matches: seesSilent ? incident.matches : (incident.openMatches ?? incident.matches),
    assignee: incident.assignee,
    title,
    machine: incident.machine,
    dueAt: dueAt?.toISOString() ?? null,
    overdue: status !== 'decided' && dueAt !== null && dueAt < now,
    case: incident.caseNumber,
    test: incident.test,
    silent: incident.silent,
    reported: incident.reported,
    origin: incident.origin,
    version: incident.version,
  };
}

/** Domains of recipients, those outside first; where there are none, the places and devices it goes to. */
export function destinationsOf({ recipients, way }: Pick<MovementEntity, 'recipients' | 'way'>): string[] {
  const sorted = [...recipients].sort((left, right) => Number(right.outside) - Number(left.outside));
  const people = sorted.map(({ address }) => domainOf(address) || address);
  const spots = (way?.into ?? []).map(spotName);
  return [...new Set([...people, ...spots])].slice(0, SHOWN_DESTINATIONS);
}
