import type { DeskColumns } from './desk-columns.js';
import { PAIR } from './pairs.js';

/** Most pairs of a rule and a person that stand in one array: 64 MB of times. */
const MOST_IN_ARRAY = 2 ** 23;
const MINUTE_MS = 60_000;

/** Which people each rule concerned. */
export class Marks {
  private readonly dense: Uint8Array | null;
  private readonly sparse = new Set<number>();
  private readonly counts: number[] = [];

  constructor(
    rules: number,
    private readonly people: number,
  ) {
    this.dense = rules * people <= MOST_IN_ARRAY ? new Uint8Array(rules * people) : null;
  }

  mark(rule: number, person: number): void {
    if (this.dense) {
      const at = rule * this.people + person;
      if (this.dense[at] === 1) return;
      this.dense[at] = 1;
    } else {
      const key = rule * PAIR + person;
      if (this.sparse.has(key)) return;
      this.sparse.add(key);
    }
    this.counts[rule] = (this.counts[rule] ?? 0) + 1;
  }

  count(rule: number): number {
    return this.counts[rule] ?? 0;
  }
}

/** A time for each rule and person; 0 for none. */
export class LastTimes {
  private readonly dense: Float64Array | null;
  private readonly sparse = new Map<number, number>();

  constructor(
    private readonly rules: number,
    private readonly people: number,
  ) {
    this.dense = rules * people <= MOST_IN_ARRAY ? new Float64Array(rules * people) : null;
  }

  /** Sets a time and returns the one before. */
  swap(rule: number, person: number, time: number): number {
    if (this.dense) {
      const at = rule * this.people + person;
      const before = this.dense[at] ?? 0;
      this.dense[at] = time;
      return before;
    }
    const key = rule * PAIR + person;
    const before = this.sparse.get(key) ?? 0;
    this.sparse.set(key, time);
    return before;
  }

  each(call: (rule: number, time: number) => void): void {
    if (!this.dense) {
      for (const [key, time] of this.sparse) if (time > 0) call(Math.floor(key / PAIR), time);
      return;
    }
    for (let rule = 0; rule < this.rules; rule += 1)
      for (let person = 0; person < this.people; person += 1) {
        const time = this.dense[rule * this.people + person] ?? 0;
        if (time > 0) call(rule, time);
      }
  }
}

/** Whole minutes from movements to their decisions, rule by rule. */
export class Minutes {
  private readonly rules: Uint32Array;
  private readonly values: Int32Array;
  private length = 0;
  private readonly time: ArrayLike<number>;
  private readonly decided: ArrayLike<number>;

  /** For `most` notes at most. */
  constructor({ incidents }: DeskColumns, most: number) {
    this.time = incidents.column('time').data;
    this.decided = incidents.column('decided').data;
    this.rules = new Uint32Array(most);
    this.values = new Int32Array(most);
  }

  /** Notes an incident where it is decided. */
  note(rule: number, row: number): void {
    const decided = this.decided[row] ?? Number.NaN;
    if (Number.isNaN(decided)) return;
    this.rules[this.length] = rule;
    this.values[this.length] = Math.trunc((decided - (this.time[row] ?? 0)) / MINUTE_MS);
    this.length += 1;
  }

  /** The median of each rule; the mean of the two in the middle where their number is even. */
  medians(): Map<number, number> {
    const ends: number[] = [];
    for (let at = 0; at < this.length; at += 1) {
      const rule = this.rules[at] ?? 0;
      ends[rule] = (ends[rule] ?? 0) + 1;
    }
    const places: number[] = [];
    let end = 0;
    for (const [rule, count = 0] of ends.entries()) {
      places[rule] = end;
      end += count;
    }
    const grouped = new Int32Array(this.length);
    for (let at = 0; at < this.length; at += 1) {
      const place = places[this.rules[at] ?? 0] ?? 0;
      grouped[place] = this.values[at] ?? 0;
      places[this.rules[at] ?? 0] = place + 1;
    }
    return new Map(
      ends.flatMap((count, rule) => {
        const last = places[rule] ?? 0;
        return count ? [[rule, middleOf(grouped.subarray(last - count, last))] as const] : [];
      }),
    );
  }
}

function middleOf(values: Int32Array): number {
  const middle = values.length >>> 1;
  const high = select(values, middle);
  if (values.length % 2 === 1) return high;
  let low = -Infinity;
  for (let at = 0; at < middle; at += 1) low = Math.max(low, values[at] ?? 0);
  return (low + high) / 2;
}

/** The value that stands at a place once they are sorted; smaller ones stand before it afterwards (Hoare's quickselect, 1961). */
function select(values: Int32Array, place: number): number {
  let [low, high] = [0, values.length - 1];
  while (low < high) {
    const pivot = values[(low + high) >>> 1] ?? 0;
    let [left, right] = [low, high];
    while (left <= right) {
      while ((values[left] ?? 0) < pivot) left += 1;
      while ((values[right] ?? 0) > pivot) right -= 1;
      if (left > right) break;
      const swapped = values[left] ?? 0;
      values[left] = values[right] ?? 0;
      values[right] = swapped;
      left += 1;
      right -= 1;
    }
    if (place <= right) high = right;
    else if (place >= left) low = left;
    else break;
  }
  return values[place] ?? 0;
}
