import {
  CAPITAL_UNIT,
  classBit,
  DIGIT_UNIT,
  LONE_LETTER,
  NO_LETTER,
  OTHER_LETTER,
  SEPARATOR,
  SMALL_UNIT,
  UNIT_FACTS,
  WORD_UNITS,
} from '../../text/fold.js';
import type { SearchText } from '../../text/search-text.js';
import { divides, NO_TABLE, type Tables } from '../../text/tables.js';
import type { FastScan } from './compiled-scan.js';
import type { Prepared } from '../model/prepared.js';
import { CandidateQueue, REACH } from './candidate-queue.js';
import { MAX_SHAPE_LENGTH } from '../model/shape.js';
import { GrowingNumbers } from '../model/growing.js';
import {
  CAPITALS,
  DIGITS,
  MIXED,
  marksStand,
  newReading,
  readShape,
  type ShapeReading,
  unitMask,
} from './shape-index.js';
import { fits, type RunPlace, type TriggerHit } from '../model/triggers.js';
import type { ListedHit, Passed } from '../model/passed.js';
import { KNOWN_MASK, nextHash, type Run } from '../words/dictionary.js';
import { humpsOf, LONGEST_NAME, MOST_HUMPS } from '../words/humps.js';

const SEPARATOR_BIT = classBit(SEPARATOR);
const DIGIT_BIT = classBit(DIGIT_UNIT);
const CAPITAL_BIT = classBit(CAPITAL_UNIT);
const SMALL_BIT = classBit(SMALL_UNIT);
const OTHER_BIT = classBit(OTHER_LETTER);
const LONE_BIT = classBit(LONE_LETTER);
/** Held here: looked up on a global per letter it costs seconds where the globals are a sandbox, as in the tests. */
const { imul } = Math;
const END_BITS = SEPARATOR_BIT | LONE_BIT;
const CODE_BITS = DIGIT_BIT | CAPITAL_BIT;
const SPACE = 32;
const CLASS_BITS = 0x7fff0000;
const FOLDED = 0xffff;
/** Letters of both cases and digits without a break, as text in base 64 has them. */
const ENCODED_RUN = 20;
const ENCODED_BITS = CAPITAL_BIT | SMALL_BIT;
/** Units of a second run that are looked at: longer ones are too long for any shape. */
const LONGEST_NEXT = 64;
/** Runs longer than this hold no word of any list and no shape. */
const LONGEST_RUN = 256;

/**
 * One pass over a text. Runs of letters and digits are found once; a run's hash leads to words, its kind, length and
 * the character behind it to shapes, the character alone to other triggers. See docs/decisions/0006-one-pass.md.
 */
export class Pass {
  private units!: Uint16Array;
  private tables!: Tables;
  private search!: SearchText;
  private readonly queue: CandidateQueue;
  private listed: ListedHit[] = [];
  private readonly reading: ShapeReading = newReading();
  private readonly onWord: (entry: number, start: number, end: number) => void;
  private readonly onPart: (entry: number, start: number, end: number) => void;
  private readonly humpStarts = new Int32Array(MOST_HUMPS);
  private readonly place: RunPlace = { start: 0, end: 0, next: 0, second: 0 };
  private textHits: readonly TriggerHit[] = [];
  private nextTextHit = 0;
  private nextTextStart = 0;
  private line = 0;
  private column = 0;
  /** The run whose words are being looked up. */
  private readonly current: Run = { start: 0, end: 0, hash: 0 };
  /** Runs that may belong to text in base 64: start and end, one after another. */
  private longRuns: number[] = [];

  private readonly digitRuns: GrowingNumbers | null;

  /** `keepDigitRuns` where somebody wants to know where runs with digits begin. */
  constructor(
    private readonly scan: FastScan,
    keepDigitRuns = false,
  ) {
    this.digitRuns = keepDigitRuns ? new GrowingNumbers() : null;
    this.queue = new CandidateQueue(scan);
    this.onWord = (entry, start, end) => this.word(entry, start, end);
    this.onPart = (entry, start, end) => this.part(entry, start, end);
  }

  /** Runs over one text to its end. Buffers are used again for the next one. */
  run(search: SearchText, tables: Tables, most: number): Passed {
    this.search = search;
    this.units = search.units;
    this.tables = tables;
    this.listed = [];
    this.longRuns = [];
    if (this.digitRuns) this.digitRuns.length = 0;
    this.line = 0;
    this.column = 0;
    this.queue.begin(search, tables, most);
    this.textHits = this.findTexts(search);
    this.nextTextHit = 0;
    this.nextTextStart = this.textHits[0]?.start ?? Number.MAX_SAFE_INTEGER;
    this.pass();
    this.takeTextHits(search.units.length + 1);
    this.queue.flush(search.units.length + REACH * 2);
    const inside = this.scan.vocabulary.inside?.find(search.units, most) ?? [];
    const listed = inside.length === 0 ? this.listed : [...this.listed, ...inside];
    const digitRuns = this.digitRuns?.values.subarray(0, this.digitRuns.length) ?? null;
    return { ...this.queue.result(), listed, longRuns: this.longRuns, digitRuns };
  }

  /** What expressions of the engine and own expressions found, in the order of the text. */
  private findTexts(search: SearchText): readonly TriggerHit[] {
    const hits = this.scan.triggers.findTexts(search.text, search.units);
    for (const hit of this.scan.expressions.find(search)) hits.push(hit);
    // Most texts hold hits of one trigger alone, and those come in order.
    const ordered = hits.every((hit, index) => index === 0 || hits[index - 1]!.start <= hit.start);
    return ordered ? hits : hits.sort((left, right) => left.start - right.start);
  }

  private pass(): void {
    const { units, digitRuns } = this;
    const { known } = this.scan.vocabulary.dictionary;
    const facts = UNIT_FACTS;
    const { length } = units;
    let kind = NO_TABLE;
    let at = 0;
    while (at < length) {
      const unit = units[at]!;
      let fact = facts[unit]!;
      if ((fact & SEPARATOR_BIT) !== 0) {
        if (unit === 10) kind = this.nextLine();
        else if (kind !== NO_TABLE && divides(units, at, kind)) this.column += 1;
        at += 1;
        continue;
      }
      const start = at;
      let bits = fact;
      let hash = fact & FOLDED;
      at += 1;
      if ((fact & LONE_BIT) === 0) {
        for (; at < length; at += 1) {
          fact = facts[units[at]!]!;
          if (fact < 0) {
            if ((fact & END_BITS) !== 0) break;
            bits |= fact & CLASS_BITS;
            continue;
          }
          bits |= fact;
          hash = (imul(hash, 31) + (fact & FOLDED)) | 0;
        }
      }
      if (digitRuns !== null && (bits & DIGIT_BIT) !== 0) digitRuns.push(start);
      if ((known[(hash >>> 3) & KNOWN_MASK]! & (1 << (hash & 7))) !== 0 && at - start <= LONGEST_RUN)
        this.match(start, at, hash);
      if ((bits & ENCODED_BITS) === ENCODED_BITS && at - start <= LONGEST_NAME) {
        // Most are words with a capital at their head.
        let next = start + 1;
        while (next < at && (facts[units[next]!]! & CAPITAL_BIT) === 0) next += 1;
        if (next < at) this.humps(start, at);
      }
      // Words in small letters, with a capital at their head or none, begin no shape.
      if ((bits & CODE_BITS) !== 0 && (bits & (DIGIT_BIT | SMALL_BIT)) !== SMALL_BIT)
        this.codeRun(start, at, bits);
      else if (at - start >= ENCODED_RUN && (bits & ENCODED_BITS) === ENCODED_BITS)
        this.longRuns.push(start, at);
    }
  }

  private nextLine(): number {
    this.line += 1;
    this.column = 0;
    const block = this.tables.blockOf[this.line]!;
    if (block === 0) return NO_TABLE;
    this.queue.enterTable(block, this.line);
    return this.tables.kindOf(block);
  }

  /** A run that is more than a word: digits, capitals, or both. */
  private codeRun(start: number, end: number, bits: number): void {
    if (this.nextTextStart < start) this.takeTextHits(start);
    const length = end - start;
    if (length >= ENCODED_RUN && (bits & ENCODED_BITS) === ENCODED_BITS) this.longRuns.push(start, end);
    if ((bits & OTHER_BIT) !== 0) return;
    const { shapes, triggers: allTriggers } = this.scan;
    const digits = bits & DIGIT_BIT;
    const onlyDigits = (bits & CLASS_BITS) === DIGIT_BIT;
    const mark = this.units[end] ?? 0;
    const number = shapes.markNumberOf(mark);
    const kind = digits === 0 ? CAPITALS : onlyDigits ? DIGITS : MIXED;
    const shaped = length <= MAX_SHAPE_LENGTH && shapes.begins(kind, length, number);
    const triggers = allTriggers.before(mark, length, onlyDigits, this.units[end + 1] ?? SPACE);
    if (!shaped && triggers.length === 0) return;
    const { place } = this;
    place.start = start;
    place.end = end;
    if (number !== 0 || triggers.length > 0) this.readNext(place);
    else place.next = 0;
    if (shaped && (digits !== 0 || (bits & SMALL_BIT) === 0)) this.shapesAt(place, kind, number);
    for (let index = 0; index < triggers.length; index += 1) {
      const trigger = triggers[index]!;
      if (fits(trigger, this.units, place)) this.tryTrigger(trigger.prepared, start);
    }
  }

  private shapesAt({ start, end, next, second }: RunPlace, kind: number, mark: number): void {
    const length = end - start;
    let shapes = this.scan.shapes.at(kind, length, mark, mark === 0 ? 0 : next);
    if (kind !== DIGITS && shapes.length > 3)
      shapes = this.scan.shapes.among(shapes, this.digitPlaces(start, length));
    if (shapes.length === 0) return;
    const { reading, queue } = this;
    reading.line = this.line;
    reading.column = this.column;
    const places = kind === DIGITS ? -1 : this.digitPlaces(start, length);
    for (let index = 0; index < shapes.length; index += 1) {
      const shape = shapes[index]!;
      if (shape.second !== 0 && shape.second !== second) continue;
      if (shape.further.length > 0 && !marksStand(this.units, end, shape.further)) continue;
      if (shape.behind !== 0 && (unitMask(this.units[end + 1]!) & shape.behind) === 0) continue;
      if (kind !== DIGITS && ((places & shape.digits) !== shape.digits || (places & shape.letters) !== 0))
        continue;
      if (kind === DIGITS && shape.bareDigits) {
        reading.start = start;
        reading.end = end;
      } else if (!readShape(this.units, start, shape.variant, reading)) continue;
      queue.shaped(shape, reading);
    }
    queue.flushIfFull(start);
  }

  /** Places of a run that hold digits, as bits; the first 31 are enough to tell shapes apart. */
  private digitPlaces(start: number, length: number): number {
    let places = 0;
    for (let place = 0; place < length && place < 31; place += 1) {
      const unit = this.units[start + place]!;
      if (unit >= 48 && unit <= 57) places |= 1 << place;
    }
    return places;
  }

  /** The run that begins one unit behind this one, as far as shapes and triggers care. */
  private readNext(place: RunPlace): void {
    const { units } = this;
    const start = place.end + 1;
    const most = Math.min(units.length, start + LONGEST_NEXT);
    let at = start;
    while (at < most && (UNIT_FACTS[units[at]!]! & END_BITS) === 0) at += 1;
    place.next = Math.max(0, at - start);
    place.second = units[at] ?? 0;
  }

  private match(start: number, end: number, hash: number): void {
    const { current } = this;
    current.start = start;
    current.end = end;
    current.hash = hash;
    this.scan.vocabulary.dictionary.match(this.units, current, this.onWord);
  }

  /** The parts of a name in camel case, alone and together: `PassportNumber` and `Number` in `guestPassportNumber`. */
  private humps(start: number, end: number): void {
    const { units, humpStarts, current } = this;
    const count = humpsOf(units, start, end, humpStarts);
    if (count === 0) return;
    const { dictionary } = this.scan.vocabulary;
    for (let first = 0; first <= count; first += 1) {
      const from = first === 0 ? start : humpStarts[first - 1]!;
      let hash = 0;
      let at = from;
      for (let last = first; last <= count; last += 1) {
        const to = last === count ? end : humpStarts[last]!;
        for (; at < to; at += 1) {
          const folded = WORD_UNITS[units[at]!]!;
          if (folded !== NO_LETTER) hash = nextHash(hash, folded);
        }
        if (from === start && to === end) continue;
        current.start = from;
        current.end = to;
        current.hash = hash;
        dictionary.matchAlone(units, current, this.onPart);
      }
    }
  }

  /** A part of a name may say what a value is or begin a secret; lists are of whole words. */
  private part(entry: number, start: number, end: number): void {
    if (this.scan.vocabulary.meanings[entry]!.kind !== 'listed') this.word(entry, start, end);
  }

  private word(entry: number, start: number, end: number): void {
    const meaning = this.scan.vocabulary.meanings[entry]!;
    if (meaning.kind === 'context') this.queue.word(meaning.word, start, end, this.current.start);
    else if (meaning.kind === 'listed') this.listed.push({ meaning: entry, start, end });
    else this.tryTrigger(meaning.prepared, start);
  }

  private tryTrigger(prepared: Prepared, at: number): void {
    const hit = this.scan.triggers.readAt(this.search, prepared, at);
    if (hit) this.queue.triggered(hit, this.line);
  }

  /** Text triggers were found beforehand; they join the queue in the order of the text. */
  private takeTextHits(before: number): void {
    for (; this.nextTextHit < this.textHits.length; this.nextTextHit += 1) {
      const hit = this.textHits[this.nextTextHit]!;
      if (hit.start >= before) break;
      this.queue.triggered(hit, this.tables.lineAt(hit.start));
    }
    this.nextTextStart = this.textHits[this.nextTextHit]?.start ?? Number.MAX_SAFE_INTEGER;
  }
}
