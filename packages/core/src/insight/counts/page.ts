import type { DeskColumns } from './desk-columns.js';
import { ranksOf } from './group-figures.js';
import { whereabouts } from './looked-at.js';
import type { Selection } from './select.js';

/** The order of a page, and the row that it begins behind. */
export interface PageWanted {
  readonly by: 'urgency' | 'severity' | 'time' | 'number' | 'due';
  readonly descending: boolean;
  readonly after: { readonly key: number; readonly number: number } | null;
  readonly limit: number;
  readonly severities: readonly string[];
}

export interface PageRow {
  readonly number: number;
  readonly key: number;
}

/** Numbers of incidents in order, those with equal keys by their numbers; null where these columns do not hold the order. */
export function pageOf(
  columns: DeskColumns,
  selection: Selection,
  { by, descending, after, limit, severities }: PageWanted,
): PageRow[] | null {
  const keyOf = keysOf(columns, selection, by, severities);
  if (!keyOf) return null;
  const numbers = columns.incidents.column('number').data;
  const sign = descending ? -1 : 1;
  const compared = (one: PageRow, other: PageRow): number =>
    sign * (one.key - other.key || one.number - other.number);
  // The best rows so far, sorted each time that twice as many have come together.
  let best: PageRow[] = [];
  let worst: PageRow | null = after;
  let isFull = false;
  const trim = () => {
    best = best.sort(compared).slice(0, limit);
    isFull = best.length === limit;
    worst = best.at(-1) ?? null;
  };
  const { rows } = selection;
  for (let step = 0; step < rows.length; step += 1) {
    // Rows stand mostly in the order of their numbers: what comes last is first then, and all after it is passed over.
    const row = rows[descending ? rows.length - 1 - step : step] ?? 0;
    const key = keyOf(row);
    const number = numbers[row] ?? 0;
    if (isFull && worst && sign * (key - worst.key || number - worst.number) >= 0) continue;
    if (after && sign * (key - after.key || number - after.number) <= 0) continue;
    best.push({ number, key });
    if (best.length >= limit * 2) trim();
  }
  trim();
  return best;
}

function keysOf(
  columns: DeskColumns,
  { looking }: Selection,
  by: PageWanted['by'],
  severities: readonly string[],
): ((row: number) => number) | null {
  if (by === 'severity') return ranksOf(columns, looking, severities);
  const found = whereabouts(columns, looking, by);
  if (found?.kind !== 'column') return null;
  const { data } = found.column;
  // What has no promised time comes after all that has.
  if (by === 'due') return (row) => (Number.isNaN(data[row]) ? NEVER : (data[row] ?? NEVER));
  return (row) => data[row] ?? 0;
}

/** The time that stands for "no promise": the last day that the database knows. */
export const NEVER = Date.UTC(9999, 11, 31);
