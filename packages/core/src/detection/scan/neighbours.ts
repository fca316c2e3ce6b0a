import { GrowingNumbers } from '../model/growing.js';

/** Columns told apart in a table; a wider one is data that nobody reads by its headings. */
export const MOST_COLUMNS = 64;
/** Numbers of tables that are handed out before they begin again. */
const MOST_BLOCKS = 1_000_000_000;

/** Different values of a slot that are remembered. */
export const RECENT = 8;

/** Hash of a value for {@link Neighbours.isNew}; never 0. */
export function valueHash(values: ArrayLike<number>, length: number): number {
  let hash = 17;
  for (let at = 0; at < length; at += 1) hash = (Math.imul(hash, 31) + values[at]!) | 0;
  return hash === 0 ? 1 : hash;
}

/** The same for a value that is at hand as a text. */
export function textHash(text: string): number {
  let hash = 17;
  for (let at = 0; at < text.length; at += 1) hash = (Math.imul(hash, 31) + text.charCodeAt(at)) | 0;
  return hash === 0 ? 1 : hash;
}

/**
 * How many values of a pattern's shape stand in one column of a table, or in all of a text outside tables, and how many
 * of them pass its check. Each such place has a slot.
 */
export class Neighbours {
  private readonly shapedBySlot = new GrowingNumbers();
  private readonly passingBySlot = new GrowingNumbers();
  private readonly slotOfColumn: Int32Array;
  private readonly slotBlock: Int32Array;
  /** Added to numbers of tables, so that those of one text are not taken for those of another. */
  private blockBase = 0;

  /** Hashes of the last different values of each slot: the same value again is no further observation. */
  private readonly recent = new GrowingNumbers();

  constructor(private readonly patterns: number) {
    this.slotOfColumn = new Int32Array(patterns * MOST_COLUMNS);
    this.slotBlock = new Int32Array(patterns * MOST_COLUMNS).fill(-1);
  }

  /** Forgets the last text, which had so many tables. The first slots are for values outside tables, one a pattern. */
  begin(tables: number): void {
    this.blockBase += tables;
    if (this.blockBase > MOST_BLOCKS) {
      this.blockBase = 0;
      this.slotBlock.fill(-1);
    }
    this.shapedBySlot.zeros(this.patterns);
    this.passingBySlot.zeros(this.patterns);
    this.recent.zeros(this.patterns * RECENT);
  }

  /** Whether a value stands in this slot for the first time, as far back as it is remembered; remembers it. */
  isNew(slot: number, hash: number): boolean {
    const { values } = this.recent;
    const from = slot * RECENT;
    for (let at = from; at < from + RECENT; at += 1) if (values[at] === hash) return false;
    for (let at = from + RECENT - 1; at > from; at -= 1) values[at] = values[at - 1]!;
    values[from] = hash;
    return true;
  }

  /** Counts by slot, to be added to; good until another slot is asked for. */
  get shaped(): Int32Array {
    return this.shapedBySlot.values;
  }

  get passing(): Int32Array {
    return this.passingBySlot.values;
  }

  /** What stands around one value, itself left out. */
  around(slot: number): { shaped: number; passing: number } {
    return { shaped: this.shaped[slot]! - 1, passing: this.passing[slot]! - 1 };
  }

  slotOf(pattern: number, block: number, column: number): number {
    if (block === 0) return pattern;
    const key = pattern * MOST_COLUMNS + Math.min(column, MOST_COLUMNS - 1);
    if (this.slotBlock[key] !== block + this.blockBase) {
      this.slotBlock[key] = block + this.blockBase;
      this.slotOfColumn[key] = this.shapedBySlot.length;
      this.shapedBySlot.push(0);
      this.passingBySlot.push(0);
      for (let each = 0; each < RECENT; each += 1) this.recent.push(0);
    }
    return this.slotOfColumn[key]!;
  }
}
