import type { Axis, Dimension, RawValue } from './axis.js';
import type { Counted, Counting } from './counting.js';

export interface TallyRow {
  readonly keys: readonly RawValue[];
  readonly count: number;
}

/** Values of one dimension, the largest count first, and the counts of all of them in that order. */
export interface Largest {
  readonly rows: readonly TallyRow[];
  readonly counts: Uint32Array;
  /** What the values of `rows` count in an earlier selection, in the same order. */
  readonly before: readonly number[];
}

/** What is asked for: how many values, and whether rows without any value are passed over. */
export interface LargestWanted {
  readonly limit: number;
  readonly given: boolean;
}

/** The values with the largest counts by their numbers, and the counts of all; null where these columns do not hold the dimension. */
export function largest(
  counting: Counting,
  dimension: Dimension,
  { limit, given }: LargestWanted,
): { readonly keys: readonly number[]; readonly found: Omit<Largest, 'before'> } | null {
  const axis = counting.axis(dimension);
  if (!axis) return null;
  const [keys, counts]: [number[], number[]] = [[], []];
  counting.each([{ dimension, axis }], (key, _, count) => {
    // Codes are 0 where there is no value; what is no code may be 0 for itself.
    if (given && key === 0 && axis.valueOf(0) === null) return;
    keys.push(key);
    counts.push(count);
  });
  const sorted = Uint32Array.from(counts).sort().reverse();
  const shown = shownOf({ keys, counts, axis }, sorted[limit - 1] ?? 0, limit);
  return {
    keys: shown.map(({ key }) => key),
    found: {
      rows: shown.map(({ key, count }) => ({ keys: [axis.valueOf(key)], count })),
      counts: sorted,
    },
  };
}

interface Shown {
  readonly key: number;
  readonly count: number;
  readonly by: Ordered['by'];
}

interface Valued {
  readonly keys: readonly number[];
  readonly counts: readonly number[];
  readonly axis: Axis;
}

/** The values that count no less than the last one shown; of those that count as much as it, the first in the order of their texts. */
function shownOf({ keys, counts, axis }: Valued, least: number, limit: number): Shown[] {
  const more: Shown[] = [];
  let equal: Shown[] = [];
  let last: Shown | null = null;
  for (let at = 0; at < counts.length; at += 1) {
    const count = counts[at] ?? 0;
    if (count < least) continue;
    const key = keys[at] ?? 0;
    const row: Shown = { key, count, by: orderOf(axis.valueOf(key)) };
    if (count > least) more.push(row);
    else if (!last || compared(row, last) < 0) equal.push(row);
    // Thousands may count the same: those that come before the last one found so far are kept, and put in order now and then.
    if (equal.length < limit * 2) continue;
    equal = equal.sort(compared).slice(0, limit);
    last = equal.at(-1) ?? null;
  }
  return [...more.sort(compared), ...equal.sort(compared)].slice(0, limit);
}

/** What some values of a field count. Their numbers are the same in every selection of the same list. */
export function countsOf(counting: Counting, dimension: Dimension, keys: readonly number[]): number[] {
  const axis = counting.axis(dimension);
  const counts = new Map<number, number>();
  if (axis && keys.length > 0)
    counting.each([{ dimension, axis }], (key, _, count) => counts.set(key, count));
  return keys.map((key) => counts.get(key) ?? 0);
}

/** The largest count first; of equal ones in the order of the values, none first. */
export const largestFirst = (rows: readonly TallyRow[]): TallyRow[] => rows.map(inOrder).sort(compared);

/** A row with what it is put in order by: text in small letters, worked out once and not with every comparison. */
interface Ordered extends TallyRow {
  readonly by: string | number;
}

const inOrder = (row: TallyRow): Ordered => ({ ...row, by: orderOf(row.keys[0] ?? null) });

const orderOf = (value: RawValue): Ordered['by'] =>
  value === null ? '' : typeof value === 'number' ? value : value.toLowerCase();

function compared(one: Pick<Ordered, 'count' | 'by'>, other: Pick<Ordered, 'count' | 'by'>): number {
  if (one.count !== other.count) return other.count - one.count;
  if (typeof one.by === 'number' && typeof other.by === 'number') return one.by - other.by;
  const [text, after] = [String(one.by), String(other.by)];
  return text < after ? -1 : Number(text > after);
}

/** Counts rows by up to two dimensions; null where these columns do not hold one of them. Rows with several values count for each. */
export function tally(counting: Counting, dimensions: readonly Dimension[]): TallyRow[] | null {
  const by: Counted[] = [];
  for (const dimension of dimensions) {
    const axis = counting.axis(dimension);
    if (!axis) return null;
    by.push({ dimension, axis });
  }
  if (by.length === 0) return [{ keys: [], count: counting.count() }];
  const found: TallyRow[] = [];
  counting.each(by, (one, other, count) =>
    found.push({ keys: by.map(({ axis }, at) => axis.valueOf(at === 0 ? one : other)), count }),
  );
  return found;
}
