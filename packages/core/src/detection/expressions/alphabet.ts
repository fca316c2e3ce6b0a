import { ASK, type Automaton, READ } from './automaton.js';
import { BREAK_RANGES, WORD_RANGES } from './read.js';
import { LAST_UNIT, type Ranges } from './ranges.js';

/**
 * Units that no expression tells apart, as one letter. Steps of an automaton are kept by letter: a few dozen in place
 * of 65,536. The last letter stands for the ends of the text.
 */
export class Alphabet {
  /** Letter of every unit. */
  readonly letterOf = new Uint16Array(LAST_UNIT + 1);
  readonly size: number;
  private readonly members = new WeakMap<Ranges, Uint8Array>();

  constructor({ places }: Automaton) {
    const sets = new Map<string, Ranges>();
    const add = (set: Ranges): unknown => sets.set(String(set), set);
    add(WORD_RANGES);
    add(BREAK_RANGES);
    for (const place of places) {
      if (place.does === READ) add(place.of);
      else if (place.does === ASK && place.question.kind === 'beside') add(place.question.of);
    }
    const sizes = [LAST_UNIT + 1];
    for (const set of sets.values()) this.divide(set, sizes);
    this.size = sizes.length + 1;
  }

  /** The letter for what lies before the text and behind it. */
  get edge(): number {
    return this.size - 1;
  }

  /** Whether each letter belongs to a set; the edge belongs to none. */
  tableOf(set: Ranges): Uint8Array {
    const known = this.members.get(set);
    if (known) return known;
    const table = new Uint8Array(this.size);
    for (const [from, to] of set)
      for (let unit = from; unit <= to; unit += 1) table[this.letterOf[unit]!] = 1;
    this.members.set(set, table);
    return table;
  }

  /** Gives units inside the set letters of their own wherever they share one with units outside. `sizes` is by letter. */
  private divide(set: Ranges, sizes: number[]): void {
    const within = new Uint32Array(sizes.length);
    for (const [from, to] of set)
      for (let unit = from; unit <= to; unit += 1) within[this.letterOf[unit]!]! += 1;
    const inside = new Map<number, number>();
    within.forEach((count, letter) => {
      if (count === 0 || count === sizes[letter]) return;
      inside.set(letter, sizes.length);
      sizes.push(count);
      sizes[letter]! -= count;
    });
    if (inside.size === 0) return;
    for (const [from, to] of set) {
      for (let unit = from; unit <= to; unit += 1) {
        const own = inside.get(this.letterOf[unit]!);
        if (own !== undefined) this.letterOf[unit] = own;
      }
    }
  }
}
