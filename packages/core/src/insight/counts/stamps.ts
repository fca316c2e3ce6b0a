import { grown } from './column.js';
import { SPAN_ROWS } from './spans.js';

/** Rows of the shortest stretch, and how many of each length make one of the next. */
export const LEAST_STRETCH = SPAN_ROWS;
export const FAN_OUT = 4;
/** Lengths of stretches in rows, each four times the one before: a million rows are the longest. */
export const STRETCHES: readonly number[] = Array.from(
  { length: 6 },
  (_, level) => LEAST_STRETCH * FAN_OUT ** level,
);

/** When something last changed within each stretch of rows, on a clock that goes on with every change. */
export class Stamps {
  now = 0;
  private readonly levels = STRETCHES.map(() => new Float64Array(0));

  note(row: number): void {
    this.now += 1;
    for (const [level, length] of STRETCHES.entries()) {
      const index = Math.floor(row / length);
      const stamps = grown(this.levels[level] ?? new Float64Array(0), index + 1);
      stamps[index] = this.now;
      this.levels[level] = stamps;
    }
  }

  at(level: number, index: number): number {
    return this.levels[level]?.[index] ?? 0;
  }
}
