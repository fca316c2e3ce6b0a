import { type Axis, axisOf, type Dimension, HALF_HOUR_MS, NOTHING } from './axis.js';
import type { DeskColumns } from './desk-columns.js';
import type { Making } from './kept-stretches.js';
import { addPairs, DENSE, PAIR } from './pairs.js';
import type { Plan, TimeRange } from './plan.js';
import type { Chooser, Stretch } from './select.js';

/** Values of the first of two dimensions: with more, hardly two rows would share a pair. */
const MOST_PAIRED = 1_024;

/** How often each pair of values comes within a stretch; what is counted by one dimension, or by none, has no others. */
export interface Sums {
  readonly ones: Uint32Array;
  readonly others: Uint32Array | null;
  /** Of a difference also below zero. */
  readonly counts: Int32Array;
  /** Whether pairs stand in order, so that one is found by halving. */
  readonly isInOrder: boolean;
}

/** What is asked for: rows that a chooser selects, by no dimension, one or two. */
export interface SumsWanted {
  readonly chooser: Chooser;
  /** Names what the chooser asks beside times. */
  readonly shape: string;
  readonly dimensions: readonly Dimension[];
}

/** How sums of stretches are made and kept; null if none are kept of such a question. Times are given as half hours since 1970. */
export function makingOfSums(
  columns: DeskColumns,
  { chooser, shape, dimensions }: SumsWanted,
): Making<Sums> | null {
  if (!isKept(dimensions) || chooser.others.some(asksNow)) return null;
  // Dates and numbers have no codes that stay, and so no size.
  const sizes = sizesOf(columns, chooser, dimensions);
  if (sizes.some((size) => size === null || size > DENSE)) return null;
  if (dimensions.length > 1 && (sizes[0] ?? 0) > MOST_PAIRED) return null;
  return {
    name: `sums ${shape} ${dimensions.map(nameOf).join(' ')}`,
    chooser,
    whole: withoutCuts(chooser.ranges, dimensions),
    counted: (stretch) => counted(columns, { chooser, dimensions }, stretch),
    joined,
    bytesOf: ({ ones, others, counts }) => ones.byteLength + (others?.byteLength ?? 0) + counts.byteLength,
    difference,
    patch,
  };
}

function counted(
  columns: DeskColumns,
  { chooser, dimensions }: Pick<SumsWanted, 'chooser' | 'dimensions'>,
  stretch: Stretch,
): Sums {
  const selection = chooser.choose(stretch, 'stretch');
  const asked = dimensions.map(asHalfHours);
  const axes = asked.map((dimension) => axisOf(columns, selection, dimension));
  const [first = NOTHING, second = NOTHING] = axes.map((axis) => axis ?? NOTHING);
  const width = second.size ?? 1;
  const counts = new Uint32Array((first.size ?? 1) * width);
  addPairs(selection, first, second, { counts, width });
  const numberIn = (at: number, axis: Axis) => (key: number) =>
    asked[at]?.kind === 'half-hours' ? Number(axis.valueOf(key)) : key;
  return packed(counts, {
    ...{ width, isPair: dimensions.length > 1 },
    ...{ one: numberIn(0, first), other: numberIn(1, second) },
  });
}

/** How many numbers the values of each dimension take; null where that is not known or the columns do not hold it. */
export function sizesOf(
  columns: DeskColumns,
  { looking }: Chooser,
  dimensions: readonly Dimension[],
): (number | null)[] {
  const extent = { from: 0, to: 0 };
  return dimensions.map((dimension) => axisOf(columns, { looking, extent }, dimension)?.size ?? null);
}

/** Buckets of time differ with every period; half hours do not, and every bucket that begins with one is made of them. */
const asHalfHours = (dimension: Dimension): Dimension =>
  dimension.kind === 'field' ? dimension : { kind: 'half-hours' };

const nameOf = (dimension: Dimension): string =>
  dimension.kind === 'field' ? dimension.field : 'half-hours';

const isKept = (dimensions: readonly Dimension[]): boolean =>
  dimensions.every(
    (dimension) =>
      // Whether something is overdue changes with the clock.
      (dimension.kind === 'field' && dimension.field !== 'overdue') ||
      dimension.kind === 'half-hours' ||
      (dimension.kind === 'buckets' && cutsOf(dimension).length <= MOST_CUTS),
  );

/** Buckets that begin within a half hour, such as the first of a period that begins now: their half hours are counted by row. */
const cutsOf = (dimension: Dimension): readonly number[] =>
  dimension.kind === 'buckets' ? dimension.starts.filter((start) => start % HALF_HOUR_MS !== 0) : [];
const MOST_CUTS = 4;

/** Ranges of times without the half hours in which a bucket begins. */
function withoutCuts(ranges: readonly TimeRange[], dimensions: readonly Dimension[]): readonly TimeRange[] {
  let left = ranges;
  for (const cut of dimensions.flatMap(cutsOf)) {
    const begin = Math.floor(cut / HALF_HOUR_MS) * HALF_HOUR_MS;
    left = left
      .flatMap(({ from, to }) => [
        { from, to: Math.min(to, begin) },
        { from: Math.max(from, begin + HALF_HOUR_MS), to },
      ])
      .filter(({ from, to }) => from < to);
  }
  return left;
}

/** Whether a plan turns on the clock. */
export function asksNow(plan: Plan): boolean {
  if (plan.kind === 'and' || plan.kind === 'or') return plan.parts.some(asksNow);
  return plan.kind === 'not' ? asksNow(plan.part) : plan.kind === 'overdue';
}

interface Packing {
  readonly width: number;
  readonly isPair: boolean;
  readonly one: (key: number) => number;
  readonly other: (key: number) => number;
}

/** What was counted in one array, without the pairs that never came. */
function packed(all: Uint32Array, { width, isPair, one, other }: Packing): Sums {
  let length = 0;
  for (let place = 0; place < all.length; place += 1) if ((all[place] ?? 0) > 0) length += 1;
  const ones = new Uint32Array(length);
  const others = isPair ? new Uint32Array(length) : null;
  const counts = new Int32Array(length);
  let next = 0;
  for (let place = 0; place < all.length; place += 1) {
    const count = all[place] ?? 0;
    if (count === 0) continue;
    ones[next] = one(Math.floor(place / width));
    if (others) others[next] = other(place % width);
    counts[next] = count;
    next += 1;
  }
  return { ones, others, counts, isInOrder: true };
}

function joined(parts: readonly Sums[]): Sums {
  const ones = rangeOf(parts.map((part) => part.ones));
  const isPair = parts.some(({ others }) => others !== null);
  const others = isPair ? rangeOf(parts.map((part) => part.others ?? NONE)) : { low: 0, size: 1 };
  if (ones.size * others.size > DENSE) return joinedByMap(parts, isPair);
  const all = new Uint32Array(ones.size * others.size);
  for (const part of parts)
    for (let at = 0; at < part.ones.length; at += 1) {
      const other = part.others ? (part.others[at] ?? 0) - others.low : 0;
      const place = ((part.ones[at] ?? 0) - ones.low) * others.size + other;
      all[place] = (all[place] ?? 0) + (part.counts[at] ?? 0);
    }
  return packed(all, {
    ...{ width: others.size, isPair },
    ...{ one: (key) => key + ones.low, other: (key) => key + others.low },
  });
}

function joinedByMap(parts: readonly Sums[], isPair: boolean): Sums {
  const all = new Map<number, number>();
  for (const { ones, others, counts } of parts)
    for (let at = 0; at < ones.length; at += 1) {
      const pair = (ones[at] ?? 0) * PAIR + (others?.[at] ?? 0);
      all.set(pair, (all.get(pair) ?? 0) + (counts[at] ?? 0));
    }
  const pairs = [...all.keys()];
  return {
    ones: Uint32Array.from(pairs, (pair) => Math.floor(pair / PAIR)),
    others: isPair ? Uint32Array.from(pairs, (pair) => pair % PAIR) : null,
    counts: Int32Array.from(all.values()),
    isInOrder: false,
  };
}

const NONE = new Uint32Array(0);

function rangeOf(lists: readonly Uint32Array[]): { readonly low: number; readonly size: number } {
  let [low, high] = [Infinity, -1];
  for (const list of lists)
    for (let at = 0; at < list.length; at += 1) {
      const value = list[at] ?? 0;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  return high < 0 ? { low: 0, size: 1 } : { low, size: high - low + 1 };
}

/** What comes more or less often in the later sums. Both stand in order: those of the shortest stretches always do. */
function difference(earlier: Sums, later: Sums): Sums {
  const [ones, others, counts]: [number[], number[], number[]] = [[], [], []];
  let [before, after] = [0, 0];
  while (before < earlier.counts.length || after < later.counts.length) {
    const order = compared(earlier, before, later, after);
    const sums = order <= 0 ? earlier : later;
    const at = order <= 0 ? before : after;
    const count =
      (order >= 0 ? (later.counts[after] ?? 0) : 0) - (order <= 0 ? (earlier.counts[before] ?? 0) : 0);
    if (count !== 0) {
      ones.push(sums.ones[at] ?? 0);
      others.push(sums.others?.[at] ?? 0);
      counts.push(count);
    }
    if (order <= 0) before += 1;
    if (order >= 0) after += 1;
  }
  return {
    ...{ ones: Uint32Array.from(ones), others: later.others && Uint32Array.from(others) },
    ...{ counts: Int32Array.from(counts), isInOrder: true },
  };
}

/** Which of two pairs stands first: below zero for the one, above for the other. */
function compared(one: Sums, at: number, other: Sums, place: number): number {
  if (at >= one.counts.length) return 1;
  if (place >= other.counts.length) return -1;
  const first = (one.ones[at] ?? 0) - (other.ones[place] ?? 0);
  return first === 0 ? (one.others?.[at] ?? 0) - (other.others?.[place] ?? 0) : first;
}

/** Adds differences to sums; false, and nothing added, where a pair comes that never came before. */
function patch(sums: Sums, differences: readonly Sums[]): boolean {
  if (!sums.isInOrder) return false;
  const places = differences.map((changed) =>
    Int32Array.from(changed.counts, (_, at) => placeIn(sums, changed, at)),
  );
  if (places.some((list) => list.includes(-1))) return false;
  for (const [at, { counts }] of differences.entries())
    for (const [change, count] of counts.entries()) {
      const place = places[at]?.[change] ?? 0;
      sums.counts[place] = (sums.counts[place] ?? 0) + count;
    }
  return true;
}

/** Where a pair stands in sums; -1 for nowhere. */
function placeIn(sums: Sums, changed: Sums, at: number): number {
  let [low, high] = [0, sums.counts.length - 1];
  while (low <= high) {
    const middle = (low + high) >>> 1;
    const order = compared(sums, middle, changed, at);
    if (order === 0) return middle;
    if (order < 0) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}
