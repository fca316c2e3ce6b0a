import { type FieldName, fieldOf } from '@lantern/core/incidents';
import { columnOf, isTrait, type Looking, traitJoin } from './columns.js';

/** The tables and the condition of a compiled list. */
export function divided(sql: string): [string, string] {
  const at = sql.indexOf(' WHERE ');
  return [sql.slice(0, at), sql.slice(at + ' WHERE '.length)];
}

/** By what rows are put together: a column, the day of a time, or joined values. */
export function groupExpression(
  field: FieldName,
  alias: string,
  looking: Looking,
): { readonly sql: string; readonly join: string; readonly values: (now: Date) => readonly unknown[] } {
  const none = () => [];
  if (field === 'overdue')
    return {
      sql: "(i.status <> 'decided' AND i.dueAt IS NOT NULL AND i.dueAt < ?)",
      join: '',
      values: (now) => [now],
    };
  const column = columnOf(field, looking);
  if (column)
    return { sql: fieldOf(field).kind === 'time' ? `DATE(${column})` : column, join: '', values: none };
  if (!isTrait(field)) return { sql: 'NULL', join: '', values: none };
  return {
    sql: `${alias}.value`,
    join: `LEFT JOIN movement_trait ${alias} ON ${traitJoin(field, alias, looking)}`,
    values: none,
  };
}
