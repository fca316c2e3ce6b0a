import { INCIDENT_ORDERS, type IncidentOrder } from '@lantern/contracts';

/** Filters of the queue as the address bar holds them, so that a link shows the same queue. */
export interface QueueFilters {
  readonly show: 'open' | 'decided' | 'all';
  readonly severity: string;
  readonly answer: string;
  readonly pattern: string;
  readonly policy: string;
  readonly department: string;
  readonly channel: string;
  /** `yes` for those that the person calls a false finding. */
  readonly reported: string;
  /** What reduced a rule's answer: a ceiling, or the date from which the rule binds. */
  readonly cut: string;
  readonly search: string;
  readonly order: IncidentOrder;
}

const KEYS = [
  'severity',
  'answer',
  'pattern',
  'policy',
  'department',
  'channel',
  'reported',
  'cut',
  'search',
] as const;
export type ChipKey = (typeof KEYS)[number];

export function readFilters(search: URLSearchParams): QueueFilters {
  const show = search.get('show');
  const order = INCIDENT_ORDERS.find((known) => known === search.get('order')) ?? 'urgency';
  const text = (key: ChipKey) => search.get(key) ?? '';
  return {
    show: show === 'decided' || show === 'all' ? show : 'open',
    severity: text('severity'),
    answer: text('answer'),
    pattern: text('pattern'),
    policy: text('policy'),
    department: text('department'),
    channel: text('channel'),
    reported: text('reported'),
    cut: text('cut'),
    search: text('search'),
    order,
  };
}

/** The filters as the API and the address bar take them; what is usual is left out. */
export function writeFilters(filters: QueueFilters): string {
  const search = new URLSearchParams();
  if (filters.show !== 'open') search.set('show', filters.show);
  for (const key of KEYS) if (filters[key]) search.set(key, filters[key]);
  if (filters.order !== 'urgency') search.set('order', filters.order);
  return search.toString();
}

/** Filters that are on, in a steady order, to be shown as chips. */
export function chipsOf(filters: QueueFilters): ChipKey[] {
  return KEYS.filter((key) => key !== 'search' && filters[key] !== '');
}

/** The incident to go to: `by` places from the current one, staying at the ends; the first when it is not in the list. */
export function neighbour(numbers: readonly number[], current: number | null, by: 1 | -1): number | null {
  const at = current === null ? -1 : numbers.indexOf(current);
  if (at === -1) return numbers[0] ?? null;
  return numbers[Math.min(Math.max(at + by, 0), numbers.length - 1)] ?? null;
}

/** What one change of filters changes. */
export function changedFilters(before: QueueFilters, after: QueueFilters): Partial<QueueFilters> {
  const keys = Object.keys(after) as (keyof QueueFilters)[];
  return Object.fromEntries(keys.filter((key) => after[key] !== before[key]).map((key) => [key, after[key]]));
}
