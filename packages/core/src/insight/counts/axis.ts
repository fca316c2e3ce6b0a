import { type FieldName, fieldOf } from '../../incidents/filter/fields.js';
import type { DeskColumns } from './desk-columns.js';
import { countTraits, eachTrait, type Looking, whereabouts } from './looked-at.js';
import type { TimeRange } from './plan.js';

const DAY_MS = 86_400_000;
export const HALF_HOUR_MS = 1_800_000;
const halfHourOf = (time: number): number => Math.floor(time / HALF_HOUR_MS);

/** By what rows are counted: values of a field, the buckets that begin at these times, or half hours. */
export type Dimension =
  | { readonly kind: 'field'; readonly field: FieldName; readonly now: number }
  | { readonly kind: 'buckets'; readonly starts: readonly number[] }
  | { readonly kind: 'half-hours' };

/** A value as the database would give it: times by their day, yes and no as 1 and 0. */
export type RawValue = string | number | null;

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

/** No dimension: one value for all. */
export const NOTHING: Axis = {
  visit: (_row, _match, each) => each(0),
  one: () => 0,
  valueOf: () => null,
  size: 1,
};

/** Whose rows are counted, and the times between which they lie. */
export interface Looked {
  readonly looking: Looking;
  readonly extent: TimeRange;
}

/** A dimension over some rows; null where these columns do not hold it. */
export function axisOf(columns: DeskColumns, { looking, extent }: Looked, dimension: Dimension): Axis | null {
  const times = (looking.listed === 'movements' ? columns.movements : columns.incidents).column('time').data;
  switch (dimension.kind) {
    case 'buckets':
      return single(bucketOf(times, dimension.starts), (key) => key, dimension.starts.length + 1);
    case 'half-hours': {
      // Counted from the earliest one, so that the numbers stay small.
      const [first, last] = [halfHourOf(extent.from), halfHourOf(extent.to)];
      if (!Number.isFinite(first) || !Number.isFinite(last))
        return single(
          () => 0,
          () => 0,
          1,
        );
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

function fieldAxis(columns: DeskColumns, looking: Looking, field: FieldName, now: number): Axis | null {
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

function overdueAxis({ incidents }: DeskColumns, { listed }: Looking, now: number): Axis | null {
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
export function placeOf(starts: readonly number[], value: number): number {
  let [low, high] = [0, starts.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((starts[middle] ?? Infinity) <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}
