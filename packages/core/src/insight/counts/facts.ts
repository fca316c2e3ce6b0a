import type { FieldName } from '../../incidents/filter/fields.js';
import { Column, type ColumnKind } from './column.js';

/** Values of some fields; null and left out are no value. Yes and no are 1 and 0, times are milliseconds since 1970. */
export type Values<Name extends string = string> = Partial<Record<Name, string | number | null>>;

/** Columns of every movement. */
export const MOVEMENT_COLUMNS = {
  time: 'number',
  person: 'words',
  department: 'words',
  manager: 'words',
  machine: 'words',
  activity: 'words',
  channel: 'choice',
  managed: 'choice',
  network: 'choice',
  link: 'choice',
  connection: 'choice',
  test: 'choice',
  answer: 'choice',
  origin: 'words',
} as const satisfies Partial<Record<FieldName, ColumnKind>>;
export type MovementColumn = keyof typeof MOVEMENT_COLUMNS;

/** Columns of every incident. Those that begin with "open" are what is seen by people who may not see silent rules. */
export const INCIDENT_COLUMNS = {
  ...MOVEMENT_COLUMNS,
  number: 'number',
  name: 'words',
  revision: 'number',
  severity: 'choice',
  openSeverity: 'choice',
  openAnswer: 'choice',
  urgency: 'number',
  openUrgency: 'number',
  firstSeverity: 'choice',
  status: 'choice',
  outcome: 'choice',
  cause: 'choice',
  assignee: 'words',
  due: 'number',
  decided: 'number',
  reported: 'choice',
  silent: 'choice',
  case: 'number',
} as const satisfies Record<string, ColumnKind>;
export type IncidentColumn = keyof typeof INCIDENT_COLUMNS;

/** Fields of which an incident may have several values. Words of sealed titles are left to the database. */
export const TRAIT_COLUMNS = [
  ...(['policy', 'rule', 'pattern', 'label', 'reducedBy', 'group', 'destination', 'domain'] as const),
  ...(['source', 'window', 'file', 'fileKind', 'reply', 'override'] as const),
] as const satisfies readonly FieldName[];
export type TraitColumn = (typeof TRAIT_COLUMNS)[number];

/** Columns of one match, in the place of what its incident has. */
export const MATCH_COLUMNS = {
  policy: 'words',
  rule: 'words',
  answer: 'choice',
  severity: 'choice',
  silent: 'choice',
  reducedBy: 'choice',
} as const satisfies Partial<Record<FieldName, ColumnKind>>;
export type MatchColumn = keyof typeof MATCH_COLUMNS;

/** One movement, and the number of its incident; null for none. */
export interface MovementFacts {
  readonly id: string;
  readonly incident: number | null;
  readonly values: Values<MovementColumn>;
}

export interface IncidentFacts {
  readonly number: number;
  readonly values: Values<IncidentColumn>;
  readonly traits: readonly { readonly field: string; readonly value: string; readonly silent: boolean }[];
  readonly matches: readonly Values<MatchColumn>[];
}

/** Columns of equal length. */
export class Rows<Name extends string> {
  length = 0;
  readonly columns: ReadonlyMap<Name, Column>;

  constructor(kinds: Readonly<Record<Name, ColumnKind>>) {
    const names = Object.keys(kinds) as Name[];
    this.columns = new Map(names.map((name) => [name, new Column(kinds[name])]));
  }

  column(name: Name): Column {
    const column = this.columns.get(name);
    if (!column) throw new RangeError(`There is no column ${name}`);
    return column;
  }

  set(row: number, values: Values<Name>): void {
    for (const [name, column] of this.columns) column.set(row, values[name] ?? null);
    this.length = Math.max(this.length, row + 1);
  }

  copy(from: number, to: number): void {
    for (const column of this.columns.values()) column.copy(from, to);
  }
}
