import { GrowingNumbers } from '../model/growing.js';

/** Columns told apart in a table; a wider one is data that nobody reads by its headings. */
export const MOST_COLUMNS = 64;
/** Numbers of tables that are handed out before they begin again. */
const MOST_BLOCKS = 1_000_000_000;

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
    }
    return this.slotOfColumn[key]!;
  }
}
