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

  /** Whether a span may hold a time of a range: all of it surely does, some may, or none does. */
  holds(span: number, { from, to }: TimeRange): 'all' | 'some' | 'none' {
    const first = this.first[span] ?? Infinity;
    const last = this.last[span] ?? -Infinity;
    if (first >= to || last < from) return 'none';
    return first >= from && last < to ? 'all' : 'some';
  }
}
