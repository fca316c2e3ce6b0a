import {
  type CompareOperator,
  type FieldName,
  fieldOf,
  type Filter,
  type FilterField,
  type FilterValue,
  timeOf,
} from '@lantern/core/incidents';
import { likeAnywhere, likeText } from '../../platform/database/like.js';
import { titleWords } from '../titles.js';
import { columnOf, isTrait, type Looking, tablesOf, traitJoin, visibleOnly } from './columns.js';
import { hidesNames } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import type { Sql } from '../../platform/database/sql.js';
import type { KnownNames, NamedKind } from '../known-names.service.js';

/** Names of what filters name, and the key of digests. */
export interface FilterContext {
  readonly names: KnownNames;
  readonly key: Buffer;
}

const NEVER: Sql = { sql: 'FALSE', values: [] };
const COMPARE: Readonly<Record<string, string>> = { eq: '=', gt: '>', ge: '>=', lt: '<', le: '<=' };

/** What a list is read from, and the condition of a filter. Values never stand in the text. */
export function whereOf(filter: Filter, looking: Looking, context: FilterContext): Sql {
  const condition = compileFilter(filter, looking, context);
  const visible = visibleOnly(looking);
  return {
    sql: `${tablesOf(looking)} WHERE ${visible.sql} AND ${condition.sql}`,
    values: [...visible.values, ...condition.values],
  };
}

/** The condition of a filter in SQL: held to {@link filterHolds} of the core by a test. */
export function compileFilter(filter: Filter, looking: Looking, context: FilterContext): Sql {
  const joined = (parts: readonly Filter[], by: string, none: string): Sql => {
    if (parts.length === 0) return { sql: none, values: [] };
    const compiled = parts.map((part) => compileFilter(part, looking, context));
    return {
      sql: `(${compiled.map(({ sql }) => sql).join(by)})`,
      values: compiled.flatMap(({ values }) => values),
    };
  };
  switch (filter.kind) {
    case 'and':
      return joined(filter.parts, ' AND ', 'TRUE');
    case 'or':
      return joined(filter.parts, ' OR ', 'FALSE');
    case 'not': {
      const { sql, values } = compileFilter(filter.part, looking, context);
      // SQL gives NULL for a missing value and for its negation. Here a missing value fails a test and passes its negation.
      return { sql: `(${sql}) IS NOT TRUE`, values };
    }
    case 'present':
      return present(filter.field, looking);
    case 'compare': {
      const { field, operator, value } = filter;
      if (operator !== 'ne') return compare(field, operator, value, looking, context);
      const others = otherChoices(field, value, looking);
      if (others) return others;
      const { sql, values } = compare(field, 'eq', value, looking, context);
      return { sql: `(${sql}) IS NOT TRUE`, values };
    }
  }
}

/** "Is not" over a closed list: the other choices, which an index finds. Null where the field has no such list. */
function otherChoices(field: FieldName, value: FilterValue, looking: Looking): Sql | null {
  const { choices, named } = fieldOf(field);
  const column = columnOf(field, looking);
  if (!choices || named || !column) return null;
  const others = choices.filter((choice) => choice !== value);
  // The status of an incident is never missing. Other columns can be, and a missing value is not the excluded one.
  const isGiven = field === 'status' && looking.listed !== 'movements';
  const found = oneOf(column, others);
  return isGiven ? found : { sql: `(${found.sql} OR ${column} IS NULL)`, values: found.values };
}

function present(field: FieldName, looking: Looking): Sql {
  const column = columnOf(field, looking);
  if (column) return { sql: `${column} IS NOT NULL`, values: [] };
  if (isTrait(field)) return inTraits(field, looking, { sql: 'TRUE', values: [] });
  return { sql: 'TRUE', values: [] };
}

function compare(
  field: FieldName,
  operator: CompareOperator,
  value: FilterValue,
  looking: Looking,
  context: FilterContext,
): Sql {
  if (hidesNames(looking.sight) && asksForName(field, operator)) throw namesAreHidden();
  if (field === 'any') return anywhere(String(value), looking, context);
  if (field === 'title') return wordsInTitle(String(value), looking, context);
  if (field === 'overdue') {
    const overdue = "(i.status <> 'decided' AND i.dueAt IS NOT NULL AND i.dueAt < ?)";
    return { sql: value === true ? `${overdue} IS TRUE` : `${overdue} IS NOT TRUE`, values: [looking.now] };
  }
  const column = columnOf(field, looking);
  const tested = testOf(fieldOf(field), operator, value, looking.now);
  const { named } = fieldOf(field);
  const onColumn = (expression: string): Sql =>
    named ? oneOf(expression, idsOf(named, operator, value, context.names)) : tested(expression);
  if (column) return onColumn(column);
  return isTrait(field) ? inTraits(field, looking, onColumn('t.value')) : NEVER;
}

/** Whether a name could be found out piece by piece: a person under a code is asked for whole, and titles name people. */
const asksForName = (field: FieldName, operator: CompareOperator): boolean =>
  field === 'name' || field === 'title' || (namesPeople(field) && operator !== 'eq');

/** Fields whose values are people of the organisation, or can be. */
export const namesPeople = (field: FieldName): boolean => NAMING.has(field);

const NAMING: ReadonlySet<FieldName> = new Set(['person', 'name', 'manager', 'destination']);

export const namesAreHidden = (): AppError =>
  new AppError(
    'not-permitted',
    'Your role hides names of people. Ask for a person by the code that stands in the list.',
  );

function inTraits(field: Parameters<typeof traitJoin>[0], looking: Looking, inner: Sql): Sql {
  return {
    sql: `EXISTS (SELECT 1 FROM movement_trait t WHERE ${traitJoin(field, 't', looking)} AND ${inner.sql})`,
    values: inner.values,
  };
}

/** Builds the SQL test of a value, for any expression. */
export function testOf(
  { kind, ordered, choices }: FilterField,
  operator: CompareOperator,
  value: FilterValue,
  now: Date,
) {
  return (expression: string): Sql => {
    if (kind === 'time') {
      const at = timeOf(String(value), now.getTime());
      return { sql: `${expression} ${COMPARE[operator] ?? '='} ?`, values: [new Date(at ?? 0)] };
    }
    if (ordered && choices) return oneOf(expression, choicesWhere(choices, operator, String(value)));
    if (kind === 'yes-no') return { sql: `${expression} = ${value === true ? 1 : 0}`, values: [] };
    switch (operator) {
      case 'co':
        return { sql: `${expression} LIKE ?`, values: [likeAnywhere(String(value))] };
      case 'sw':
        return { sql: `${expression} LIKE ?`, values: [`${likeText(String(value))}%`] };
      case 'ew':
        return { sql: `${expression} LIKE ?`, values: [`%${likeText(String(value))}`] };
      default:
        return { sql: `${expression} ${COMPARE[operator] ?? '='} ?`, values: [value] };
    }
  };
}

function choicesWhere(choices: readonly string[], operator: CompareOperator, value: string): string[] {
  const wanted = choices.indexOf(value);
  const tests: Readonly<Record<string, (rank: number) => boolean>> = {
    eq: (rank) => rank === wanted,
    gt: (rank) => rank > wanted,
    ge: (rank) => rank >= wanted,
    lt: (rank) => rank < wanted,
    le: (rank) => rank <= wanted,
  };
  return choices.filter((_, rank) => tests[operator]?.(rank));
}

/** Ids of what a filter names. */
export function idsOf(
  kind: NamedKind,
  operator: CompareOperator,
  value: FilterValue,
  names: Pick<KnownNames, 'idsWhere'>,
): string[] {
  const wanted = String(value).toLowerCase();
  return names.idsWhere(kind, (text) => {
    const known = text.toLowerCase();
    if (operator === 'co') return known.includes(wanted);
    if (operator === 'sw') return known.startsWith(wanted);
    return operator === 'ew' ? known.endsWith(wanted) : known === wanted;
  });
}

export function oneOf(expression: string, values: readonly string[]): Sql {
  return values.length === 0
    ? NEVER
    : { sql: `${expression} IN (${values.map(() => '?').join(',')})`, values };
}

/** Titles are sealed: they are found by whole words. */
function wordsInTitle(text: string, looking: Looking, { key }: FilterContext): Sql {
  const words = titleWords(key, text);
  if (words.length === 0) return NEVER;
  const tests = words.map(() => inTraits('title', looking, { sql: 't.value = ?', values: [] }).sql);
  return { sql: `(${tests.join(' AND ')})`, values: words };
}

/** One box for people, addresses, file names, subjects and numbers. */
function anywhere(text: string, looking: Looking, context: FilterContext): Sql {
  const wanted = text.trim();
  const table = looking.listed === 'movements' ? 'm' : 'i';
  const like = likeAnywhere(wanted);
  const isHidden = hidesNames(looking.sight);
  const columns = [...(isHidden ? [] : ['personName', 'personAddress']), 'department', 'machine'];
  const sought = isHidden ? (['file', 'source'] as const) : (['destination', 'file', 'source'] as const);
  const traits = sought.map(
    (field) =>
      `EXISTS (SELECT 1 FROM movement_trait t WHERE ${traitJoin(field, 't', looking)} AND t.value LIKE ?)`,
  );
  const number = /^#?(\d{1,9})$/u.exec(wanted)?.[1];
  const tests = [...columns.map((column) => `${table}.${column} LIKE ?`), ...traits];
  const title = isHidden ? NEVER : wordsInTitle(wanted, looking, context);
  return {
    sql: `(${[...tests, title.sql, ...(number ? ['i.number = ?'] : [])].join(' OR ')})`,
    values: [...tests.map(() => like), ...title.values, ...(number ? [Number(number)] : [])],
  };
}
