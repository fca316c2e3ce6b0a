import { grown } from './column.js';

const FIRST_SLOTS = 4_096;
const FREE = 0;
const GONE = 0xffffffff;

/**
 * Rows by the id of their movement, a UUID, in 12 bytes a row: a table with open addressing over 64 bits mixed from all 128.
 * Two ids of five million that mix to the same are less likely than one in a million.
 */
export class RowIndex {
  private slots = new Uint32Array(FIRST_SLOTS);
  private high = new Uint32Array(FIRST_SLOTS);
  private low = new Uint32Array(FIRST_SLOTS);
  private used = 0;

  /** The row of an id; -1 for none. */
  find(id: string): number {
    const slot = this.slotOf(mixed(id), false);
    return slot < 0 ? -1 : (this.slots[slot] ?? 0) - 1;
  }

  set(id: string, row: number): void {
    const key = mixed(id);
    const slot = this.slotOf(key, true);
    if (this.slots[slot] === FREE) this.used += 1;
    this.slots[slot] = row + 1;
    this.high = grown(this.high, row + 1);
    this.low = grown(this.low, row + 1);
    this.high[row] = key.high;
    this.low[row] = key.low;
    if (this.used * 2 > this.slots.length) this.widen();
  }

  /** Forgets a row. The last row is to be moved into its place with {@link moved}. */
  forget(row: number): void {
    const slot = this.slotOf(this.keyOf(row), false);
    if (slot >= 0) this.slots[slot] = GONE;
  }

  moved(from: number, to: number): void {
    const key = this.keyOf(from);
    const slot = this.slotOf(key, false);
    if (slot >= 0) this.slots[slot] = to + 1;
    this.high[to] = key.high;
    this.low[to] = key.low;
  }

  private keyOf(row: number): Key {
    return { high: this.high[row] ?? 0, low: this.low[row] ?? 0 };
  }

  private slotOf({ high, low }: Key, wanted: boolean): number {
    const mask = this.slots.length - 1;
    let free = -1;
    for (let slot = low & mask; ; slot = (slot + 1) & mask) {
      const held = this.slots[slot] ?? FREE;
      if (held === FREE) return wanted ? (free >= 0 ? free : slot) : -1;
      if (held === GONE) {
        if (free < 0) free = slot;
      } else if (this.low[held - 1] === low && this.high[held - 1] === high) return slot;
    }
  }

  private widen(): void {
    const rows = this.slots.filter((held) => held !== FREE && held !== GONE);
    this.slots = new Uint32Array(this.slots.length * 2);
    this.used = rows.length;
    for (const held of rows) this.slots[this.slotOf(this.keyOf(held - 1), true)] = held;
  }
}

interface Key {
  readonly high: number;
  readonly low: number;
}

/** Multiplication and shifts of MurmurHash3's finaliser (Appleby, public domain; constants from memory). */
function mixed(id: string): Key {
  const hex = id.replaceAll('-', '');
  let high = 0x9e3779b9;
  let low = 0x85ebca6b;
  for (let at = 0; at < hex.length; at += 8) {
    const word = Number.parseInt(hex.slice(at, at + 8), 16) | 0;
    high = Math.imul(high ^ word, 0x85ebca6b);
    high ^= high >>> 13;
    low = Math.imul(low ^ word ^ high, 0xc2b2ae35);
    low ^= low >>> 16;
  }
  return { high: high >>> 0, low: low >>> 0 };
}
