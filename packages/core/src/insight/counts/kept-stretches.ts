import type { DeskColumns } from './desk-columns.js';
import { PAIR } from './pairs.js';
import type { TimeRange } from './plan.js';
import { type Chooser, type Stretch, tableOf } from './select.js';
import { SPAN_ROWS, type Spans } from './spans.js';
import { FAN_OUT, LEAST_STRETCH, STRETCHES } from './stamps.js';

/** What is kept together, in bytes: the questions of a morning over a year of a large organisation. */
export const KEPT_BYTES = 96 * 1024 * 1024;
/** Stretches within the times asked for below which counting them is as fast as looking for what is kept. */
const LEAST_STRETCHES = 32;
/** Bytes of a few arrays and the entry that they stand in, beside their numbers: most stretches hold few. */
const OVERHEAD_BYTES = 400;

/** How something is made out of a stretch of rows and kept. */
export interface Making<Value> {
  /** Names what is asked for, beside times. */
  readonly name: string;
  readonly chooser: Chooser;
  /** Times within which what is kept of a stretch is as good as its rows. */
  readonly whole: readonly TimeRange[];
  counted(selected: Stretch): Value;
  /** Puts four stretches that follow each other together. */
  joined(parts: readonly Value[]): Value;
  bytesOf(value: Value): number;
  /** What is kept turns on more than rows, such as the clock: whether it is still so. */
  readonly isStill?: (value: Value) => boolean;
  /** What differs between an earlier value and a later one of the same stretch. */
  readonly difference?: (earlier: Value, later: Value) => Value;
  /** Brings a value to where its parts are now, by what changed in them; false where it cannot. */
  readonly patch?: (value: Value, differences: readonly Value[]) => boolean;
}

/** Takes what is kept of a stretch, or goes over the rows of a stretch. */
export interface Taking<Value> {
  readonly kept: (value: Value, stretch: Stretch) => void;
  readonly rows: (stretch: Stretch) => void;
}

interface Entry {
  /** The state of the columns that the value is of. */
  stamp: number;
  value: unknown;
}
type ByStretch = Map<number, Entry>;
type OfRows = ReturnType<typeof tableOf>;

interface Visiting<Value> {
  readonly making: Making<Value>;
  readonly taking: Taking<Value>;
  readonly kept: ByStretch;
  readonly ofRows: OfRows;
}

/** A value, and what changed in it since a stamp; null where that is not known. */
interface Fresh<Value> {
  readonly value: Value;
  readonly since: number;
  readonly differences: readonly Value[] | null;
}

/**
 * What was made of stretches of rows for questions asked before. A stretch is made anew once something in it changed; longer ones
 * are put together from shorter ones. So a question that was asked before costs what changed since, and the two ends of its time.
 */
export class KeptStretches {
  private readonly shapes = new Map<string, { readonly kept: ByStretch; bytes: number }>();
  private bytes = 0;

  constructor(
    private readonly columns: DeskColumns,
    private readonly most = KEPT_BYTES,
  ) {}

  /** Bytes that are kept. */
  get size(): number {
    return this.bytes;
  }

  /** Hands over every row that the chooser of `making` selects, kept or as rows, in order; false if there are too few for that. */
  take<Value>(making: Making<Value>, taking: Taking<Value>): boolean {
    const { chooser, name } = making;
    const ofRows = tableOf(this.columns, chooser.looking);
    if (!isLong(chooser, ofRows)) return false;
    const shape = this.shapes.get(name) ?? { kept: new Map() as ByStretch, bytes: 0 };
    // The last one asked for stands last: the first one goes first.
    this.shapes.delete(name);
    this.shapes.set(name, shape);
    const { kept } = shape;
    const level = STRETCHES.length - 1;
    const length = STRETCHES[level] ?? LEAST_STRETCH;
    const visiting = { making, taking, kept, ofRows };
    const before = this.bytes;
    for (let index = 0; index * length < ofRows.table.length; index += 1) this.visit(visiting, level, index);
    shape.bytes += this.bytes - before;
    this.forget(name);
    return true;
  }

  private visit<Value>(visiting: Visiting<Value>, level: number, index: number): void {
    const { making, ofRows, taking } = visiting;
    const stretch = stretchOf(level, index);
    if (stretch.first >= ofRows.table.length) return;
    const isFull = stretch.end <= ofRows.table.length;
    const holding = isFull ? holdingOf(making.chooser.ranges, making.whole, ofRows.spans, stretch) : 'some';
    if (holding === 'none') return;
    if (holding === 'all') taking.kept(this.fresh(visiting, level, index).value, stretch);
    else if (level === 0)
      taking.rows({ first: stretch.first, end: Math.min(stretch.end, ofRows.table.length) });
    else
      for (let part = 0; part < FAN_OUT; part += 1) this.visit(visiting, level - 1, index * FAN_OUT + part);
  }

  /** What is kept of a stretch as it is now. */
  private fresh<Value>(visiting: Visiting<Value>, level: number, index: number): Fresh<Value> {
    const { making, kept, ofRows } = visiting;
    const id = level * PAIR + index;
    const entry = kept.get(id);
    const known = entry as { stamp: number; value: Value } | undefined;
    if (known && known.stamp >= ofRows.stamps.at(level, index) && (making.isStill?.(known.value) ?? true))
      return { value: known.value, since: known.stamp, differences: [] };
    const { now } = ofRows.stamps;
    if (level === 0) {
      const value = making.counted(stretchOf(level, index));
      this.keep(visiting, id, { stamp: now, value });
      const differences = known && making.difference ? [making.difference(known.value, value)] : null;
      return { value, since: known?.stamp ?? now, differences };
    }
    const parts = Array.from({ length: FAN_OUT }, (_, part) =>
      this.fresh(visiting, level - 1, index * FAN_OUT + part),
    );
    const differences = known ? changesSince(known.stamp, parts) : null;
    if (known && differences && making.patch?.(known.value, differences)) {
      const since = known.stamp;
      known.stamp = now;
      return { value: known.value, since, differences };
    }
    const value = making.joined(parts.map((part) => part.value));
    this.keep(visiting, id, { stamp: now, value });
    return { value, since: now, differences: null };
  }

  private keep<Value>(
    { making, kept }: Visiting<Value>,
    id: number,
    entry: { stamp: number; value: Value },
  ): void {
    const known = kept.get(id) as { readonly value: Value } | undefined;
    this.bytes += bytesOf(making, entry.value) - (known ? bytesOf(making, known.value) : 0);
    kept.set(id, entry);
  }

  /** Lets go of what was asked for longest ago; of the question just answered only where it is too much by itself. */
  private forget(last: string): void {
    for (const [name, { bytes }] of this.shapes) {
      if (this.bytes <= this.most) return;
      if (name === last && this.shapes.size > 1) continue;
      this.shapes.delete(name);
      this.bytes -= bytes;
    }
  }
}

const bytesOf = <Value>(making: Making<Value>, value: Value): number =>
  OVERHEAD_BYTES + making.bytesOf(value);

function stretchOf(level: number, index: number): Stretch {
  const length = STRETCHES[level] ?? LEAST_STRETCH;
  return { first: index * length, end: (index + 1) * length };
}

/** All that changed in the parts of a value of some stamp; null where a part was made anew since, and so its changes are lost. */
function changesSince<Value>(stamp: number, parts: readonly Fresh<Value>[]): readonly Value[] | null {
  const found: Value[] = [];
  for (const { since, differences } of parts) {
    if (since > stamp || !differences) return null;
    found.push(...differences);
  }
  return found;
}

function isLong({ ranges }: Chooser, { table, spans }: OfRows): boolean {
  let held = 0;
  for (let span = 0; span * SPAN_ROWS < table.length; span += 1)
    if (spans.holds(span, ranges) !== 'none') held += 1;
  return held * SPAN_ROWS >= LEAST_STRETCHES * LEAST_STRETCH;
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
