import type { IncidentRow, MatchRow, MovementRow } from '@lantern/contracts';
import { type EntityManager, In } from 'typeorm';
import { IncidentEntity, MatchEntity, MovementEntity } from '../incident.entity.js';
import { destinationsOf, toRow } from '../incident.mapper.js';
import { openTitle } from '../titles.js';
import type { KeyRing } from '../../platform/keys/key-ring.js';
import { movementKeys } from '../../platform/keys/movement-keys.js';

import type { KnownNames } from '../known-names.service.js';
import type { Sight } from '../../platform/auth/sight.js';

/** Columns of a row: not the verdict, which is long. */
const ROW_COLUMNS = only([
  ...(['number', 'movementId', 'at', 'status', 'outcome', 'severity', 'urgency', 'counts'] as const),
  ...([
    'unreadableParts',
    'matches',
    'silent',
    'openSeverity',
    'openUrgency',
    'openMatches',
    'openAnswer',
  ] as const),
  ...(['reported', 'assignee', 'answer', 'channel', 'personAddress', 'personName', 'department'] as const),
  ...(['machine', 'dueAt', 'caseNumber', 'test', 'origin', 'version'] as const),
]);

/** A choice of columns as the mapper takes it. */
export function only<Column extends string>(columns: readonly Column[]): Record<Column, true> {
  return Object.fromEntries(columns.map((column) => [column, true])) as Record<Column, true>;
}

/** Where rows are read from, and what opens their titles. */
export interface Source {
  readonly manager: EntityManager;
  readonly keys: KeyRing;
}

/** Rows of incidents in the order of their numbers' list. */
export async function incidentRows(
  { manager, keys }: Source,
  numbers: readonly number[],
  sight: Sight,
  now: Date,
): Promise<IncidentRow[]> {
  if (numbers.length === 0) return [];
  const [incidents, found] = await Promise.all([
    manager.find(IncidentEntity, { where: { number: In([...numbers]) }, select: ROW_COLUMNS }),
    // Each has the number of its incident, so that neither question waits for the other.
    manager.find(MovementEntity, { where: { incidentNumber: In([...numbers]) } }),
  ]);
  const byNumber = new Map(incidents.map((incident) => [incident.number, incident]));
  const movements = new Map(found.map((movement) => [movement.id, movement]));
  const titles = await titlesOf({ manager, keys }, found);
  return numbers.flatMap((number) => {
    const incident = byNumber.get(number);
    const movement = incident && movements.get(incident.movementId);
    if (!incident || !movement) return [];
    return [
      toRow(incident, movement, { seesSilent: sight.silent, now, title: titles.get(movement.id) ?? null }),
    ];
  });
}

export async function matchRows(
  { manager, keys }: Source,
  ids: readonly string[],
  names: KnownNames,
): Promise<MatchRow[]> {
  if (ids.length === 0) return [];
  const matches = await manager.find(MatchEntity, { where: { id: In([...ids]) } });
  const incidents = await manager.find(IncidentEntity, {
    where: { number: In(matches.map(({ incidentNumber }) => incidentNumber)) },
    select: ROW_COLUMNS,
  });
  const byNumber = new Map(incidents.map((incident) => [incident.number, incident]));
  const byId = new Map(matches.map((match) => [String(match.id), match]));
  const movements = await movementsOf(manager, incidents);
  const titles = await titlesOf({ manager, keys }, [...movements.values()]);
  return ids.flatMap((id): MatchRow[] => {
    const match = byId.get(String(id));
    const incident = match && byNumber.get(match.incidentNumber);
    const movement = incident && movements.get(incident.movementId);
    if (!match || !incident || !movement) return [];
    return [
      {
        id: String(id),
        incident: incident.number,
        at: incident.at.toISOString(),
        policy: match.policyId ? names.nameOf('policy', match.policyId) : null,
        rule: match.ruleId ? names.nameOf('rule', match.ruleId) : null,
        label: match.labelId ? names.nameOf('label', match.labelId) : null,
        answer: match.answer,
        written: match.written ?? null,
        cut: match.cut ?? null,
        severity: match.severity,
        silent: match.silent ?? false,
        channel: incident.channel,
        person: personOf(incident),
        destinations: destinationsOf(movement),
        title: titles.get(movement.id) ?? null,
        status: incident.status,
        outcome: incident.outcome,
      },
    ];
  });
}

export async function movementRows(
  { manager, keys }: Source,
  ids: readonly string[],
  sight: Sight,
): Promise<MovementRow[]> {
  if (ids.length === 0) return [];
  const movements = await manager.find(MovementEntity, { where: { id: In([...ids]) } });
  const numbers = movements.flatMap(({ incidentNumber }) =>
    incidentNumber === null ? [] : [incidentNumber],
  );
  const incidents = await manager.find(IncidentEntity, {
    where: { number: In(numbers) },
    select: { number: true, silent: true, openAnswer: true },
  });
  const byNumber = new Map(incidents.map((incident) => [incident.number, incident]));
  const byId = new Map(movements.map((movement) => [movement.id, movement]));
  const titles = await titlesOf({ manager, keys }, movements);
  return ids.flatMap((id) => {
    const movement = byId.get(id);
    if (!movement) return [];
    const incident = movement.incidentNumber === null ? undefined : byNumber.get(movement.incidentNumber);
    const hidden = incident !== undefined && incident.silent && !sight.silent;
    return [
      {
        id: movement.id,
        at: movement.at.toISOString(),
        channel: movement.channel,
        activity: movement.activity,
        person: personOf(movement),
        destinations: destinationsOf(movement),
        title: titles.get(movement.id) ?? null,
        machine: movement.machine,
        answer: hidden ? null : sight.silent || !incident ? movement.answer : incident.openAnswer,
        incident: hidden ? null : movement.incidentNumber,
        test: movement.test,
      },
    ];
  });
}

async function titlesOf(
  { manager, keys }: Source,
  movements: readonly MovementEntity[],
): Promise<Map<string, string | null>> {
  const ids = movements.flatMap(({ id, title }) => (title ? [id] : []));
  const keyOf = await movementKeys(manager, keys, ids);
  return new Map(
    await Promise.all(
      movements.map(
        async (movement) => [movement.id, await openTitle(keyOf(movement.id), movement)] as const,
      ),
    ),
  );
}

function personOf(
  row: Pick<MovementEntity, 'personName' | 'personAddress' | 'department'>,
): IncidentRow['person'] {
  return { name: row.personName, address: row.personAddress, department: row.department };
}

async function movementsOf(
  manager: EntityManager,
  incidents: readonly IncidentEntity[],
): Promise<Map<string, MovementEntity>> {
  if (incidents.length === 0) return new Map();
  const movements = await manager.find(MovementEntity, {
    where: { id: In(incidents.map(({ movementId }) => movementId)) },
  });
  return new Map(movements.map((movement) => [movement.id, movement]));
}
