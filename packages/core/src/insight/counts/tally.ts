import { type FieldName, fieldOf } from '../../incidents/filter/fields.js';
import type { DeskColumns } from './desk-columns.js';
import { countTraits, eachTrait, whereabouts } from './looked-at.js';
import type { Selection } from './select.js';

const DAY_MS = 86_400_000;
const HALF_HOUR_MS = 1_800_000;
const halfHourOf = (time: number): number => Math.floor(time / HALF_HOUR_MS);

/** By what rows are counted: values of a field, the buckets that begin at these times, or half hours. */
export type Dimension =
  | { readonly kind: 'field'; readonly field: FieldName; readonly now: number }
  | { readonly kind: 'buckets'; readonly starts: readonly number[] }
  | { readonly kind: 'half-hours' };

/** A value as the database would give it: times by their day, yes and no as 1 and 0. */
export type RawValue = string | number | null;

export interface TallyRow {
  readonly keys: readonly RawValue[];
  readonly count: number;
}

/** One dimension over a selection: numbers of its values, and what they stand for. */
export interface Axis {
  /** Calls `each` with the number of every value of a row. */
  readonly visit: (row: number, match: number, each: (key: number) => void) => void;
  /** The number of the one value of a row; null where a row may have several. */
  readonly one: ((row: number, match: number) => number) | null;
  readonly valueOf: (key: number) => RawValue;
  /** One more than the highest number; null where that is not known beforehand. */
  readonly size: number | null;
  /** The numbers by row, where they stand in one array as they are. */
  readonly codes?: ArrayLike<number>;
  /** Counts every value of many rows at once. */
  readonly each?: (rows: Uint32Array, counts: Uint32Array) => void;
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
  columns: DeskColumns,
  selection: Selection,
  dimension: Dimension,
  { limit, given }: LargestWanted,
): { readonly keys: readonly number[]; readonly found: Omit<Largest, 'before'> } | null {
  const axis = axisOf(columns, selection, dimension);
  if (!axis) return null;
  const all: { readonly key: number; readonly count: number }[] = [];
  eachCount(selection, axis, NOTHING, (key, _, count) => {
    // Codes are 0 where there is no value; what is no code may be 0 for itself.
    if (!given || key !== 0 || axis.valueOf(0) !== null) all.push({ key, count });
  });
  all.sort((one, other) => other.count - one.count);
  // Only those that may be shown get their text, and stand in the order of it where they count the same.
  const least = all[limit - 1]?.count ?? 0;
  const shown = all
    .filter(({ count }) => count >= least)
    .map(({ key, count }) => ({ key, keys: [axis.valueOf(key)], count }))
    .sort(largestFirst)
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
export function countsOf(
  columns: DeskColumns,
  selection: Selection,
  dimension: Dimension,
  keys: readonly number[],
): number[] {
  const axis = axisOf(columns, selection, dimension);
  const counts = new Map<number, number>();
  if (axis && keys.length > 0) eachCount(selection, axis, NOTHING, (key, _, count) => counts.set(key, count));
  return keys.map((key) => counts.get(key) ?? 0);
}

/** The largest count first; of equal ones in the order of the values, none first. */
export function largestFirst(one: TallyRow, other: TallyRow): number {
  if (one.count !== other.count) return other.count - one.count;
  const [known = null, next = null] = [one.keys[0], other.keys[0]];
  if (typeof known === 'number' && typeof next === 'number') return known - next;
  const [text, after] = [known, next].map((raw) => (raw === null ? '' : String(raw).toLowerCase()));
  return (text ?? '') < (after ?? '') ? -1 : Number((text ?? '') > (after ?? ''));
}

/** Counts rows by up to two dimensions; null where these columns do not hold one of them. Rows with several values count for each. */
export function tally(
  columns: DeskColumns,
  selection: Selection,
  dimensions: readonly Dimension[],
): TallyRow[] | null {
  const axes = dimensions.map((dimension) => axisOf(columns, selection, dimension));
  if (!axes.every((axis) => axis !== null)) return null;
  const [first, second] = axes;
  if (!first) return [{ keys: [], count: selection.rows.length }];
  const found: TallyRow[] = [];
  eachCount(selection, first, second ?? NOTHING, (one, other, count) =>
    found.push({
      keys: second ? [first.valueOf(one), second.valueOf(other)] : [first.valueOf(one)],
      count,
    }),
  );
  return found;
}

/** No dimension: one value for all. */
export const NOTHING: Axis = {
  visit: (_row, _match, each) => each(0),
  one: () => 0,
  valueOf: () => null,
  size: 1,
};

/** Numbers of values stay below this, so that two of them make one exact number. */
export const PAIR = 2 ** 26;
/** Most different pairs that are counted in one array: 16 MB. */
export const DENSE = 2 ** 22;

type EachCount = (one: number, other: number, count: number) => void;

function eachCount(selection: Selection, first: Axis, second: Axis, each: EachCount): void {
  const size = first.size === null || second.size === null ? Infinity : first.size * second.size;
  if (size > DENSE) return eachOfMany(selection, first, second, each);
  const width = second.size ?? 1;
  const counts = new Uint32Array(size);
  if (first.codes && second.one) countCodes(selection, first.codes, second, { counts, width });
  else if (first.each && second === NOTHING) first.each(selection.rows, counts);
  else if (first.one && second.one) countOnes(selection, first.one, second.one, { counts, width });
  else
    everyPair(selection, first, second, (one, other) => {
      const place = one * width + other;
      counts[place] = (counts[place] ?? 0) + 1;
    });
  for (let place = 0; place < size; place += 1) {
    const count = counts[place] ?? 0;
    if (count > 0) each(Math.floor(place / width), place % width, count);
  }
}

/** Counts where there may be more pairs than an array holds. */
function eachOfMany(selection: Selection, first: Axis, second: Axis, each: EachCount): void {
  const counts = new Map<number, number>();
  everyPair(selection, first, second, (one, other) => {
    const key = one * PAIR + other;
    counts.set(key, (counts.get(key) ?? 0) + 1);
  });
  for (const [key, count] of counts) each(Math.floor(key / PAIR), key % PAIR, count);
}

/** Calls `pair` with every pair of values of every row. */
export function everyPair(
  { rows, matches }: Selection,
  first: Axis,
  second: Axis,
  pair: (one: number, other: number, row: number) => void,
): void {
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    first.visit(row, match, (one) => second.visit(row, match, (other) => pair(one, other, row)));
  }
}

/** Counts of pairs in one array, those of one first value side by side. */
interface Dense {
  readonly counts: Uint32Array;
  readonly width: number;
}

function countCodes(
  { rows, matches }: Selection,
  codes: ArrayLike<number>,
  { one, size }: Axis,
  { counts, width }: Dense,
): void {
  if (size === 1 || !one)
    for (let at = 0; at < rows.length; at += 1) {
      const code = codes[rows[at] ?? 0] ?? 0;
      counts[code] = (counts[code] ?? 0) + 1;
    }
  else
    for (let at = 0; at < rows.length; at += 1) {
      const row = rows[at] ?? 0;
      const place = (codes[row] ?? 0) * width + one(row, matches?.[at] ?? 0);
      counts[place] = (counts[place] ?? 0) + 1;
    }
}

function countOnes(
  { rows, matches }: Selection,
  first: NonNullable<Axis['one']>,
  second: NonNullable<Axis['one']>,
  { counts, width }: Dense,
): void {
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    const place = first(row, match) * width + second(row, match);
    counts[place] = (counts[place] ?? 0) + 1;
  }
}

/** A dimension over the rows of a selection; null where these columns do not hold it. */
export function axisOf(
  columns: DeskColumns,
  { looking, rows }: Selection,
  dimension: Dimension,
): Axis | null {
  const times = (looking.listed === 'movements' ? columns.movements : columns.incidents).column('time').data;
  switch (dimension.kind) {
    case 'buckets':
      return single(bucketOf(times, dimension.starts), (key) => key, dimension.starts.length + 1);
    case 'half-hours': {
      // Counted from the earliest one, so that the numbers stay small.
      let [first, last] = [Infinity, -Infinity];
      for (let at = 0; at < rows.length; at += 1) {
        const halfHour = halfHourOf(times[rows[at] ?? 0] ?? 0);
        if (halfHour < first) first = halfHour;
        if (halfHour > last) last = halfHour;
      }
      return single(
        (row) => halfHourOf(times[row] ?? 0) - first,
        (key) => key + first,
        Math.max(1, last - first + 1),
      );
    }
    case 'field':
      return fieldAxis(columns, looking, dimension.field, dimension.now);
  }
}

const single = (one: NonNullable<Axis['one']>, valueOf: Axis['valueOf'], size: number | null): Axis => ({
  visit: (row, match, each) => each(one(row, match)),
  ...{ one, valueOf, size },
});

/** The bucket of each row, as the database counts them: in whole seconds. */
function bucketOf(times: ArrayLike<number>, starts: readonly number[]): (row: number) => number {
  const seconds = starts.map((start) => Math.floor(start / 1_000));
  // Rows that follow each other are mostly of one bucket.
  let [bucket, from, to] = [-1, Infinity, -Infinity];
  return (row) => {
    const second = Math.floor((times[row] ?? 0) / 1_000);
    if (second >= from && second < to) return bucket;
    bucket = placeOf(seconds, second);
    from = seconds[bucket - 1] ?? -Infinity;
    to = seconds[bucket] ?? Infinity;
    return bucket;
  };
}

function fieldAxis(
  columns: DeskColumns,
  looking: Selection['looking'],
  field: FieldName,
  now: number,
): Axis | null {
  if (field === 'overdue') return overdueAxis(columns, looking, now);
  const found = whereabouts(columns, looking, field);
  if (!found) return null;
  const isYesNo = fieldOf(field).kind === 'yes-no';
  const textOf = (codes: { textOf(code: number): string | null }) => (code: number) => {
    const text = codes.textOf(code);
    return text !== null && isYesNo ? Number(text) : text;
  };
  if (found.kind === 'trait') {
    const { at, codes, link } = found;
    const asked = { at, silent: looking.silent };
    return {
      visit: (row, _, each) => {
        const incident = link ? link(row) : row;
        if (incident < 0) each(0);
        else eachTrait(columns, incident, asked, each);
      },
      one: null,
      valueOf: textOf(codes),
      size: codes.size,
      ...(!link && { each: (rows, counts) => countTraits(columns, rows, asked, counts) }),
    };
  }
  if (found.kind === 'match') {
    const { offset, shift, mask, codes } = found;
    const { data } = columns.matches;
    return single((_, match) => ((data[match + offset] ?? 0) >>> shift) & mask, textOf(codes), codes.size);
  }
  const { link, column } = found;
  const { data, codes } = column;
  if (!codes)
    return numberAxis(link ? (row) => data[link(row)] : (row) => data[row], fieldOf(field).kind === 'time');
  if (link) return single((row) => data[link(row)] ?? 0, textOf(codes), codes.size);
  return { ...single((row) => data[row] ?? 0, textOf(codes), codes.size), codes: data };
}

function overdueAxis({ incidents }: DeskColumns, { listed }: Selection['looking'], now: number): Axis | null {
  if (listed === 'movements') return null;
  const status = incidents.column('status');
  const due = incidents.column('due').data;
  const decided = status.codes?.find('decided') ?? -1;
  return single(
    (row) => Number(status.data[row] !== decided && (due[row] ?? Number.NaN) < now),
    (key) => key,
    2,
  );
}

/** Numbers and days are given numbers of their own as they come. */
function numberAxis(valueIn: (row: number) => number | undefined, isTime: boolean): Axis {
  const known = new Map<number, number>();
  const values: number[] = [Number.NaN];
  const keyOf = (value: number): number => {
    if (Number.isNaN(value)) return 0;
    const number = isTime ? Math.floor(value / DAY_MS) : value;
    const key = known.get(number) ?? values.length;
    if (key === values.length) {
      known.set(number, key);
      values.push(number);
    }
    return key;
  };
  return single(
    (row) => keyOf(valueIn(row) ?? Number.NaN),
    (key) => {
      const value = values[key] ?? Number.NaN;
      if (Number.isNaN(value)) return null;
      return isTime ? new Date(value * DAY_MS).toISOString().slice(0, 10) : value;
    },
    null,
  );
}

/** How many of some rising numbers are not above a value. */
function placeOf(starts: readonly number[], value: number): number {
  let [low, high] = [0, starts.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((starts[middle] ?? Infinity) <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}
