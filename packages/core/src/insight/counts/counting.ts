import { type Axis, axisOf, type Dimension, HALF_HOUR_MS, type Looked, NOTHING, placeOf } from './axis.js';
import type { DeskColumns } from './desk-columns.js';
import type { KeptStretches } from './kept-stretches.js';
import { makingOfSums } from './kept-sums.js';
import type { Looking } from './looked-at.js';
import { addPairs, DENSE, type Dense, everyPair, PAIR } from './pairs.js';
import type { Plan } from './plan.js';
import { type Chooser, chooserOf, extentOf, type Selection, tableOf } from './select.js';

/** A dimension and how its values are numbered. */
export interface Counted {
  readonly dimension: Dimension;
  readonly axis: Axis;
}

/** Names what a chooser asks beside times. */
export const shapeOf = ({ looking, others }: Pick<Chooser, 'looking' | 'others'>): string =>
  JSON.stringify([looking.listed, looking.silent, others]);

type EachCount = (one: number, other: number, count: number) => void;

/** What is listed under a plan, to be counted by one dimension after another: out of kept sums where there are any. */
export class Counting {
  private chosen: Selection | null = null;
  private readonly looked: Looked;
  private readonly shape: string;

  private constructor(
    private readonly columns: DeskColumns,
    private readonly chooser: Chooser,
    private readonly kept: KeptStretches | null,
  ) {
    const { looking, ranges, others } = chooser;
    const { table, spans } = tableOf(columns, looking);
    this.looked = { looking, extent: extentOf(spans, ranges, { first: 0, end: table.length }) };
    this.shape = kept ? shapeOf({ looking, others }) : '';
  }

  /** Null where these columns cannot answer the plan. */
  static of(columns: DeskColumns, looking: Looking, plan: Plan, kept: KeptStretches | null): Counting | null {
    const chooser = chooserOf(columns, looking, plan);
    return chooser && new Counting(columns, chooser, kept);
  }

  /** All rows, for as long as nothing else is selected in whole. */
  get selection(): Selection {
    const { table } = tableOf(this.columns, this.chooser.looking);
    this.chosen ??= this.chooser.choose({ first: 0, end: table.length }, 'whole');
    return this.chosen;
  }

  /** How the values of a dimension are numbered; null where these columns do not hold it. */
  axis(dimension: Dimension): Axis | null {
    return axisOf(this.columns, this.looked, dimension);
  }

  count(): number {
    const dense = { counts: new Uint32Array(1), width: 1 };
    return this.takes([], [NOTHING, NOTHING], dense)
      ? (dense.counts[0] ?? 0)
      : (this.selection.matches ?? this.selection.rows).length;
  }

  /** Calls `each` with every value, or pair of values, that comes, and how often. */
  each(by: readonly Counted[], each: EachCount): void {
    const [first = NOTHING, second = NOTHING] = by.map(({ axis }) => axis);
    const size = first.size === null || second.size === null ? Infinity : first.size * second.size;
    if (size > DENSE) return this.eachOfMany(first, second, each);
    const width = second.size ?? 1;
    const dense = { counts: new Uint32Array(size), width };
    if (!this.takes(by, [first, second], dense)) addPairs(this.selection, first, second, dense);
    for (let place = 0; place < size; place += 1) {
      const count = dense.counts[place] ?? 0;
      if (count > 0) each(Math.floor(place / width), place % width, count);
    }
  }

  /** Counts out of kept sums; false where there are none for such a question. */
  private takes(by: readonly Counted[], [first, second]: readonly [Axis, Axis], dense: Dense): boolean {
    const { chooser, kept, shape } = this;
    const dimensions = by.map(({ dimension }) => dimension);
    const making = kept && makingOfSums(this.columns, { chooser, shape, dimensions });
    if (!making) return false;
    const [one, other] = [this.numberOf(by[0]), this.numberOf(by[1])];
    const { counts: all, width } = dense;
    return kept.take(making, {
      kept: ({ ones, others, counts }) => {
        for (let at = 0; at < ones.length; at += 1) {
          const place = one(ones[at] ?? 0) * width + (others ? other(others[at] ?? 0) : 0);
          all[place] = (all[place] ?? 0) + (counts[at] ?? 0);
        }
      },
      rows: (stretch) => addPairs(chooser.choose(stretch, 'stretch'), first, second, dense),
    });
  }

  /** The number of a value on the axis that is asked for: sums are kept by half hours since 1970. */
  private numberOf(counted: Counted | undefined): (kept: number) => number {
    const dimension = counted?.dimension;
    if (dimension?.kind === 'half-hours') {
      const first = Number(counted?.axis.valueOf(0));
      return (halfHour) => halfHour - first;
    }
    if (dimension?.kind === 'buckets') {
      const { starts } = dimension;
      return (halfHour) => placeOf(starts, halfHour * HALF_HOUR_MS);
    }
    return (code) => code;
  }

  /** Counts where there may be more pairs than an array holds. */
  private eachOfMany(first: Axis, second: Axis, each: EachCount): void {
    const counts = new Map<number, number>();
    everyPair(this.selection, first, second, (one, other) => {
      const key = one * PAIR + other;
      counts.set(key, (counts.get(key) ?? 0) + 1);
    });
    for (const [key, count] of counts) each(Math.floor(key / PAIR), key % PAIR, count);
  }
}
