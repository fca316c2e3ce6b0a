import {
  CAPITAL_UNIT,
  LONE_LETTER,
  NO_LETTER,
  SEPARATOR,
  UNIT_CLASSES,
  WORD_UNITS,
} from '../../text/fold.js';
import { toSearchText } from '../../text/search-text.js';

const { imul } = Math;

/** An entry to be looked for: a word or a phrase. */
export interface DictionaryEntry {
  readonly text: string;
  /** Counts only where it is written in capitals. */
  readonly capitals: boolean;
  /** A phrase is also found where its words are written as one. */
  readonly joined: boolean;
}

/** A run of letters and digits with the hash of its folded letters. */
export interface Run {
  start: number;
  end: number;
  hash: number;
}

/** Separators that may stand between two words of a phrase: a line break with an indent or a quotation mark, and less. */
export const MOST_BETWEEN = 6;

interface Phrase {
  readonly entry: number;
  /** Folded letters of each word. */
  readonly words: readonly Uint16Array[];
  /** The word by which the phrase is found: its longest, which is its rarest as a rule. */
  readonly key: number;
  readonly capitals: boolean;
}

/** Folded words of a text, as the dictionary compares them. */
export function foldedWords(text: string): string[] {
  const { units } = toSearchText(text);
  const words: string[] = [];
  let word = '';
  for (const unit of units) {
    const unitClass = UNIT_CLASSES[unit] ?? SEPARATOR;
    if (unitClass === SEPARATOR || unitClass === LONE_LETTER) {
      if (word !== '') words.push(word);
      word = '';
      if (unitClass === LONE_LETTER) words.push(String.fromCharCode(WORD_UNITS[unit] ?? unit));
      continue;
    }
    const folded = WORD_UNITS[unit] ?? NO_LETTER;
    if (folded !== NO_LETTER) word += String.fromCharCode(folded);
  }
  if (word !== '') words.push(word);
  return words;
}

/** Bytes of {@link Dictionary.known}, less one. */
export const KNOWN_MASK = (1 << 16) - 1;

/** Hash of one folded word; the scanner computes the same while it passes over a run. */
export function nextHash(hash: number, unit: number): number {
  return (imul(hash, 31) + unit) | 0;
}

/**
 * Words and phrases in one table of hashes. A phrase of several words is also known written as one (`cardNumber`), and
 * is found by its rarest word, since a common one would be looked at far too often.
 */
export class Dictionary {
  private readonly phrases: Phrase[] = [];
  private readonly slots: Int32Array;
  private readonly hashes: Int32Array;
  /** Next phrase with the same slot, by phrase; -1 at the end. */
  private readonly following: Int32Array;
  private readonly mask: number;
  /** One bit for hashes that may be known: nearly all words of a text end here. */
  readonly known = new Uint8Array(KNOWN_MASK + 1);

  constructor(entries: readonly DictionaryEntry[]) {
    entries.forEach((entry, index) => this.add(entry, index));
    const size = 2 ** Math.ceil(Math.log2(Math.max(16, this.phrases.length * 4)));
    this.mask = size - 1;
    this.slots = new Int32Array(size).fill(-1);
    this.hashes = new Int32Array(this.phrases.length);
    this.following = new Int32Array(this.phrases.length);
    this.phrases.forEach((phrase, index) => {
      let hash = 0;
      for (const letter of phrase.words[phrase.key] ?? []) hash = nextHash(hash, letter);
      const slot = this.slotOf(hash);
      this.hashes[index] = hash;
      this.following[index] = this.slots[slot] ?? -1;
      this.slots[slot] = index;
      this.known[(hash >>> 3) & KNOWN_MASK]! |= 1 << (hash & 7);
    });
  }

  get size(): number {
    return this.phrases.length;
  }

  /** First phrase whose key word may have this hash, or -1; cheap enough for every word of a text. */
  first(hash: number): number {
    if ((this.known[(hash >>> 3) & KNOWN_MASK]! & (1 << (hash & 7))) === 0) return -1;
    return this.slots[this.slotOf(hash)]!;
  }

  /**
   * Calls `found` with entry, start and end for every phrase whose key word is the run from `start` to `end`. Offsets
   * are in units; the run's hash must be the one that `first` was asked with.
   */
  match(units: Uint16Array, run: Run, found: (entry: number, start: number, end: number) => void): void {
    const { start, end, hash } = run;
    for (let index = this.first(hash); index >= 0; index = this.following[index]!) {
      if (this.hashes[index] !== hash) continue;
      const { words, key, capitals, entry } = this.phrases[index]!;
      if (!sameWord(units, start, end, words[key]!)) continue;
      let from = start;
      let to = end;
      for (let word = key - 1; word >= 0 && from >= 0; word -= 1)
        from = wordBefore(units, from, words[word]!);
      for (let word = key + 1; word < words.length && to >= 0; word += 1)
        to = wordAfter(units, to, words[word]!);
      if (from >= 0 && to >= 0 && (!capitals || inCapitals(units, from, to))) found(entry, from, to);
    }
  }

  /** The same for a part of a longer name, `Number` in `cardNumber`: only words that stand alone. */
  matchAlone(units: Uint16Array, run: Run, found: (entry: number, start: number, end: number) => void): void {
    const { start, end, hash } = run;
    for (let index = this.first(hash); index >= 0; index = this.following[index]!) {
      if (this.hashes[index] !== hash) continue;
      const { words, capitals, entry } = this.phrases[index]!;
      if (words.length > 1 || !sameWord(units, start, end, words[0]!)) continue;
      if (!capitals || inCapitals(units, start, end)) found(entry, start, end);
    }
  }

  private add(entry: DictionaryEntry, index: number): void {
    const words = foldedWords(entry.text);
    if (words.length === 0) return;
    this.phrases.push(phraseOf(words, index, entry.capitals));
    const latin = words.every((word) => word.length > 1 || /[a-z0-9]/.test(word));
    if (entry.joined && words.length > 1 && latin)
      this.phrases.push(phraseOf([words.join('')], index, entry.capitals));
  }

  private slotOf(hash: number): number {
    return (hash ^ (hash >>> 15)) & this.mask;
  }
}

function phraseOf(words: readonly string[], entry: number, capitals: boolean): Phrase {
  const letters = words.map((word) => Uint16Array.from(word.split(''), (unit) => unit.charCodeAt(0)));
  const rarest = Math.max(...words.map(rarity));
  return { entry, words: letters, key: words.findIndex((word) => rarity(word) === rarest), capitals };
}

/** Words that nearly every text is full of (common practice, no source); a phrase is not looked for by one of these. */
const COMMON = new Set(
  'a an and are as at be by de del der des di die do el en for from i id in is it la le nr no number of on or the to und with you your'.split(
    ' ',
  ),
);

/** The longer a word, the rarer as a rule. */
const rarity = (word: string): number => word.length - (COMMON.has(word) ? 16 : 0);

/** Whether the units of a run, folded, are this word. */
function sameWord(units: Uint16Array, start: number, end: number, word: Uint16Array): boolean {
  let place = 0;
  for (let at = start; at < end; at += 1) {
    const folded = WORD_UNITS[units[at] ?? 0] ?? NO_LETTER;
    if (folded === NO_LETTER) continue;
    if (folded !== word[place]) return false;
    place += 1;
  }
  return place === word.length;
}

const isWordUnit = (unit: number): boolean => (UNIT_CLASSES[unit] ?? SEPARATOR) !== SEPARATOR;
const isLone = (unit: number): boolean => UNIT_CLASSES[unit] === LONE_LETTER;

/** Whether a unit may be this letter of a word; marks that are left out may stand anywhere. */
const mayBe = (unit: number, letter: number): boolean => {
  const folded = WORD_UNITS[unit]!;
  return folded === letter || folded === NO_LETTER;
};

/** Start of the word before `from` when it is `word`, else -1. */
function wordBefore(units: Uint16Array, from: number, word: Uint16Array): number {
  let end = from;
  while (end > 0 && from - end < MOST_BETWEEN && !isWordUnit(units[end - 1] ?? 0)) end -= 1;
  if (!mayBe(units[end - 1] ?? 0, word[word.length - 1]!)) return -1;
  let start = end;
  if (start > 0 && isLone(units[start - 1] ?? 0)) start -= 1;
  else
    while (
      start > 0 &&
      end - start < 64 &&
      isWordUnit(units[start - 1] ?? 0) &&
      !isLone(units[start - 1] ?? 0)
    )
      start -= 1;
  return start < end && sameWord(units, start, end, word) ? start : -1;
}

/** End of the word after `to` when it is `word`, else -1. */
function wordAfter(units: Uint16Array, to: number, word: Uint16Array): number {
  let start = to;
  while (start < units.length && start - to < MOST_BETWEEN && !isWordUnit(units[start] ?? 0)) start += 1;
  if (!mayBe(units[start] ?? 0, word[0]!)) return -1;
  let end = start;
  if (end < units.length && isLone(units[end] ?? 0)) end += 1;
  else
    while (end < units.length && end - start < 64 && isWordUnit(units[end] ?? 0) && !isLone(units[end] ?? 0))
      end += 1;
  return start < end && sameWord(units, start, end, word) ? end : -1;
}

function inCapitals(units: Uint16Array, from: number, to: number): boolean {
  for (let at = from; at < to; at += 1) {
    const unitClass = UNIT_CLASSES[units[at] ?? 0] ?? SEPARATOR;
    if (unitClass !== CAPITAL_UNIT && unitClass !== SEPARATOR) return false;
  }
  return true;
}
