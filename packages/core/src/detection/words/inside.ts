import { NO_LETTER, SEPARATOR, UNIT_CLASSES, WORD_UNITS } from '../../text/fold.js';
import type { ListedHit } from '../model/passed.js';
import { toSearchText } from '../../text/search-text.js';
import { MOST_BETWEEN } from './dictionary.js';

/** What stands for everything between two words. */
const BETWEEN = 32;
const NOTHING = -1;

/** An entry with the number of its meaning. */
export interface InsideEntry {
  readonly text: string;
  readonly meaning: number;
}

/**
 * Words and phrases found anywhere, also inside longer words, in one pass however many they are (A. V. Aho, M. J.
 * Corasick, Efficient String Matching, 1975). Case, accents and width are folded; what stands between two words of a
 * phrase may be any separators. Where several entries end at one place, the longest is told.
 */
export class InsideWords {
  private readonly firstChild: Int32Array;
  private readonly nextSibling: Int32Array;
  private readonly unit: Uint16Array;
  private readonly fail: Int32Array;
  /** Meaning of the longest entry that ends at a place of the tree, and how many letters it has; -1 for none. */
  private readonly meaning: Int32Array;
  private readonly length: Int32Array;
  private readonly root = new Int32Array(65_536).fill(0);
  private readonly deepest: number;
  private nodes = 1;

  constructor(entries: readonly InsideEntry[]) {
    const folded = entries
      .map(({ text, meaning }) => ({ letters: lettersOf(text), meaning }))
      .filter(({ letters }) => letters !== '');
    const most = folded.reduce((sum, { letters }) => sum + letters.length, 1);
    this.firstChild = new Int32Array(most).fill(NOTHING);
    this.nextSibling = new Int32Array(most).fill(NOTHING);
    this.unit = new Uint16Array(most);
    this.fail = new Int32Array(most);
    this.meaning = new Int32Array(most).fill(NOTHING);
    this.length = new Int32Array(most);
    this.deepest = folded.reduce((longest, { letters }) => Math.max(longest, letters.length), 0);
    for (const { letters, meaning } of folded) this.add(letters, meaning);
    this.link();
  }

  /** At most `most` places, in the order in which they end. */
  find(units: Uint16Array, most: number): ListedHit[] {
    const hits: ListedHit[] = [];
    if (this.nodes === 1) return hits;
    // Where each of the last letters stands: what is left out and what is put together moves them.
    let size = 1;
    while (size <= this.deepest) size *= 2;
    const places = new Int32Array(size);
    const mask = size - 1;
    let read = 0;
    let node = 0;
    let gap = 0;
    for (let at = 0; at < units.length; at += 1) {
      const unit = units[at]!;
      let letter: number;
      if (UNIT_CLASSES[unit] === SEPARATOR) {
        gap += 1;
        if (gap > MOST_BETWEEN) node = 0;
        if (gap !== 1) continue;
        letter = BETWEEN;
      } else {
        gap = 0;
        letter = WORD_UNITS[unit]!;
        if (letter === NO_LETTER) continue;
      }
      places[read & mask] = at;
      read += 1;
      node = this.step(node, letter);
      const meaning = this.meaning[node]!;
      if (meaning === NOTHING) continue;
      hits.push({ meaning, start: places[(read - this.length[node]!) & mask]!, end: at + 1 });
      if (hits.length >= most) break;
    }
    return hits;
  }

  private step(from: number, letter: number): number {
    let node = from;
    while (node !== 0) {
      const child = this.child(node, letter);
      if (child !== NOTHING) return child;
      node = this.fail[node]!;
    }
    return this.root[letter]!;
  }

  private child(node: number, letter: number): number {
    let child = this.firstChild[node]!;
    while (child !== NOTHING && this.unit[child] !== letter) child = this.nextSibling[child]!;
    return child;
  }

  private add(letters: string, meaning: number): void {
    let node = 0;
    for (let index = 0; index < letters.length; index += 1) {
      const letter = letters.charCodeAt(index);
      let child = this.child(node, letter);
      if (child === NOTHING) {
        child = this.nodes;
        this.nodes += 1;
        this.unit[child] = letter;
        this.nextSibling[child] = this.firstChild[node]!;
        this.firstChild[node] = child;
        if (node === 0) this.root[letter] = child;
      }
      node = child;
    }
    if (this.meaning[node] === NOTHING) {
      this.meaning[node] = meaning;
      this.length[node] = letters.length;
    }
  }

  /** Says for each place where to go on when the next letter does not fit, breadth first. */
  private link(): void {
    const queue = new Int32Array(this.nodes);
    let end = 0;
    for (let child = this.firstChild[0]!; child !== NOTHING; child = this.nextSibling[child]!)
      queue[end++] = child;
    for (let at = 0; at < end; at += 1) {
      const node = queue[at]!;
      for (let child = this.firstChild[node]!; child !== NOTHING; child = this.nextSibling[child]!) {
        const fail = this.step(this.fail[node]!, this.unit[child]!);
        this.fail[child] = fail === child ? 0 : fail;
        if (this.meaning[child] === NOTHING) {
          this.meaning[child] = this.meaning[this.fail[child]!]!;
          this.length[child] = this.length[this.fail[child]!]!;
        }
        queue[end++] = child;
      }
    }
  }
}

/** An entry as the pass over a text reads it: folded letters, and one blank for whatever stands between words. */
function lettersOf(text: string): string {
  const letters = Array.from(toSearchText(text).units, (unit) =>
    UNIT_CLASSES[unit] === SEPARATOR
      ? ' '
      : WORD_UNITS[unit] === NO_LETTER
        ? ''
        : String.fromCharCode(WORD_UNITS[unit]!),
  );
  return letters.join('').replace(/ +/g, ' ').trim();
}
