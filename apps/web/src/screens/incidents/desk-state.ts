import { LIST_ORDERS, type ListOrder, type ViewState } from '@lantern/contracts';
import {
  allOf,
  FIELD_NAMES,
  type FieldName,
  type Filter,
  LISTED,
  type Listed,
  printFilter,
} from '@lantern/core/incidents';

/** What the desk shows, as the address bar holds it: a link shows the same to somebody else. */
export type DeskState = Readonly<ViewState> & { readonly group: readonly FieldName[] };

/** What a desk begins with: what nobody has decided. */
export const OPEN_FILTER = 'status ne "decided"';

const USUAL: Omit<DeskState, 'filter'> = {
  listed: 'incidents',
  order: '-urgency',
  group: [],
  density: 'compact',
};
const usualOrder = (listed: Listed): ListOrder => (listed === 'incidents' ? '-urgency' : '-time');

/** Reads the address bar; what it does not name is as usual. Without a filter, what is open is shown. */
export function readDesk(search: URLSearchParams): DeskState {
  const listed = LISTED.find((known) => known === search.get('list')) ?? USUAL.listed;
  const order = LIST_ORDERS.find((known) => known === search.get('order')) ?? usualOrder(listed);
  const group = (search.get('group') ?? '').split(',').filter((name): name is FieldName => isField(name));
  return {
    filter: search.get('filter') ?? OPEN_FILTER,
    listed,
    order,
    group: group.slice(0, 2),
    density: search.get('rows') === 'detailed' ? 'detailed' : 'compact',
  };
}

export function writeDesk({ filter, listed, order, group, density }: DeskState): string {
  const search = new URLSearchParams();
  if (filter !== OPEN_FILTER) search.set('filter', filter);
  if (listed !== USUAL.listed) search.set('list', listed);
  if (order !== usualOrder(listed)) search.set('order', order);
  if (group.length > 0) search.set('group', group.join(','));
  if (density !== USUAL.density) search.set('rows', density);
  return search.toString();
}

/** The line of a filter and of what stands in the search box. */
export function withSearch(filter: Filter, typed: string): Filter {
  const others = (filter.kind === 'and' ? filter.parts : [filter]).filter(
    (part) => !(part.kind === 'compare' && part.field === 'any'),
  );
  const text = typed.trim();
  return allOf(
    text === '' ? others : [...others, { kind: 'compare', field: 'any', operator: 'co', value: text }],
  );
}

/** What stands in the search box under a filter. */
export function searchOf(filter: Filter): string {
  const parts = filter.kind === 'and' ? filter.parts : [filter];
  const found = parts.find((part) => part.kind === 'compare' && part.field === 'any');
  return found?.kind === 'compare' ? String(found.value) : '';
}

/** The filter of one group, under the filter of the whole list. */
export function groupFilter(
  filter: Filter,
  by: readonly FieldName[],
  values: readonly (string | number | boolean | null)[],
): string {
  const parts = by.flatMap((field, at): Filter[] => {
    const value = values[at];
    if (value === null || value === undefined) return [{ kind: 'not', part: { kind: 'present', field } }];
    if (field === 'time' || field === 'due' || field === 'decided') return onDay(field, String(value));
    return [{ kind: 'compare', field, operator: 'eq', value }];
  });
  return printFilter(allOf([...(filter.kind === 'and' ? filter.parts : [filter]), ...parts]));
}

function onDay(field: FieldName, day: string): Filter[] {
  const next = new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10);
  return [
    { kind: 'compare', field, operator: 'ge', value: day },
    { kind: 'compare', field, operator: 'lt', value: next },
  ];
}

/** The row to go to: `by` places from the current one, staying at the ends; the first when it is not in the list. */
export function neighbour<Id>(ids: readonly Id[], current: Id | null, by: 1 | -1): Id | null {
  const at = current === null ? -1 : ids.indexOf(current);
  if (at === -1) return ids[0] ?? null;
  return ids[Math.min(Math.max(at + by, 0), ids.length - 1)] ?? null;
}

const isField = (name: string): boolean => FIELD_NAMES.some((known) => known === name);
