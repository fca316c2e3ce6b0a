import { allOf } from '../../incidents/filter/print.js';
import type { FieldName } from '../../incidents/filter/fields.js';
import type { Filter, FilterValue } from '../../incidents/filter/filter.js';
import type { Period } from './buckets.js';

/** One value of a field; null for what has none. */
export interface Slice {
  readonly field: FieldName;
  readonly value: FilterValue | null;
}

/** What happened within a period, `to` excluded. */
export function within({ from, to }: Period): Filter {
  const time = (operator: 'ge' | 'lt', at: number): Filter => ({
    kind: 'compare',
    field: 'time',
    operator,
    value: new Date(at).toISOString(),
  });
  return allOf([time('ge', from), time('lt', to)]);
}

/** What has one value of a field, or none. */
export function sliceFilter({ field, value }: Slice): Filter {
  return value === null
    ? { kind: 'not', part: { kind: 'present', field } }
    : { kind: 'compare', field, operator: 'eq', value };
}

/** What a figure or a mark of a chart stands for, as a filter that a list takes. */
export function behind(filter: Filter, period: Period, slice?: Slice): Filter {
  return allOf([within(period), filter, ...(slice ? [sliceFilter(slice)] : [])]);
}
