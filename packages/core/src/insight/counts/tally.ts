import type { Dimension, RawValue } from './axis.js';
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
  const all: { readonly key: number; readonly count: number }[] = [];
  counting.each([{ dimension, axis }], (key, _, count) => {
    // Codes are 0 where there is no value; what is no code may be 0 for itself.
    if (!given || key !== 0 || axis.valueOf(0) !== null) all.push({ key, count });
  });
  all.sort((one, other) => other.count - one.count);
  // Only those that may be shown get their text, and stand in the order of it where they count the same.
  const least = all[limit - 1]?.count ?? 0;
  const shown = all
    .filter(({ count }) => count >= least)
    .map(({ key, count }) => ({ key, ...inOrder({ keys: [axis.valueOf(key)], count }) }))
    .sort(compared)
    .slice(0, limit);
  return {
    keys: shown.map(({ key }) => key),
    found: {
      rows: shown.map(({ keys, count }) => ({ keys, count })),
      counts: Uint32Array.from(all, ({ count }) => count),
    },
  };
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

function inOrder(row: TallyRow): Ordered {
  const [value = null] = row.keys;
  return { ...row, by: value === null ? '' : typeof value === 'number' ? value : value.toLowerCase() };
}

function compared(one: Ordered, other: Ordered): number {
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
