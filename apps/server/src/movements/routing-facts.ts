import { type FieldName, fieldOf, type FilterFacts, type FilterValue } from '@lantern/core/incidents';
import type { IncidentEntity } from '../incidents/incident.entity.js';
import type { KnownNames } from '../incidents/known-names.service.js';
import type { Trait } from './record-facts.js';

/** Fields of filters that stand in columns of the same name. */
const SAME = [
  ...(['severity', 'firstSeverity', 'answer', 'revision', 'department', 'channel', 'status'] as const),
  ...(['urgency', 'silent', 'activity', 'manager', 'machine', 'managed', 'network'] as const),
  ...(['link', 'connection', 'test'] as const),
];

type Routed = Pick<
  IncidentEntity,
  | (typeof SAME)[number]
  | 'at'
  | 'personAddress'
  | 'personName'
  | 'openSeverity'
  | 'openUrgency'
  | 'openAnswer'
>;

interface Given {
  readonly number: number;
  readonly traits: readonly Trait[];
  readonly names: KnownNames;
}

/**
 * An incident as routing rules see it: whole, and without what only silent rules found; the latter is null where only
 * silent rules held.
 */
export function routingFacts(
  incident: Routed,
  given: Given,
): { readonly whole: FilterFacts; readonly open: FilterFacts | null } {
  const whole = factsOf(incident, given);
  if (incident.silent) return { whole, open: null };
  const { openSeverity, openUrgency, openAnswer } = incident;
  const seen = {
    ...incident,
    severity: openSeverity ?? incident.severity,
    firstSeverity: openSeverity ?? incident.firstSeverity,
    urgency: openUrgency ?? incident.urgency,
    answer: openAnswer ?? incident.answer,
  };
  return { whole, open: factsOf(seen, { ...given, traits: given.traits.filter(({ silent }) => !silent) }) };
}

function factsOf(incident: Routed, { number, traits, names }: Given): FilterFacts {
  const facts: Partial<Record<FieldName, FilterValue | FilterValue[]>> = {
    number,
    time: incident.at.getTime(),
    person: incident.personAddress,
    name: incident.personName,
    overdue: false,
    reported: false,
  };
  for (const field of SAME) {
    const value = incident[field];
    if (value !== null) facts[field] = value;
  }
  for (const { field, value } of traits) {
    // Words of titles are digests here.
    if (field === 'title') continue;
    const { named } = fieldOf(field);
    const known = facts[field];
    const all = Array.isArray(known) ? known : [];
    facts[field] = [...all, ...(named ? [names.nameOf(named, value), value] : [value])];
  }
  return facts;
}
