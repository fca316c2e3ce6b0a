import {
  type DeskColumns,
  INCIDENT_COLUMNS,
  MATCH_COLUMNS,
  MOVEMENT_COLUMNS,
  TRAIT_COLUMNS,
} from '@lantern/core/insight';
import type { Connection, RowDataPacket } from 'mysql2/promise';

type Row = (string | number | null)[];

const TIMES = new Set(['time', 'due', 'decided']);
/** Fields that stand in columns of another name. */
const NAMED: Readonly<Record<string, string>> = {
  ...{ time: 'at', person: 'personAddress', name: 'personName', due: 'dueAt', decided: 'decidedAt' },
  ...{ case: 'caseNumber', policy: 'policyId', rule: 'ruleId', reducedBy: 'cut' },
};
const MOVEMENT_NAMES = Object.keys(MOVEMENT_COLUMNS);
const INCIDENT_NAMES = Object.keys(INCIDENT_COLUMNS);
const MATCH_NAMES = Object.keys(MATCH_COLUMNS);

const expressionOf = (name: string): string => {
  const column = NAMED[name] ?? name;
  // Milliseconds since 1970, without a trip through the time zone of the connection.
  return TIMES.has(name) ? `TIMESTAMPDIFF(MICROSECOND, '1970-01-01', ${column}) DIV 1000` : column;
};
const selected = (names: readonly string[]): string => names.map(expressionOf).join(', ');
const FIELDS = TRAIT_COLUMNS.map((field) => `'${field}'`).join(', ');

/** Movements read at once. */
const MOVEMENTS_A_PAGE = 20_000;
/** Incidents read at once, with their matches and traits. */
const INCIDENTS_A_PAGE = 2_000;

/** Reads every movement, the earliest first, and every incident into columns. The next page is under way while one is put in. */
export async function loadAll(connection: Connection, columns: DeskColumns): Promise<void> {
  let page = movementsAfter(connection, ['0000-01-01', 0, '00000000-0000-0000-0000-000000000000']);
  for (;;) {
    const found = await page;
    const last = found.at(-1);
    if (!last) break;
    page = movementsAfter(connection, [String(last.at(-1)), Number(last[TEST_AT]), String(last.at(-2))]);
    for (const row of found) putMovement(columns, row);
  }
  const [[highest = 0] = []] = await rows(connection, 'SELECT MAX(number) FROM incident', []);
  let incidents = incidentsWhere(connection, 'incidentNumber BETWEEN ? AND ?', [1, INCIDENTS_A_PAGE]);
  for (let first = 1; first <= Number(highest); first += INCIDENTS_A_PAGE) {
    const found = await incidents;
    const next = first + INCIDENTS_A_PAGE;
    incidents = incidentsWhere(connection, 'incidentNumber BETWEEN ? AND ?', [
      next,
      next + INCIDENTS_A_PAGE - 1,
    ]);
    putIncidents(columns, found);
  }
  await incidents;
}

/** The next movements in the order of an index, so that nothing is sorted. */
const movementsAfter = (connection: Connection, [at, test, id]: Place): Promise<Row[]> =>
  rows(
    connection,
    `SELECT ${selected(MOVEMENT_NAMES)}, incidentNumber, CAST(id AS CHAR), CAST(at AS CHAR)
     FROM movement FORCE INDEX (movement_at)
     WHERE at >= ? AND (at > ? OR test > ? OR (test = ? AND id > ?))
     ORDER BY at, test, id LIMIT ${MOVEMENTS_A_PAGE}`,
    [at, at, test, test, id],
  );

/** Time, own test or not, and id of the last movement that was read. */
type Place = readonly [string, number, string];

/** Reads some movements and their incidents again; those that are gone are forgotten. */
export async function readAgain(
  connection: Connection,
  columns: DeskColumns,
  ids: readonly string[],
): Promise<void> {
  for (let first = 0; first < ids.length; first += INCIDENTS_A_PAGE) {
    const some = ids.slice(first, first + INCIDENTS_A_PAGE);
    const marks = some.map(() => '?').join(', ');
    const movements = await rows(
      connection,
      `SELECT ${selected(MOVEMENT_NAMES)}, incidentNumber, CAST(id AS CHAR), NULL FROM movement WHERE id IN (${marks})`,
      some,
    );
    const numbers = movements.flatMap((row) => row[MOVEMENT_NAMES.length] ?? []);
    const among = `incidentNumber IN (${numbers.length > 0 ? numbers.map(() => '?').join(', ') : 'NULL'})`;
    const incidents = await incidentsWhere(connection, among, numbers);
    const there = new Set(movements.map((row) => String(row.at(-2))));
    for (const id of some) if (!there.has(id)) columns.removeMovement(id);
    for (const row of movements) putMovement(columns, row);
    putIncidents(columns, incidents);
  }
  columns.tidy();
}

const TEST_AT = MOVEMENT_NAMES.indexOf('test');
const NUMBER_AT = INCIDENT_NAMES.indexOf('number');

function putMovement(columns: DeskColumns, row: Row): void {
  const incident = row[MOVEMENT_NAMES.length];
  columns.putMovement({
    id: String(row[MOVEMENT_NAMES.length + 1]),
    incident: incident === null ? null : Number(incident),
    values: valuesOf(MOVEMENT_NAMES, row),
  });
}

/** Incidents with what belongs to them. */
interface ReadIncidents {
  readonly incidents: readonly Row[];
  readonly traits: readonly Row[];
  readonly matches: readonly Row[];
}

async function incidentsWhere(
  connection: Connection,
  condition: string,
  values: readonly unknown[],
): Promise<ReadIncidents> {
  // One connection takes them one after the other, without a pause between.
  const [incidents, traits, matches] = await Promise.all([
    rows(
      connection,
      `SELECT ${selected(INCIDENT_NAMES)} FROM incident WHERE ${condition.replace('incidentNumber', 'number')}`,
      values,
    ),
    rows(
      connection,
      `SELECT incidentNumber, field, value, silent FROM movement_trait WHERE ${condition} AND field IN (${FIELDS})`,
      values,
    ),
    rows(
      connection,
      `SELECT incidentNumber, ${selected(MATCH_NAMES)} FROM rule_match WHERE ${condition} ORDER BY id`,
      values,
    ),
  ]);
  return { incidents, traits, matches };
}

function putIncidents(columns: DeskColumns, read: ReadIncidents): void {
  const traits = byNumber(read.traits);
  const matches = byNumber(read.matches);
  for (const row of read.incidents) {
    const number = Number(row[NUMBER_AT]);
    columns.putIncident({
      number,
      values: valuesOf(INCIDENT_NAMES, row),
      traits: (traits.get(number) ?? []).map(([, field, value, silent]) => ({
        field: String(field),
        value: String(value),
        silent: Number(silent) === 1,
      })),
      matches: (matches.get(number) ?? []).map((match) => valuesOf(MATCH_NAMES, match.slice(1))),
    });
  }
}

const valuesOf = (names: readonly string[], row: Row): Record<string, string | number | null> =>
  Object.fromEntries(names.map((name, at) => [name, row[at] ?? null]));

function byNumber(found: readonly Row[]): Map<number, Row[]> {
  const grouped = new Map<number, Row[]>();
  for (const row of found) {
    const number = Number(row[0]);
    const known = grouped.get(number);
    if (known) known.push(row);
    else grouped.set(number, [row]);
  }
  return grouped;
}

async function rows(connection: Connection, sql: string, values: readonly unknown[]): Promise<Row[]> {
  const [found] = await connection.query<RowDataPacket[][]>({
    sql,
    values: [...values],
    rowsAsArray: true,
  });
  return found as unknown as Row[];
}
