import type { RecordShape } from '../model/record-shape.js';
import { KeyedHash } from './keyed-hash.js';
import { normalForm } from './normal-form.js';
import { type ColumnKind, COLUMN_KINDS } from '../model/record-shape.js';

const { imul } = Math;

export const MAX_RECORDS = 1_000_000;
/** Columns beside the key: with them a million records take 53 MB. */
export const MAX_OTHER_COLUMNS = 8;
/** Columns of a file that are read at all. */
export const MAX_FILE_COLUMNS = 200;
/** Records that share one key; more are a column that is none. */
export const MOST_WITH_ONE_KEY = 16;
/** A value that more records than this share, and more than this part of them, is too common to tell one from another. */
const COMMON_COUNT = 50;
const COMMON_SHARE = 0.005;
/** A column whose records share so many of its values says little, and the report says so. */
const COMMON_COLUMN_SHARE = 0.5;

/** Keyed hashes of records and nothing else; all in one buffer that threads may share. */
export interface RecordIndex {
  readonly shape: RecordShape;
  readonly records: number;
  /** Lengths that keys have: nothing else is looked up. */
  readonly keyLengths: readonly number[];
  /** In which order digits and letters stand in keys, see {@link formShape}; null where there are too many orders. */
  readonly keyShapes: readonly number[] | null;
  /** Slots of two numbers, then the chain of each record, then the others of each record. */
  readonly buffer: ArrayBufferLike;
}

/** What became of the rows. */
export interface RecordReport {
  readonly rows: number;
  readonly records: number;
  /** Rows whose key is empty or cannot be looked for. */
  readonly withoutKey: number;
  /** Rows left out because too many share their key. */
  readonly keyTooCommon: number;
  /** Rows that repeat another one. */
  readonly repeated: number;
  /** By column beside the key: share of records with a value that counts, and whether the column is too common. */
  readonly columns: readonly {
    readonly name: string;
    readonly usable: number;
    readonly tooCommon: boolean;
  }[];
}

/** Orders of digits and letters that are kept; more say nothing. */
const MOST_SHAPES = 1_000;

/** One more character of a shape: the order of digits and letters as a number, 0 to begin with. */
export const nextShape = (shape: number, unit: number): number =>
  (imul(shape, 31) + (unit >= 48 && unit <= 57 ? 1 : 2)) | 0;

/** The order in which digits and letters stand in a normal form: all that is kept of how keys look. */
export function formShape(form: string): number {
  let shape = 0;
  for (let index = 0; index < form.length; index += 1) shape = nextShape(shape, form.charCodeAt(index));
  return shape;
}

/** Parts of the buffer as arrays. */
export function partsOf({ shape, records, buffer }: Pick<RecordIndex, 'shape' | 'records' | 'buffer'>) {
  const slots = slotCount(records);
  const table = new Uint32Array(buffer, 0, slots * 2);
  const next = new Uint32Array(buffer, slots * 8, records);
  const others = new Uint32Array(buffer, slots * 8 + records * 4, records * shape.others.length);
  return { table, next, others, mask: slots - 1 };
}

const slotCount = (records: number): number => 2 ** Math.ceil(Math.log2(Math.max(16, records * 1.6)));

/** Hash of a value of a kind; kinds are apart, so that a date is never a telephone number. */
export function hashValue(hash: KeyedHash, kind: ColumnKind, form: string): void {
  hash.text(`${COLUMN_KINDS.indexOf(kind)}:${form}`);
}

/** Takes records in row by row and keeps nothing of them but hashes. */
export class RecordIndexBuilder {
  private readonly hash: KeyedHash;
  private readonly lows: Numbers = new Numbers();
  private readonly highs: Numbers = new Numbers();
  private readonly values: Numbers = new Numbers();
  private readonly lengths = new Set<number>();
  private readonly shapes = new Set<number>();
  private rows = 0;
  private withoutKey = 0;

  constructor(
    private readonly shape: RecordShape,
    key: Uint8Array,
  ) {
    this.hash = new KeyedHash(key);
  }

  /** Records taken so far. */
  get count(): number {
    return this.lows.length;
  }

  /** One row: the key, then the others in the order of the shape. */
  add(key: string, others: readonly string[]): void {
    this.rows += 1;
    const form = normalForm(this.shape.key.kind, key);
    if (form === '') {
      this.withoutKey += 1;
      return;
    }
    this.lengths.add(form.length);
    if (this.shapes.size <= MOST_SHAPES) this.shapes.add(formShape(form));
    hashValue(this.hash, this.shape.key.kind, form);
    this.lows.push(this.hash.low);
    this.highs.push(this.hash.high);
    this.shape.others.forEach(({ kind }, index) => {
      const other = normalForm(kind, others[index] ?? '');
      if (other === '') this.values.push(0);
      else {
        hashValue(this.hash, kind, other);
        // Nought stands for nothing.
        this.values.push(this.hash.low || 1);
      }
    });
  }

  /** The index and what became of the rows; `makeBuffer` makes room that threads may share. */
  finish(makeBuffer: (bytes: number) => ArrayBufferLike): { index: RecordIndex; report: RecordReport } {
    const width = this.shape.others.length;
    const columns = this.shape.others.map(({ name }, column) => this.dropCommon(name, column, width));
    const records = this.lows.length;
    const slots = slotCount(records);
    const buffer = makeBuffer(slots * 8 + records * 4 + records * width * 4);
    const { table, next, others, mask } = partsOf({ shape: this.shape, records, buffer });
    let kept = 0;
    let keyTooCommon = 0;
    let repeated = 0;
    for (let row = 0; row < records; row += 1) {
      const high = this.highs.at(row);
      const mark = this.lows.at(row) || 1;
      let slot = high & mask;
      while (table[slot * 2 + 1] !== 0 && table[slot * 2] !== mark) slot = (slot + 1) & mask;
      const first = table[slot * 2 + 1]!;
      const chain = this.chainOf(first, { next, others, width, row });
      if (chain === 'same') repeated += 1;
      else if (chain >= MOST_WITH_ONE_KEY) keyTooCommon += 1;
      else {
        for (let column = 0; column < width; column += 1)
          others[kept * width + column] = this.values.at(row * width + column);
        table[slot * 2] = mark;
        next[kept] = first;
        table[slot * 2 + 1] = kept + 1;
        kept += 1;
      }
    }
    const { rows, withoutKey } = this;
    const report = { rows, records: kept, withoutKey, keyTooCommon, repeated, columns };
    const keyLengths = [...this.lengths].sort((left, right) => left - right);
    const keyShapes = this.shapes.size > MOST_SHAPES ? null : [...this.shapes];
    return { index: { shape: this.shape, records, keyLengths, keyShapes, buffer }, report };
  }

  /** How many records share a key so far, or that one of them is the same as this row. */
  private chainOf(
    first: number,
    at: { next: Uint32Array; others: Uint32Array; width: number; row: number },
  ): number | 'same' {
    let length = 0;
    for (let record = first; record !== 0; record = at.next[record - 1]!) {
      length += 1;
      let same = true;
      for (let column = 0; column < at.width && same; column += 1)
        same = at.others[(record - 1) * at.width + column] === this.values.at(at.row * at.width + column);
      if (same) return 'same';
    }
    return length;
  }

  /** Takes values out of a column that too many records share: a first name alone says nothing about anybody. */
  private dropCommon(name: string, column: number, width: number): RecordReport['columns'][number] {
    const records = this.lows.length;
    const sorted = new Uint32Array(records);
    for (let row = 0; row < records; row += 1) sorted[row] = this.values.at(row * width + column);
    sorted.sort();
    const common = new Set<number>([0]);
    const most = Math.max(COMMON_COUNT, records * COMMON_SHARE);
    for (let at = 0; at < records;) {
      let end = at + 1;
      while (end < records && sorted[end] === sorted[at]) end += 1;
      if (end - at > most) common.add(sorted[at]!);
      at = end;
    }
    let usable = 0;
    let filled = 0;
    for (let row = 0; row < records; row += 1) {
      const place = row * width + column;
      if (this.values.at(place) !== 0) filled += 1;
      if (common.has(this.values.at(place))) this.values.put(place, 0);
      else usable += 1;
    }
    const share = records === 0 ? 0 : usable / records;
    return { name, usable: share, tooCommon: filled > 0 && usable / filled < COMMON_COLUMN_SHARE };
  }
}

/** A row of numbers of 32 bits that grows. */
class Numbers {
  private values = new Uint32Array(4096);
  length = 0;

  push(value: number): void {
    if (this.length === this.values.length) {
      const next = new Uint32Array(this.values.length * 2);
      next.set(this.values);
      this.values = next;
    }
    this.values[this.length] = value;
    this.length += 1;
  }

  at(index: number): number {
    return this.values[index]!;
  }

  put(index: number, value: number): void {
    this.values[index] = value;
  }
}
