import { classBit, DIGIT_UNIT, LONE_LETTER, SEPARATOR, UNIT_FACTS } from '../../text/fold.js';
import type { SearchText } from '../../text/search-text.js';
import { foldedWords } from '../words/dictionary.js';
import { hashValue, nextShape, partsOf, type RecordIndex } from './index-of-records.js';
import { KeyedHash } from './keyed-hash.js';
import { dateForms, MOST_WORDS, nameForm, numberForm, phoneForm } from './normal-form.js';
import { type ColumnKind } from '../model/record-shape.js';

/** A record that stands in a text: the key's place, and which columns stand near it. */
export interface RecordHit {
  readonly start: number;
  readonly end: number;
  /** Places of the columns among the others. */
  readonly columns: readonly number[];
}

/** Separators that may stand between the pieces of one number: `MS 104-233`. */
const WITHIN_NUMBER = new Set([32, 45, 46, 47, 95, 40, 41]);
/** Length of the normal form of a key from which it is no longer told apart. */
const LONGEST_KEY = 512;
/** Pieces of one number. */
const MOST_PIECES = 6;
/** Units between two words of a name, between the pieces of a date. */
const MOST_BETWEEN_WORDS = 3;

const SEPARATOR_BIT = classBit(SEPARATOR);
const LONE_BIT = classBit(LONE_LETTER);
const END_BITS = SEPARATOR_BIT | LONE_BIT;
const DIGIT_BIT = classBit(DIGIT_UNIT);

/** A text with its runs of letters and digits. */
interface Tokens extends Pick<SearchText, 'text' | 'units'> {
  readonly runs: Runs;
}

/** Runs of letters and digits of a text, in order; filled anew for each text. */
class Runs {
  starts = new Int32Array(4096);
  ends = new Int32Array(4096);
  /** 1 where a run holds a digit. */
  digits = new Uint8Array(4096);
  length = 0;

  fill(units: Uint16Array): void {
    this.length = 0;
    const { length } = units;
    let at = 0;
    while (at < length) {
      let fact = UNIT_FACTS[units[at]!]!;
      if ((fact & SEPARATOR_BIT) !== 0) {
        at += 1;
        continue;
      }
      const start = at;
      let bits = fact;
      at += 1;
      if ((fact & LONE_BIT) === 0)
        for (; at < length; at += 1) {
          fact = UNIT_FACTS[units[at]!]!;
          if ((fact & END_BITS) !== 0) break;
          bits |= fact;
        }
      this.add(start, at, (bits & DIGIT_BIT) === 0 ? 0 : 1);
    }
  }

  /** Number of the run that begins at a unit. */
  at(start: number): number {
    let low = 0;
    let high = this.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.starts[middle]! < start) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private add(start: number, end: number, digits: number): void {
    if (this.length === this.starts.length) this.grow();
    this.starts[this.length] = start;
    this.ends[this.length] = end;
    this.digits[this.length] = digits;
    this.length += 1;
  }

  private grow(): void {
    const { starts, ends, digits } = this;
    this.starts = new Int32Array(starts.length * 2);
    this.ends = new Int32Array(starts.length * 2);
    this.digits = new Uint8Array(starts.length * 2);
    this.starts.set(starts);
    this.ends.set(ends);
    this.digits.set(digits);
  }
}

/** Looks for the organisation's records in texts. Holds the key of the hashes, and no value. */
export class RecordMatcher {
  private readonly hash: KeyedHash;
  private readonly parts: ReturnType<typeof partsOf>;
  private readonly lengths: Uint8Array;
  private readonly otherKinds: readonly ColumnKind[];
  private readonly runs = new Runs();
  private readonly longest: number;
  private readonly shapes: ReadonlySet<number> | null;

  constructor(
    private readonly index: RecordIndex,
    key: Uint8Array,
  ) {
    this.hash = new KeyedHash(key);
    this.parts = partsOf(index);
    this.lengths = new Uint8Array(LONGEST_KEY);
    for (const length of index.keyLengths) if (length < LONGEST_KEY) this.lengths[length] = 1;
    this.longest = Math.min(LONGEST_KEY - 1, Math.max(0, ...index.keyLengths));
    this.shapes = index.keyShapes === null ? null : new Set(index.keyShapes);
    this.otherKinds = [...new Set(index.shape.others.map(({ kind }) => kind))];
  }

  /**
   * Every record whose key stands in the text with enough of its other columns near it; keys never overlap. `digitRuns`
   * are starts of runs with digits, where somebody has found them already.
   */
  find(search: Pick<SearchText, 'text' | 'units'>, digitRuns: Int32Array | null = null): RecordHit[] {
    const { index, runs } = this;
    const { text, units } = search;
    if (index.records === 0) return [];
    const starts = index.shape.key.kind === 'number' && digitRuns ? this.keyStarts(units, digitRuns) : null;
    if (starts?.length === 0) return [];
    runs.fill(units);
    const tokens: Tokens = { text, units, runs };
    const memo = new Map<string, number>();
    const hits: RecordHit[] = [];
    let end = -1;
    const places = starts ? starts.map((start) => runs.at(start)) : runs.length;
    const count = typeof places === 'number' ? places : places.length;
    for (let number = 0; number < count; number += 1) {
      const place = typeof places === 'number' ? number : places[number]!;
      if (runs.starts[place]! < end) continue;
      const hit = this.keyAt(tokens, place, memo);
      if (!hit) continue;
      hits.push(hit);
      ({ end } = hit);
    }
    return hits;
  }

  /**
   * Whether what begins at a unit has the length and the order of digits and letters of any key: nearly everything ends
   * here, before anything is made of it.
   */
  private mayBeKey(units: Uint16Array, start: number): boolean {
    let length = 0;
    let shape = 0;
    let at = start;
    for (let piece = 0; piece < MOST_PIECES; piece += 1) {
      const from = at;
      for (; at < units.length && (UNIT_FACTS[units[at]!]! & END_BITS) === 0; at += 1) {
        shape = nextShape(shape, units[at]!);
        length += 1;
        if (length > this.longest) return false;
      }
      if (at === from) return false;
      if (this.lengths[length] === 1 && (this.shapes === null || this.shapes.has(shape))) return true;
      const next = at;
      while (at < units.length && at - next < 2 && WITHIN_NUMBER.has(units[at]!)) at += 1;
    }
    return false;
  }

  /** Units at which a key may begin: at a run with digits, or at a few letters right in front of one. */
  private keyStarts(units: Uint16Array, digitRuns: Int32Array): number[] {
    const starts: number[] = [];
    for (const start of digitRuns) {
      let before = start;
      while (before > 0 && start - before < 2 && WITHIN_NUMBER.has(units[before - 1]!)) before -= 1;
      let from = before;
      while (from > 0 && before - from <= LONGEST_PREFIX && (UNIT_FACTS[units[from - 1]!]! & END_BITS) === 0)
        from -= 1;
      const prefixed = before < start && from < before && before - from <= LONGEST_PREFIX;
      if (prefixed && starts.at(-1) !== from && this.mayBeKey(units, from)) starts.push(from);
      if (this.mayBeKey(units, start)) starts.push(start);
    }
    return starts;
  }

  /** The record whose key begins at a run, the longest key first. */
  private keyAt(tokens: Tokens, place: number, memo: Map<string, number>): RecordHit | null {
    const { runs } = tokens;
    const { key } = this.index.shape;
    for (const { to, forms } of candidates(tokens, place, key.kind)) {
      for (const form of forms) {
        if (form.length >= LONGEST_KEY || this.lengths[form.length] === 0) continue;
        hashValue(this.hash, key.kind, form);
        const first = this.lookUp(this.hash.low, this.hash.high);
        if (first === 0) continue;
        const start = runs.starts[place]!;
        const end = runs.ends[to]!;
        const columns = this.nearest(tokens, { start, end, from: place, to, first }, memo);
        if (columns) return { start, end, columns };
      }
    }
    return null;
  }

  private lookUp(low: number, high: number): number {
    const { table, mask } = this.parts;
    const mark = low || 1;
    let slot = high & mask;
    while (table[slot * 2 + 1] !== 0) {
      if (table[slot * 2] === mark) return table[slot * 2 + 1]!;
      slot = (slot + 1) & mask;
    }
    return 0;
  }

  /** Columns of the best record with this key that stand near it; null where they are not enough. */
  private nearest(
    tokens: Tokens,
    key: { start: number; end: number; from: number; to: number; first: number },
    memo: Map<string, number>,
  ): number[] | null {
    const { runs } = tokens;
    const { needed, others, window } = this.index.shape;
    if (others.length === 0) return [];
    const near = new Set<number>();
    const least = key.start - window;
    const most = key.end + window;
    let from = key.from;
    while (from > 0 && runs.starts[from - 1]! >= least) from -= 1;
    for (let place = from; place < runs.length && runs.ends[place]! <= most; place += 1) {
      for (const kind of this.otherKinds) {
        for (const { to, forms } of candidates(tokens, place, kind)) {
          if (runs.ends[to]! > most || (place <= key.to && to >= key.from)) continue;
          forms.forEach((form, index) =>
            near.add(this.remembered(memo, `${kind}${place}.${to}.${index}`, kind, form)),
          );
        }
      }
    }
    let best: number[] = [];
    for (let record = key.first; record !== 0; record = this.parts.next[record - 1]!) {
      const found = others.flatMap((_column, column) => {
        const value = this.parts.others[(record - 1) * others.length + column]!;
        return value !== 0 && near.has(value) ? [column] : [];
      });
      if (found.length > best.length) best = found;
    }
    return best.length >= needed ? best : null;
  }

  private remembered(memo: Map<string, number>, place: string, kind: ColumnKind, form: string): number {
    const known = memo.get(place);
    if (known !== undefined) return known;
    hashValue(this.hash, kind, form);
    const value = this.hash.low || 1;
    if (memo.size > 200_000) memo.clear();
    memo.set(place, value);
    return value;
  }
}

interface Candidate {
  /** Last run that belongs to it. */
  readonly to: number;
  readonly forms: readonly string[];
}

/** What may begin at a run, the longest first. */
function candidates(tokens: Tokens, place: number, kind: ColumnKind): Candidate[] {
  const { text, runs } = tokens;
  switch (kind) {
    case 'number':
    case 'phone':
      return numbersAt(tokens, place, kind);
    case 'mail':
      return mailsAt(tokens, place);
    case 'date': {
      if (runs.digits[place] === 0 || place + 2 >= runs.length) return NONE;
      if (runs.starts[place + 2]! - runs.ends[place]! > 8) return NONE;
      const forms = dateForms(text.slice(runs.starts[place]!, runs.ends[place + 2]!));
      return forms.length === 0 ? [] : [{ to: place + 2, forms }];
    }
    default:
      return wordsAt(tokens, place, kind);
  }
}

function numbersAt({ text, units, runs }: Tokens, place: number, kind: 'number' | 'phone'): Candidate[] {
  if (!beginsNumber(units, runs, place)) return NONE;
  const found: Candidate[] = [];
  let written = '';
  let digits = false;
  for (let to = place; to < runs.length && to < place + MOST_PIECES; to += 1) {
    const start = runs.starts[to]!;
    const end = runs.ends[to]!;
    if (to > place && !joins(units, runs.ends[to - 1]!, start)) break;
    if (end - start > 64) break;
    written += text.slice(start, end);
    digits ||= runs.digits[to] === 1;
    if (!digits && to === place && kind === 'phone') break;
    const form = digits ? (kind === 'number' ? numberForm(written) : phoneForm(written)) : '';
    if (form !== '') found.unshift({ to, forms: [form] });
  }
  return found;
}

const NONE: Candidate[] = [];
/** Letters in front of the digits of a number: `MS 104233`. */
const LONGEST_PREFIX = 8;

/** Whether a number may begin at a run: it holds digits, or is a few letters with digits right behind them. */
function beginsNumber(units: Uint16Array, runs: Runs, place: number): boolean {
  if (runs.digits[place] === 1) return true;
  return (
    place + 1 < runs.length &&
    runs.digits[place + 1] === 1 &&
    runs.ends[place]! - runs.starts[place]! <= LONGEST_PREFIX &&
    joins(units, runs.ends[place]!, runs.starts[place + 1]!)
  );
}

/** Whether only separators of numbers stand between two pieces, two at most. */
function joins(units: Uint16Array, from: number, to: number): boolean {
  if (to - from > 2) return false;
  for (let at = from; at < to; at += 1) if (!WITHIN_NUMBER.has(units[at]!)) return false;
  return true;
}

const MAIL = /[\p{L}\p{N}.!#$%&'*+/=?^_`{|}~-]{1,64}@[\p{L}\p{N}.-]{1,255}/uy;

function mailsAt({ text, units, runs }: Tokens, place: number): Candidate[] {
  const from = runs.starts[place]!;
  // Only where an address begins: what stands in front is no part of one.
  if (from > 0 && /[\w.+@-]/.test(text[from - 1]!)) return [];
  let last = place;
  while (
    last < runs.length - 1 &&
    runs.starts[last + 1]! - runs.ends[last]! === 1 &&
    units[runs.ends[last]!] !== 64 &&
    last - place < 12
  )
    last += 1;
  if (units[runs.ends[last]!] !== 64) return [];
  MAIL.lastIndex = from;
  const match = MAIL.exec(text)?.[0].replace(/[.-]+$/, '');
  if (!match) return [];
  let to = place;
  while (to < runs.length - 1 && runs.ends[to + 1]! <= from + match.length) to += 1;
  return [{ to, forms: [match.toLowerCase()] }];
}

function wordsAt({ text, runs }: Tokens, place: number, kind: 'name' | 'free'): Candidate[] {
  const found: Candidate[] = [];
  const words: string[] = [];
  for (let to = place; to < runs.length && to < place + MOST_WORDS; to += 1) {
    const start = runs.starts[to]!;
    const end = runs.ends[to]!;
    if (end - start > 64 || (to > place && start - runs.ends[to - 1]! > MOST_BETWEEN_WORDS)) break;
    words.push(...foldedWords(text.slice(start, end)));
    const form = kind === 'name' ? nameForm(words) : words.join(' ');
    if (form !== '') found.unshift({ to, forms: [form] });
  }
  return found;
}
