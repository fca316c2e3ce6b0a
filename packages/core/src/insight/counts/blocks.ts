import { grown } from './column.js';

/** Share of a store that may be left over before it is packed anew. */
const LEFT_OVER = 0.5;
const FIRST_CAPACITY = 4_096;

/** A few numbers for each row, `width` together, one behind the other in one array. */
export class Blocks {
  data = new Uint32Array(FIRST_CAPACITY);
  /** Where the block of a row begins in `data`, and how many entries it has. */
  starts = new Uint32Array(FIRST_CAPACITY);
  counts = new Uint32Array(FIRST_CAPACITY);
  private rooms = new Uint32Array(FIRST_CAPACITY);
  private end = 0;
  private leftOver = 0;

  constructor(readonly width: number) {}

  /** Sets the entries of a row: `numbers` holds `width` a piece. */
  set(row: number, numbers: readonly number[]): void {
    for (const name of ['starts', 'counts', 'rooms'] as const) this[name] = grown(this[name], row + 1);
    const count = numbers.length / this.width;
    if (count > (this.rooms[row] ?? 0)) {
      this.leftOver += this.rooms[row] ?? 0;
      this.starts[row] = this.end;
      this.rooms[row] = count;
      this.end += numbers.length;
      this.data = grown(this.data, this.end);
    }
    this.counts[row] = count;
    this.data.set(numbers, this.starts[row] ?? 0);
  }

  move(from: number, to: number): void {
    this.leftOver += this.rooms[to] ?? 0;
    for (const name of ['starts', 'counts', 'rooms'] as const) this[name][to] = this[name][from] ?? 0;
    for (const name of ['counts', 'rooms'] as const) this[name][from] = 0;
  }

  forget(row: number): void {
    this.leftOver += this.rooms[row] ?? 0;
    this.counts[row] = 0;
    this.rooms[row] = 0;
  }

  /** Packs the entries of the first `rows` rows, where much is left over. */
  pack(rows: number): void {
    if (this.leftOver * this.width < this.end * LEFT_OVER) return;
    const packed = new Uint32Array(this.data.length);
    let end = 0;
    for (let row = 0; row < rows; row += 1) {
      const length = (this.counts[row] ?? 0) * this.width;
      const start = this.starts[row] ?? 0;
      packed.set(this.data.subarray(start, start + length), end);
      this.starts[row] = end;
      this.rooms[row] = this.counts[row] ?? 0;
      end += length;
    }
    this.data = packed;
    this.end = end;
    this.leftOver = 0;
  }
}
