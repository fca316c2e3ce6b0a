import type { EntityManager } from 'typeorm';
import type { HeldLimits } from '../platform/auth/grants.js';
import type { Sight } from '../platform/auth/sight.js';
import type { Sql } from '../platform/database/sql.js';
import { AppError } from '../platform/errors/app-error.js';

const EVERYTHING: Sql = { sql: 'TRUE', values: [] };

/** SQL condition for the incidents `i` that a viewer may see. Every route that shows incidents uses it. */
export function visibleIncidents({ silent, limits }: Sight): Sql {
  return all([silent ? EVERYTHING : { sql: 'i.silent = 0', values: [] }, within(limits, 'i', silent)]);
}

/**
 * SQL condition for the movements `m` that a viewer may see, left-joined with their incident `i`. Limits to policies or
 * severities exclude movements without an incident.
 */
export function visibleMovements({ silent, limits }: Sight): Sql {
  return within(limits, 'm', silent);
}

/** Join condition of a movement `m` and its incident `i`; hides incidents of silent rules from viewers without that right. */
export const incidentOfMovement = ({ silent }: Sight): string =>
  `i.number = m.incidentNumber${silent ? '' : ' AND i.silent = 0'}`;

/** The subset of these incident numbers that a viewer may see. */
export async function visibleAmong(
  manager: EntityManager,
  numbers: readonly number[],
  sight: Sight,
): Promise<Set<number>> {
  if (numbers.length === 0) return new Set();
  const { sql, values } = visibleIncidents(sight);
  const rows = await manager.query<{ number: number }[]>(
    `SELECT i.number AS number FROM incident i WHERE i.number IN (${places(numbers)}) AND ${sql}`,
    [...numbers, ...values],
  );
  return new Set(rows.map(({ number }) => Number(number)));
}

/** Throws `not-found`, with one message for a missing incident and for one that the viewer may not see. */
export async function demandVisible(manager: EntityManager, number: number, sight: Sight): Promise<void> {
  if (!(await visibleAmong(manager, [number], sight)).has(number))
    throw new AppError('not-found', `There is no incident ${number}.`);
}

function within(limits: Sight['limits'], row: 'i' | 'm', silent: boolean): Sql {
  if (limits === null) return EVERYTHING;
  if (limits.length === 0) return { sql: 'FALSE', values: [] };
  const any = limits.map((one) => withinOne(one, row, silent));
  return { sql: `(${any.map(({ sql }) => sql).join(' OR ')})`, values: any.flatMap(({ values }) => values) };
}

function withinOne(limits: HeldLimits, row: 'i' | 'm', silent: boolean): Sql {
  const { departments, channels, severities, policies, ownTeam, holder } = limits;
  return all([
    oneOf(`${row}.department`, departments),
    oneOf(`${row}.channel`, channels),
    oneOf(silent ? 'i.severity' : 'i.openSeverity', severities),
    policies.length === 0
      ? EVERYTHING
      : {
          sql: `EXISTS (SELECT 1 FROM movement_trait lt WHERE lt.incidentNumber = i.number AND lt.field = 'policy'
            AND lt.value IN (${places(policies)})${silent ? '' : ' AND lt.silent = 0'})`,
          values: policies,
        },
    ownTeam ? { sql: `${row}.manager = ?`, values: [holder] } : EVERYTHING,
  ]);
}

/** An empty list limits nothing. */
const oneOf = (column: string, values: readonly string[]): Sql =>
  values.length === 0 ? EVERYTHING : { sql: `${column} IN (${places(values)})`, values };

const places = (values: readonly unknown[]): string => values.map(() => '?').join(', ');

function all(parts: readonly Sql[]): Sql {
  const given = parts.filter((part) => part !== EVERYTHING);
  if (given.length === 0) return EVERYTHING;
  return {
    sql: `(${given.map(({ sql }) => sql).join(' AND ')})`,
    values: given.flatMap(({ values }) => values),
  };
}
