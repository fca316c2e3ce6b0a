import { grown } from './column.js';
import type { TimeRange } from './plan.js';

/** Rows of one span. */
export const SPAN_ROWS = 1_024;

/** The earliest and the latest time in each run of rows: those without any within a period are passed over. */
export class Spans {
  private first = new Float64Array(0);
  private last = new Float64Array(0);

  note(row: number, time: number): void {
    const span = Math.floor(row / SPAN_ROWS);
    const known = this.first.length;
    if (span >= known) {
      this.first = grown(this.first, span + 1).fill(Infinity, known);
      this.last = grown(this.last, span + 1).fill(-Infinity, known);
    }
    if (time < (this.first[span] ?? Infinity)) this.first[span] = time;
    if (time > (this.last[span] ?? -Infinity)) this.last[span] = time;
  }

  earliest(span: number): number {
    return this.first[span] ?? Infinity;
  }

  latest(span: number): number {
    return this.last[span] ?? -Infinity;
  }

  /** The ranges that a span may hold times of. */
  meeting(span: number, ranges: readonly TimeRange[]): readonly TimeRange[] {
    if (ranges.length === 1) return ranges;
    return ranges.filter(({ from, to }) => this.earliest(span) < to && this.latest(span) >= from);
  }

  /** Whether a span holds times of some ranges: all of it is within one, some may be, or none is. */
  holds(span: number, ranges: readonly TimeRange[]): 'all' | 'some' | 'none' {
    const first = this.first[span] ?? Infinity;
    const last = this.last[span] ?? -Infinity;
    let found: 'some' | 'none' = 'none';
    for (const { from, to } of ranges) {
      if (first >= from && last < to) return 'all';
      if (first < to && last >= from) found = 'some';
    }
    return found;
  }
}
