import { allOf, type Filter, printFilter } from '../incidents/index.js';
import type { ItemField } from './fields.js';

/** By what items are gathered, in the order in which it is offered: what, where, whose, how old, how open, how read. */
export const ITEM_GROUPS = [
  'pattern',
  'place',
  'folder',
  'owner',
  'ending',
  'age',
  'label',
  'suggested',
  'reach',
  'state',
  'reason',
] as const;
export type ItemGroup = (typeof ITEM_GROUPS)[number];

/** Ages by when an item was last changed: up to so many days, and what is older. */
export const ITEM_AGES = [7, 30, 90, 365, 3 * 365] as const;
/** The age of what no store knows the time of. */
export const NO_AGE = ITEM_AGES.length + 1;

const DAY_MS = 86_400_000;

/**
 * The filter line of one group. `value` as the group has it: the name of a pattern, place or label; a folder without its
 * last slash; an index into {@link ITEM_AGES} (one more for what is older, {@link NO_AGE} for no known time); empty for
 * none. `now` in milliseconds.
 */
export function lineOfGroup(group: ItemGroup, value: string, now: number): string {
  return printFilter(filterOfGroup(group, value, now));
}

export function filterOfGroup(group: ItemGroup, value: string, now: number): Filter<ItemField> {
  if (group === 'age') return ofAge(Number(value), now);
  if (group === 'folder') return ofFolder(value);
  if (value === '') return absent(group);
  return { kind: 'compare', field: group, operator: 'eq', value };
}

const absent = (field: ItemField): Filter<ItemField> => ({
  kind: 'not',
  part: { kind: 'present', field },
});

/** Everything below a folder; what lies in none has no slash in its path. */
function ofFolder(folder: string): Filter<ItemField> {
  if (folder === '')
    return { kind: 'not', part: { kind: 'compare', field: 'path', operator: 'co', value: '/' } };
  return { kind: 'compare', field: 'path', operator: 'sw', value: `${folder}/` };
}

function ofAge(at: number, now: number): Filter<ItemField> {
  if (at >= NO_AGE) return absent('changed');
  const to = ITEM_AGES[at - 1];
  const from = ITEM_AGES[at];
  const time = (days: number): string => new Date(now - days * DAY_MS).toISOString();
  return allOf<ItemField>([
    ...(from === undefined
      ? []
      : [
          { kind: 'compare' as const, field: 'changed' as const, operator: 'ge' as const, value: time(from) },
        ]),
    ...(to === undefined
      ? []
      : [{ kind: 'compare' as const, field: 'changed' as const, operator: 'lt' as const, value: time(to) }]),
  ]);
}
