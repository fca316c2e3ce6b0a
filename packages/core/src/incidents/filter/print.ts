import type { FieldName } from './fields.js';
import { EVERYTHING, type Filter, type FilterValue } from './filter.js';

/** The line of a filter. Reading it again gives the same filter. */
export function printFilter(filter: Filter<string>): string {
  switch (filter.kind) {
    case 'compare':
      return `${filter.field} ${filter.operator} ${JSON.stringify(filter.value)}`;
    case 'present':
      return `${filter.field} pr`;
    case 'not':
      return `not (${printFilter(filter.part)})`;
    case 'and':
      return filter.parts
        .map((part) => (isJoined(part) ? `(${printFilter(part)})` : printFilter(part)))
        .join(' and ');
    case 'or':
      return filter.parts
        .map((part) => (part.kind === 'or' ? `(${printFilter(part)})` : printFilter(part)))
        .join(' or ');
  }
}

const isJoined = (filter: Filter<string>): boolean => filter.kind === 'or' || filter.kind === 'and';

/** What all must hold: the parts that stand beside each other as chips. */
export function conjunctsOf<Name extends string = FieldName>(filter: Filter<Name>): readonly Filter<Name>[] {
  return filter.kind === 'and' ? filter.parts : [filter];
}

/** A filter under which all parts hold. */
export function allOf<Name extends string = FieldName>(parts: readonly Filter<Name>[]): Filter<Name> {
  const [only] = parts;
  if (!only) return EVERYTHING;
  return parts.length === 1 ? only : { kind: 'and', parts: parts.flatMap((part) => conjunctsOf(part)) };
}

/** A chip: values of one field that are let in, or kept out; null where the part says something else. */
export interface Chip {
  readonly field: FieldName;
  readonly excluded: boolean;
  readonly values: readonly FilterValue[];
}

/** Reads a conjunct as a chip. */
export function chipOf(filter: Filter): Chip | null {
  if (filter.kind === 'compare' && filter.operator === 'ne')
    return { field: filter.field, excluded: true, values: [filter.value] };
  if (filter.kind === 'not') {
    const inner = chipOf(filter.part);
    return inner && !inner.excluded ? { ...inner, excluded: true } : null;
  }
  const parts = filter.kind === 'or' ? filter.parts : [filter];
  const values: FilterValue[] = [];
  const [first] = parts;
  if (first?.kind !== 'compare') return null;
  for (const part of parts) {
    if (part.kind !== 'compare' || part.operator !== 'eq' || part.field !== first.field) return null;
    values.push(part.value);
  }
  return { field: first.field, excluded: false, values };
}

/** The filter of a chip; holds for everything where it has no values. */
export function filterOfChip({ field, excluded, values }: Chip): Filter {
  const parts = values.map((value): Filter => ({ kind: 'compare', field, operator: 'eq', value }));
  const [only] = parts;
  if (!only) return EVERYTHING;
  if (parts.length === 1 && excluded && only.kind === 'compare') return { ...only, operator: 'ne' };
  const either: Filter = parts.length === 1 ? only : { kind: 'or', parts };
  return excluded ? { kind: 'not', part: either } : either;
}

/**
 * The filter with a value of a field let in or kept out. The values of one field stand in one chip; a value that stands
 * on the other side moves over; a value that is there already is taken out.
 */
export function toggled(
  filter: Filter,
  field: FieldName,
  { value, excluded }: { readonly value: FilterValue; readonly excluded: boolean },
): Filter {
  const parts = conjunctsOf(filter);
  let had = false;
  const next = parts.flatMap((part) => {
    const chip = chipOf(part);
    if (chip?.field !== field) return [part];
    const same = chip.excluded === excluded;
    if (same) had = true;
    const without = chip.values.filter((known) => known !== value);
    const values = same && without.length === chip.values.length ? [...chip.values, value] : without;
    return values.length > 0 ? [filterOfChip({ ...chip, values })] : [];
  });
  return allOf(had ? next : [...next, filterOfChip({ field, excluded, values: [value] })]);
}

/** The filter without one of its conjuncts. */
export function withoutConjunct<Name extends string = FieldName>(
  filter: Filter<Name>,
  index: number,
): Filter<Name> {
  return allOf(conjunctsOf(filter).filter((_, at) => at !== index));
}

/** Fields that a filter asks about. */
export function fieldsIn(filter: Filter): FieldName[] {
  switch (filter.kind) {
    case 'compare':
    case 'present':
      return [filter.field];
    case 'not':
      return fieldsIn(filter.part);
    case 'and':
    case 'or':
      return [...new Set(filter.parts.flatMap(fieldsIn))];
  }
}
