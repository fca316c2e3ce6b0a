import type { IncidentRow } from '@lantern/contracts';
import { domainOf } from '@lantern/core/directory';
import type { IncidentEntity, MovementEntity } from './incident.entity.js';

/** Destinations named in a row; the detail has them all. */
const SHOWN_DESTINATIONS = 6;

/** A row as somebody sees it: without what silent matches add, for those who may not see them. */
export function toRow(incident: IncidentEntity, movement: MovementEntity, seesSilent: boolean): IncidentRow {
  const whole = seesSilent || incident.openMatches === null;
  return {
    number: incident.number,
    at: incident.at.toISOString(),
    status: incident.status,
    outcome: incident.outcome,
    severity: whole ? incident.severity : (incident.openSeverity ?? incident.severity),
    urgency: whole ? incident.urgency : (incident.openUrgency ?? incident.urgency),
    answer: (whole ? movement.answer : incident.openAnswer) ?? 'note',
    channel: movement.channel,
    person: { name: movement.personName, address: movement.personAddress, department: movement.department },
    destinations: destinationsOf(movement),
    recipients: movement.recipients.length,
    counts: incident.counts,
    unreadableParts: incident.unreadableParts,
    matches: whole ? incident.matches : (incident.openMatches ?? incident.matches),
    assignee: incident.assignee,
    silent: incident.silent,
    reported: incident.reported,
    version: incident.version,
  };
}

function destinationsOf(movement: MovementEntity): string[] {
  const sorted = [...movement.recipients].sort((left, right) => Number(right.outside) - Number(left.outside));
  return [...new Set(sorted.map(({ address }) => domainOf(address) || address))].slice(0, SHOWN_DESTINATIONS);
}
