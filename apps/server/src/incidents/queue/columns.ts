import type { Sight } from '../../platform/auth/sight.js';
import { type FieldName, fieldOf, type Listed } from '@lantern/core/incidents';
import type { Sql } from '../../platform/database/sql.js';
import { incidentOfMovement, visibleIncidents, visibleMovements } from '../visible.js';
import { TRAIT_FIELDS, type TraitField } from './trait.entity.js';

/** What is listed, for whom, and the instant that times are counted from. */
export interface Looking {
  readonly listed: Listed;
  readonly sight: Sight;
  readonly now: Date;
}

/** Columns that stand on movements and on incidents under the same name. */
const SHARED: Partial<Record<FieldName, string>> = {
  time: 'at',
  person: 'personAddress',
  name: 'personName',
  department: 'department',
  manager: 'manager',
  machine: 'machine',
  managed: 'managed',
  network: 'network',
  channel: 'channel',
  activity: 'activity',
  link: 'link',
  connection: 'connection',
  revision: 'revision',
  test: 'test',
  origin: 'origin',
};

/** Columns of incidents alone. */
const OF_INCIDENTS: Partial<Record<FieldName, string>> = {
  number: 'number',
  firstSeverity: 'firstSeverity',
  status: 'status',
  outcome: 'outcome',
  cause: 'cause',
  assignee: 'assignee',
  due: 'dueAt',
  decided: 'decidedAt',
  reported: 'reported',
  silent: 'silent',
  case: 'caseNumber',
};

/** Columns that look different to those who may not see silent matches. */
const BY_SIGHT: Partial<Record<FieldName, readonly [string, string]>> = {
  severity: ['severity', 'openSeverity'],
  urgency: ['urgency', 'openUrgency'],
  answer: ['answer', 'openAnswer'],
};

/** Columns of one match, in the place of what its whole incident has. */
const OF_MATCHES: Partial<Record<FieldName, string>> = {
  policy: 'x.policyId',
  rule: 'x.ruleId',
  reducedBy: 'x.cut',
  answer: 'x.answer',
  severity: 'x.severity',
  silent: 'x.silent',
};

/** SQL expression of a field; null if its values are rows of `movement_trait`. */
export function columnOf(field: FieldName, { listed, sight }: Looking): string | null {
  const own = listed === 'matches' ? OF_MATCHES[field] : undefined;
  if (own) return own;
  const shared = SHARED[field];
  if (shared) return listed === 'movements' ? `m.${shared}` : `i.${shared}`;
  const bySight = BY_SIGHT[field];
  if (bySight) {
    if (field === 'answer' && listed === 'movements' && sight.silent) return 'm.answer';
    return `i.${bySight[sight.silent ? 0 : 1]}`;
  }
  const ofIncidents = OF_INCIDENTS[field];
  return ofIncidents ? `i.${ofIncidents}` : null;
}

export function isTrait(field: FieldName): field is TraitField {
  return TRAIT_FIELDS.some((trait) => trait === field);
}

/** Join condition of the rows that hold a field's values. `alias` names these rows. */
export function traitJoin(field: TraitField, alias: string, { listed, sight }: Looking): string {
  const link = listed === 'movements' ? `${alias}.movementId = m.id` : `${alias}.incidentNumber = i.number`;
  return `${link} AND ${alias}.field = '${field}'${sight.silent ? '' : ` AND ${alias}.silent = 0`}`;
}

/** Tables of a list. For viewers who may not see silent rules, movements have no incident that only such rules made. */
export function tablesOf({ listed, sight }: Looking): string {
  switch (listed) {
    case 'incidents':
      return 'incident i';
    case 'matches':
      return 'rule_match x JOIN incident i ON i.number = x.incidentNumber';
    case 'movements':
      return `movement m LEFT JOIN incident i ON ${incidentOfMovement(sight)}`;
  }
}

/** Condition that hides what the viewer may not see: what only silent rules found, and what lies beyond their limits. */
export function visibleOnly({ listed, sight }: Looking): Sql {
  if (listed === 'movements') return visibleMovements(sight);
  const incidents = visibleIncidents(sight);
  if (listed === 'incidents' || sight.silent) return incidents;
  return { ...incidents, sql: `${incidents.sql} AND x.silent = 0` };
}

/** The id of a row, by which equal ones are ordered. */
export const ID_OF: Readonly<Record<Listed, string>> = {
  incidents: 'i.number',
  matches: 'x.id',
  movements: 'm.id',
};

/** Fields whose values are worth counting one by one. */
export function isListedByValue(field: FieldName): boolean {
  const { kind } = fieldOf(field);
  return kind !== 'time' && field !== 'any' && field !== 'number' && field !== 'urgency' && field !== 'title';
}
