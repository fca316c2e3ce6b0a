import { type Axis, axisOf, type Dimension, HALF_HOUR_MS, NOTHING } from './axis.js';
import type { DeskColumns } from './desk-columns.js';
import { addPairs, DENSE, PAIR } from './pairs.js';
import type { Plan, TimeRange } from './plan.js';
import { type Chooser, type Stretch, tableOf } from './select.js';
import { SPAN_ROWS, type Spans } from './spans.js';
import { FAN_OUT, LEAST_STRETCH, type Stamps, STRETCHES } from './stamps.js';

/** Sums that are kept together, in bytes: the questions of a morning over a year of a large organisation. */
export const KEPT_BYTES = 96 * 1024 * 1024;
/** Stretches within the times asked for below which counting them is as fast as looking for sums. */
const LEAST_STRETCHES = 32;
/** Values of the first of two dimensions: with more, hardly two rows would share a pair. */
const MOST_PAIRED = 1_024;

/** How often each pair of values comes within a stretch; what is counted by one dimension, or by none, has no others. */
interface Sums {
  /** The state of the columns that they are of. */
  readonly stamp: number;
  readonly ones: Uint32Array;
  readonly others: Uint32Array | null;
  readonly counts: Uint32Array;
}

type ByStretch = Map<number, Sums>;
type OfRows = ReturnType<typeof tableOf>;

/** What is asked for: rows that a chooser selects, by no dimension, one or two. */
export interface SumsWanted {
  readonly chooser: Chooser;
  /** Names what the chooser asks beside times. */
  readonly shape: string;
  readonly dimensions: readonly Dimension[];
}

/** Takes what the kept sums hold of a stretch, or counts a stretch for itself. */
export interface Taking {
  /** Times are given as half hours since 1970. */
  readonly sums: (ones: Uint32Array, others: Uint32Array | null, counts: Uint32Array) => void;
  readonly rows: (stretch: Stretch) => void;
}

/**
 * Counts of stretches of rows that were asked for before. A stretch is counted anew once something in it changed; longer ones
 * are put together from shorter ones. So a question that was asked before costs what changed since, and the two ends of its time.
 */
export class KeptSums {
  private readonly shapes = new Map<string, ByStretch>();
  private bytes = 0;

  constructor(
    private readonly columns: DeskColumns,
    private readonly most = KEPT_BYTES,
  ) {}

  /** Bytes that are kept. */
  get size(): number {
    return this.bytes;
  }

  /** Hands over every row that the chooser selects, in sums or as rows; false if no sums of such a question are kept. */
  take({ chooser, shape, dimensions }: SumsWanted, taking: Taking): boolean {
    const ofRows = tableOf(this.columns, chooser.looking);
    if (!isKept(dimensions) || chooser.others.some(asksNow) || !this.isLong(chooser, ofRows)) return false;
    // Dates and numbers have no codes that stay, and so no size.
    const sizes = this.sizesOf(chooser, dimensions);
    if (sizes.some((size) => size === null || size > DENSE)) return false;
    if (dimensions.length > 1 && (sizes[0] ?? 0) > MOST_PAIRED) return false;
    const name = `${shape} ${dimensions.map(nameOf).join(' ')}`;
    const kept = this.shapes.get(name) ?? (new Map() as ByStretch);
    // The last one asked for stands last: the first one goes first.
    this.shapes.delete(name);
    this.shapes.set(name, kept);
    const level = STRETCHES.length - 1;
    const length = STRETCHES[level] ?? LEAST_STRETCH;
    const whole = withoutCuts(chooser.ranges, dimensions);
    const visiting = { chooser, dimensions, kept, ofRows, taking, whole };
    for (let index = 0; index * length < ofRows.table.length; index += 1) this.visit(visiting, level, index);
    this.forget(kept);
    return true;
  }

  private isLong({ ranges }: Chooser, { table, spans }: OfRows): boolean {
    let held = 0;
    for (let span = 0; span * SPAN_ROWS < table.length; span += 1)
      if (spans.holds(span, ranges) !== 'none') held += 1;
    return held * SPAN_ROWS >= LEAST_STRETCHES * LEAST_STRETCH;
  }

  private visit(visiting: Visiting, level: number, index: number): void {
    const { chooser, ofRows, taking, whole } = visiting;
    const length = STRETCHES[level] ?? LEAST_STRETCH;
    const first = index * length;
    if (first >= ofRows.table.length) return;
    const end = first + length;
    const holding =
      end <= ofRows.table.length ? holdingOf(chooser.ranges, whole, ofRows.spans, { first, end }) : 'some';
    if (holding === 'none') return;
    if (holding === 'all') {
      const { ones, others, counts } = this.sumsOf(visiting, level, index);
      taking.sums(ones, others, counts);
    } else if (level === 0) taking.rows({ first, end: Math.min(end, ofRows.table.length) });
    else
      for (let part = 0; part < FAN_OUT; part += 1) this.visit(visiting, level - 1, index * FAN_OUT + part);
  }

  private sumsOf(visiting: Visiting, level: number, index: number): Sums {
    const { kept, ofRows } = visiting;
    const id = level * PAIR + index;
    const known = kept.get(id);
    if (known && known.stamp >= ofRows.stamps.at(level, index)) return known;
    const made =
      level === 0
        ? this.counted(visiting, index)
        : joined(
            Array.from({ length: FAN_OUT }, (_, part) =>
              this.sumsOf(visiting, level - 1, index * FAN_OUT + part),
            ),
            ofRows.stamps,
          );
    kept.set(id, made);
    this.bytes += bytesOf(made) - (known ? bytesOf(known) : 0);
    return made;
  }

  private counted({ chooser, dimensions, ofRows }: Visiting, index: number): Sums {
    const stretch = { first: index * LEAST_STRETCH, end: (index + 1) * LEAST_STRETCH };
    const selection = chooser.choose(stretch, 'stretch');
    const asked = dimensions.map(asHalfHours);
    const axes = asked.map((dimension) => axisOf(this.columns, selection, dimension));
    const [first = NOTHING, second = NOTHING] = axes.map((axis) => axis ?? NOTHING);
    const width = second.size ?? 1;
    const counts = new Uint32Array((first.size ?? 1) * width);
    addPairs(selection, first, second, { counts, width });
    const numberIn = (at: number, axis: Axis) => (key: number) =>
      asked[at]?.kind === 'half-hours' ? Number(axis.valueOf(key)) : key;
    return packed(counts, {
      ...{ stamp: ofRows.stamps.now, width, isPair: dimensions.length > 1 },
      ...{ one: numberIn(0, first), other: numberIn(1, second) },
    });
  }

  /** How many numbers the values of each dimension take; null where that is not known or the columns do not hold it. */
  private sizesOf({ looking }: Chooser, dimensions: readonly Dimension[]): (number | null)[] {
    const extent = { from: 0, to: 0 };
    return dimensions.map((dimension) => axisOf(this.columns, { looking, extent }, dimension)?.size ?? null);
  }

  /** Lets go of what was asked for longest ago; of the question just answered only where it is too much by itself. */
  private forget(last: ByStretch): void {
    for (const [name, kept] of this.shapes) {
      if (this.bytes <= this.most) return;
      if (kept === last && this.shapes.size > 1) continue;
      this.shapes.delete(name);
      for (const sums of kept.values()) this.bytes -= bytesOf(sums);
    }
  }
}

interface Visiting {
  readonly chooser: Chooser;
  readonly dimensions: readonly Dimension[];
  readonly kept: ByStretch;
  readonly ofRows: OfRows;
  readonly taking: Taking;
  /** Times within which sums by half hours are as good as rows. */
  readonly whole: readonly TimeRange[];
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

function asksNow(plan: Plan): boolean {
  if (plan.kind === 'and' || plan.kind === 'or') return plan.parts.some(asksNow);
  return plan.kind === 'not' ? asksNow(plan.part) : plan.kind === 'overdue';
}

/** Whether all of a stretch lies within the times asked for, some of it may, or nothing. */
function holdingOf(
  ranges: readonly TimeRange[],
  whole: readonly TimeRange[],
  spans: Spans,
  { first, end }: Stretch,
): 'all' | 'some' | 'none' {
  let holding: 'all' | 'none' | null = null;
  for (let span = first / SPAN_ROWS; span * SPAN_ROWS < end; span += 1) {
    const held =
      spans.holds(span, ranges) === 'none' ? 'none' : spans.holds(span, whole) === 'all' ? 'all' : 'some';
    if (held === 'some' || (holding !== null && held !== holding)) return 'some';
    holding = held;
  }
  return holding ?? 'none';
}

/** Bytes of a few arrays and the entry that they stand in, beside their numbers: most stretches hold few. */
const OVERHEAD_BYTES = 400;

const bytesOf = ({ ones, others, counts }: Sums): number =>
  OVERHEAD_BYTES + ones.byteLength + (others?.byteLength ?? 0) + counts.byteLength;

interface Packing {
  readonly stamp: number;
  readonly width: number;
  readonly isPair: boolean;
  readonly one: (key: number) => number;
  readonly other: (key: number) => number;
}

/** What was counted in one array, without the pairs that never came. */
function packed(all: Uint32Array, { stamp, width, isPair, one, other }: Packing): Sums {
  let length = 0;
  for (let place = 0; place < all.length; place += 1) if ((all[place] ?? 0) > 0) length += 1;
  const ones = new Uint32Array(length);
  const others = isPair ? new Uint32Array(length) : null;
  const counts = new Uint32Array(length);
  let next = 0;
  for (let place = 0; place < all.length; place += 1) {
    const count = all[place] ?? 0;
    if (count === 0) continue;
    ones[next] = one(Math.floor(place / width));
    if (others) others[next] = other(place % width);
    counts[next] = count;
    next += 1;
  }
  return { stamp, ones, others, counts };
}

function joined(parts: readonly Sums[], stamps: Stamps): Sums {
  const ones = rangeOf(parts.map((part) => part.ones));
  const isPair = parts.some(({ others }) => others !== null);
  const others = isPair ? rangeOf(parts.map((part) => part.others ?? NONE)) : { low: 0, size: 1 };
  if (ones.size * others.size > DENSE) return joinedByMap(parts, isPair, stamps);
  const all = new Uint32Array(ones.size * others.size);
  for (const part of parts)
    for (let at = 0; at < part.ones.length; at += 1) {
      const other = part.others ? (part.others[at] ?? 0) - others.low : 0;
      const place = ((part.ones[at] ?? 0) - ones.low) * others.size + other;
      all[place] = (all[place] ?? 0) + (part.counts[at] ?? 0);
    }
  return packed(all, {
    ...{ stamp: stamps.now, width: others.size, isPair },
    ...{ one: (key) => key + ones.low, other: (key) => key + others.low },
  });
}

function joinedByMap(parts: readonly Sums[], isPair: boolean, stamps: Stamps): Sums {
  const all = new Map<number, number>();
  for (const { ones, others, counts } of parts)
    for (let at = 0; at < ones.length; at += 1) {
      const pair = (ones[at] ?? 0) * PAIR + (others?.[at] ?? 0);
      all.set(pair, (all.get(pair) ?? 0) + (counts[at] ?? 0));
    }
  const pairs = [...all.keys()];
  return {
    stamp: stamps.now,
    ones: Uint32Array.from(pairs, (pair) => Math.floor(pair / PAIR)),
    others: isPair ? Uint32Array.from(pairs, (pair) => pair % PAIR) : null,
    counts: Uint32Array.from(all.values()),
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
