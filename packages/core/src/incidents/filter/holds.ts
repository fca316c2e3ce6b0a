import { type FieldName, fieldOf } from './fields.js';
import type { Filter, FilterValue } from './filter.js';
import { timeOf } from './times.js';

/** Values of one incident, match or movement by field; a field without a value is left out. Times are milliseconds. */
export type FilterFacts = Partial<Record<FieldName, FilterValue | readonly FilterValue[]>>;

/** Whether a filter holds. Text is compared without regard to capitals; a field with several values holds by any of them. */
export function filterHolds(filter: Filter, facts: FilterFacts, now: number): boolean {
  switch (filter.kind) {
    case 'and':
      return filter.parts.every((part) => filterHolds(part, facts, now));
    case 'or':
      return filter.parts.some((part) => filterHolds(part, facts, now));
    case 'not':
      return !filterHolds(filter.part, facts, now);
    case 'present':
      return valuesOf(facts, filter.field).length > 0;
    case 'compare': {
      const { field, operator, value } = filter;
      if (operator === 'ne') return !filterHolds({ ...filter, operator: 'eq' }, facts, now);
      const wanted = wantedOf(field, value, now);
      return valuesOf(facts, field).some((known) => compares(rankOf(field, known), operator, wanted));
    }
  }
}

function valuesOf(facts: FilterFacts, field: FieldName): readonly FilterValue[] {
  const value = facts[field];
  if (value === undefined) return [];
  return typeof value === 'object' ? value : [value];
}

function wantedOf(field: FieldName, value: FilterValue, now: number): FilterValue {
  return fieldOf(field).kind === 'time' ? (timeOf(String(value), now) ?? Number.NaN) : rankOf(field, value);
}

/** Ordered choices compare by their place, text by its small letters. */
function rankOf(field: FieldName, value: FilterValue): FilterValue {
  const { ordered, choices } = fieldOf(field);
  if (ordered && choices) return choices.indexOf(String(value));
  return typeof value === 'string' ? value.toLowerCase() : value;
}

function compares(known: FilterValue, operator: string, wanted: FilterValue): boolean {
  switch (operator) {
    case 'eq':
      return known === wanted;
    case 'co':
      return String(known).includes(String(wanted));
    case 'sw':
      return String(known).startsWith(String(wanted));
    case 'ew':
      return String(known).endsWith(String(wanted));
    case 'gt':
      return known > wanted;
    case 'ge':
      return known >= wanted;
    case 'lt':
      return known < wanted;
    default:
      return known <= wanted;
  }
}
