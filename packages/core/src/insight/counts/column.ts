import { Codes } from './codes.js';

/** How wide a column is: few different values, any number of them, or numbers (times are milliseconds since 1970). */
export type ColumnKind = 'choice' | 'words' | 'number';

type Data = Uint8Array | Uint32Array | Float64Array;

const ARRAYS = { choice: Uint8Array, words: Uint32Array, number: Float64Array } as const;
const FIRST_CAPACITY = 1_024;
/** Different values of a column of choices. */
const MOST_CHOICES = 255;

/** The values of one field, a row after the other. */
export class Column {
  readonly codes: Codes | null;
  data: Data;

  constructor(readonly kind: ColumnKind) {
    this.codes = kind === 'number' ? null : new Codes();
    this.data = new ARRAYS[kind](FIRST_CAPACITY);
  }

  /** Throws a RangeError for a 256th value of a column of choices. */
  set(row: number, value: string | number | null): void {
    this.data = grown(this.data, row + 1);
    if (!this.codes) {
      this.data[row] = value === null ? Number.NaN : Number(value);
      return;
    }
    const code = this.codes.codeOf(value === null ? null : String(value));
    if (this.kind === 'choice' && code > MOST_CHOICES) throw new RangeError('More than 255 choices');
    this.data[row] = code;
  }

  copy(from: number, to: number): void {
    this.data[to] = this.data[from] ?? 0;
  }
}

/** An array with room for `length` numbers: the same, or a copy of twice its size. */
export function grown<Kind extends Data | Int32Array>(data: Kind, length: number): Kind {
  if (length <= data.length) return data;
  const larger = new (data.constructor as new (length: number) => Kind)(Math.max(length, data.length * 2));
  larger.set(data);
  return larger;
}
