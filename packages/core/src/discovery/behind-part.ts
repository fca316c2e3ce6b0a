import { allOf, type Filter, type FilterValue, printFilter } from '../incidents/index.js';
import { type ExposurePartCode, OLD_AFTER_DAYS } from './exposure.js';
import type { ItemField } from './fields.js';

/**
 * The filter line that lists what a part of the exposure counts. `above` are names of labels that rank above the label
 * of the place; `now` in milliseconds.
 */
export function behindPart(
  code: ExposurePartCode,
  place: { readonly name: string; readonly above: readonly string[] },
  now: number,
): string {
  const old = new Date(now - OLD_AFTER_DAYS * 86_400_000).toISOString();
  const sensitive = is('sensitive', true);
  const parts: Readonly<Record<ExposurePartCode, readonly Part[]>> = {
    'open-with-link': [sensitive, is('reach', 'anybody-with-link')],
    'open-outside': [sensitive, is('reach', 'outside')],
    'open-inside': [sensitive, is('reach', 'organisation')],
    unmanaged: [sensitive],
    'without-label': [sensitive, { kind: 'not', part: { kind: 'present', field: 'label' } }],
    'above-place': [sensitive, { kind: 'or', parts: place.above.map((name) => is('label', name)) }],
    old: [sensitive, { kind: 'compare', field: 'changed', operator: 'lt', value: old }],
    misplaced: [is('misplaced', true), { kind: 'compare', field: 'state', operator: 'ne', value: 'gone' }],
  };
  return printFilter(allOf<ItemField>([is('place', place.name), ...parts[code], is('quarantined', false)]));
}

type Part = Filter<ItemField>;

const is = (field: ItemField, value: FilterValue): Part => ({
  kind: 'compare',
  field,
  operator: 'eq',
  value,
});
