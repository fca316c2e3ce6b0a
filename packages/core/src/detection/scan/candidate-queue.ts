import type { PatternId } from '../../shared/brand.js';
import type { SearchText } from '../../text/search-text.js';
import { LIST, type Tables } from '../../text/tables.js';
import {
  better,
  GENERAL,
  insideOf,
  NAMING,
  type NearWords,
  nearWord,
  NO_ROLE,
  SUPPORTING,
  withoutOtherCounter,
  wordSum,
} from '../model/context.js';
import { CLEAR_WINDOW } from '../model/evidence.js';
import { neededSum } from '../model/floor.js';
import type { FastScan } from './compiled-scan.js';
import { GrowingNumbers } from '../model/growing.js';
import type { Passed, Survivor } from '../model/passed.js';
import type { Prepared } from '../model/prepared.js';
import type { HeadingWords, Keeping, Standing } from './standing.js';
import { MOST_COLUMNS, Neighbours, textHash, valueHash } from './neighbours.js';
import { cellsUnder, type NamedColumn } from './secret-cells.js';
import { newReading, readShape, type ShapeReading, type SharedShape } from './shape-index.js';
import type { TriggerHit } from '../model/triggers.js';

/** Words and values further apart than this have nothing to do with each other: the window and the longest phrase. */
export const REACH = CLEAR_WINDOW + 64;
/** Values wait until their surroundings are read; so many at most, whatever the text. */
const WAITING = 16_384;
/** Tables whose headings are kept before those that are done with are let go. */
const MOST_TABLES = 4_096;
/** Sums are taken in another order when they decide: what is nearly enough is looked at again. */
const ROUNDING = 1e-6;
/** Words looked at one by one from the last place before they are halved. */
const NEAR_WORDS = 16;
const NONE: readonly PatternId[] = [];
/** Headings stand at most this far above the first row that needs their words. */
const KEPT_WORDS = 4_200;

/**
 * Places where shapes stand, waiting for the text around them. Only then are check digits computed, and only for
 * patterns that something speaks for or that need nothing to speak for them: most numbers of most texts have no word
 * near them that means anything to any of fifty patterns of their shape.
 */
export class CandidateQueue {
  private survivors: Survivor[] = [];
  private readonly starts = new GrowingNumbers();
  private readonly ends = new GrowingNumbers();
  private readonly shapes = new GrowingNumbers();
  private readonly lines = new GrowingNumbers();
  private readonly columns = new GrowingNumbers();
  /** Values that triggers led to, let go once decided; they stand among the shapes as -1 and below. */
  private hits: (TriggerHit | null)[] = [];
  /** What stands around the last place: several shapes begin at one. */
  private standing: Standing | null = null;
  private readonly reading: ShapeReading = newReading();

  private readonly wordNumbers = new GrowingNumbers();
  private readonly wordStarts = new GrowingNumbers();
  private readonly wordEnds = new GrowingNumbers();
  private readonly wordRuns = new GrowingNumbers();

  private readonly lastEnd: Int32Array;
  private readonly lastShaped: Int32Array;
  /** Whether the value that was shaped last is a further observation, 1 or 0. */
  private readonly lastNew: Int32Array;
  private readonly lastPassed: Int32Array;
  /** Place among the survivors of the value that passed last, or -1 where it was let go. */
  private readonly lastKept: Int32Array;
  private readonly kept: Int32Array;

  private readonly neighbours: Neighbours;
  /** Whether any pattern was found too often. */
  private cutShort = false;
  private search!: SearchText;
  private tables!: Tables;
  private most = 0;
  /** Where the last word was looked for. */
  private cursor = 0;
  private readonly noRoles: Uint8Array;
  /** What words must add, by pattern: written plainly, and in groups. */
  private readonly needed: readonly [Float64Array, Float64Array];
  private columnsNamed: NamedColumn[] = [];
  private readonly headings = new Map<number, readonly (HeadingWords | null)[]>();

  constructor(private readonly scan: FastScan) {
    const count = scan.patterns.length;
    this.noRoles = new Uint8Array(count);
    this.needed = [
      Float64Array.from(scan.patterns, (prepared) => neededSum(prepared, false)),
      Float64Array.from(scan.patterns, (prepared) => neededSum(prepared, true)),
    ];
    this.lastEnd = new Int32Array(count);
    this.lastShaped = new Int32Array(count);
    this.lastNew = new Int32Array(count);
    this.lastPassed = new Int32Array(count);
    this.lastKept = new Int32Array(count);
    this.kept = new Int32Array(count);
    this.neighbours = new Neighbours(count);
  }

  /**
   * Makes ready for another text. The survivors of the last one belong to its caller and are not touched again; what was
   * around them can be asked until now.
   */
  begin(search: SearchText, tables: Tables, most: number): void {
    this.neighbours.begin(this.tables ? this.tables.count : 0);
    this.search = search;
    this.tables = tables;
    this.most = most;
    this.survivors = [];
    for (const numbers of [this.starts, this.ends, this.shapes, this.lines, this.columns]) numbers.length = 0;
    for (const numbers of [this.wordNumbers, this.wordStarts, this.wordEnds, this.wordRuns])
      numbers.length = 0;
    this.hits = [];
    this.columnsNamed = [];
    this.standing = null;
    this.cursor = 0;
    this.headings.clear();
    this.lastEnd.fill(0);
    this.lastShaped.fill(-1);
    this.lastPassed.fill(-1);
    this.kept.fill(0);
    this.cutShort = false;
  }

  /** A context word; `run` is where the word that led to it begins and never goes back. */
  word(word: number, start: number, end: number, run: number): void {
    this.wordNumbers.push(word);
    this.wordStarts.push(start);
    this.wordEnds.push(end);
    this.wordRuns.push(run);
  }

  /** A table begins: its headings are read while their words are at hand. */
  enterTable(block: number, line: number): void {
    if (this.headings.has(block)) return;
    const cells = this.tables.headingsOf(block, MOST_COLUMNS);
    this.headings.set(
      block,
      cells.map((cell) => (cell ? this.readHeading(cell.from, cell.to) : null)),
    );
    this.noteColumns(block);
    if (this.headings.size > MOST_TABLES) this.forgetTables(line);
  }

  /** Columns of a table whose heading names a pattern that takes whole cells. */
  private noteColumns(block: number): void {
    for (const prepared of this.scan.takingCells) {
      this.headings.get(block)?.forEach((heading, column) => {
        if (heading?.roles[prepared.index] === NAMING)
          this.columnsNamed.push({ prepared, block, column, heading: heading.text });
      });
    }
  }

  /** A place where a shape stands. */
  shaped(shape: SharedShape, reading: ShapeReading): void {
    this.push(shape.number, reading.start, reading.end);
    this.lines.push(reading.line);
    this.columns.push(reading.column);
  }

  /** A value that a trigger led to. */
  triggered(hit: TriggerHit, line: number): void {
    const block = this.tables.blockOf[line] ?? 0;
    this.hits.push(hit);
    this.push(-this.hits.length, hit.start, hit.end);
    this.lines.push(line);
    this.columns.push(block === 0 ? 0 : this.tables.columnOf(hit.start, line));
  }

  flushIfFull(position: number): void {
    if (this.starts.length >= WAITING) this.flush(position);
  }

  /** Decides about every place whose surroundings end before `position`. */
  flush(position: number): void {
    let decided = 0;
    while (decided < this.starts.length && this.ends.values[decided]! + REACH < position) {
      this.decide(decided);
      decided += 1;
    }
    for (const numbers of [this.starts, this.ends, this.shapes, this.lines, this.columns])
      numbers.dropFirst(decided);
    if (this.starts.length === 0) this.hits.length = 0;
    this.standing = null;
    const oldest = this.starts.length > 0 ? this.starts.values[0]! : position;
    const useless = this.firstWordFrom(oldest - KEPT_WORDS);
    for (const numbers of [this.wordNumbers, this.wordStarts, this.wordEnds, this.wordRuns])
      numbers.dropFirst(useless);
    this.cursor = 0;
  }

  /** What may be found, once everything is decided. */
  result(): Pick<Passed, 'survivors' | 'cutShort' | 'around'> {
    const cells = cellsUnder(this.columnsNamed, this.search, this.tables);
    return {
      survivors: cells.length === 0 ? this.survivors : [...this.survivors, ...cells],
      cutShort: this.cutShort ? this.cutPatterns() : NONE,
      around: ({ slot }) => this.neighbours.around(slot),
    };
  }

  private cutPatterns(): PatternId[] {
    return this.scan.patterns
      .filter(({ index }) => this.kept[index]! > this.most)
      .map(({ pattern }) => pattern.id);
  }

  private push(shape: number, start: number, end: number): void {
    this.starts.push(start);
    this.ends.push(end);
    this.shapes.push(shape);
  }

  /** Tables above the oldest waiting value are done with. */
  private forgetTables(line: number): void {
    const oldest = this.tables.blockOf[this.lines.length > 0 ? this.lines.values[0]! : line]!;
    for (const block of this.headings.keys()) if (block < oldest && oldest !== 0) this.headings.delete(block);
  }

  private decide(place: number): void {
    const number = this.shapes.values[place]!;
    if (number < 0) {
      const hit = this.hits[-number - 1];
      this.hits[-number - 1] = null;
      if (hit) this.considerHit(hit, this.standingOf(place));
      return;
    }
    const shape = this.scan.shapes.shared[number]!;
    if (shape.alone.length === 0 && this.isBare(place)) return;
    const standing = this.standingOf(place);
    const owners = standing.words ? shape.owners : this.ownersUnder(standing.heading, shape);
    if (owners.length === 0) return;
    this.reading.end = -1;
    for (let index = 0; index < owners.length; index += 1) this.consider(owners[index]!, shape, standing);
  }

  /** Whether a place stands outside tables and has no word near it: most numbers of most texts do. */
  private isBare(place: number): boolean {
    if ((this.tables.blockOf[this.lines.values[place]!] ?? 0) !== 0) return false;
    const first = this.firstWordFrom(Math.max(0, this.starts.values[place]! - REACH));
    return first >= this.wordRuns.length || this.wordRuns.values[first]! > this.ends.values[place]! + REACH;
  }

  /** Patterns of a shape that a heading says something to, or that need nothing; where there is no word near. */
  private ownersUnder(heading: HeadingWords | null, shape: SharedShape): readonly Prepared[] {
    if (heading === null || heading.words.length === 0) return shape.alone;
    const known = heading.owners.get(shape.number);
    if (known) return known;
    const owners = shape.owners.filter(
      (prepared) => shape.alone.includes(prepared) || heading.roles[prepared.index] !== NO_ROLE,
    );
    heading.owners.set(shape.number, owners);
    return owners;
  }

  private standingOf(place: number): Standing {
    const start = this.starts.values[place]!;
    const end = this.ends.values[place]!;
    const line = this.lines.values[place]!;
    const column = this.columns.values[place]!;
    const known = this.standing;
    if (known !== null && known.start === start && known.end === end && known.line === line) return known;
    const block = this.tables.blockOf[line] ?? 0;
    const heading =
      block === 0 ? null : (this.headings.get(block)?.[Math.min(column, MOST_COLUMNS - 1)] ?? null);
    const whole = heading === null || this.tables.kindOf(block) === LIST;
    const from = whole ? 0 : this.tables.lineStarts[line]!;
    const to = whole ? this.search.units.length : this.tables.lineEnd(line);
    const firstWord = this.firstWordFrom(Math.max(from, start - REACH));
    const last = Math.min(to, end + REACH);
    const words = firstWord < this.wordRuns.length && this.wordRuns.values[firstWord]! <= last;
    this.standing = { start, end, line, column, block, heading, from, to, firstWord, last, words };
    return this.standing;
  }

  /** One pattern at a place where its shape stands. */
  private consider(prepared: Prepared, shape: SharedShape, standing: Standing): void {
    const { index } = prepared;
    const { start, end } = standing;
    const again = this.lastPassed[index] === start;
    if (again ? this.lastEnd[index]! >= end : this.lastEnd[index]! > start) return;
    const near = standing.words ? this.wordsNear(index, standing) : null;
    const role = standing.heading === null ? NO_ROLE : standing.heading.roles[index]!;
    if (!near && role === NO_ROLE && this.needed[shape.variant.grouped ? 1 : 0]![index]! > 0) return;
    const slot = this.neighbours.slotOf(index, standing.block, standing.column);
    const { reading } = this;
    if (reading.end < 0) readShape(this.search.units, start + shape.prefix, shape.variant, reading);
    if (this.lastShaped[index] !== start) {
      this.lastShaped[index] = start;
      this.lastNew[index] = this.neighbours.isNew(slot, valueHash(reading.values, reading.length)) ? 1 : 0;
      this.neighbours.shaped[slot]! += this.lastNew[index]!;
    }
    if (!prepared.check.passes(reading.values, reading.length)) return;
    if (!again) this.neighbours.passing[slot]! += this.lastNew[index]!;
    const { grouped } = shape.variant;
    this.keep({ prepared, standing, near, role, slot, grouped, canonical: null, look: null, again });
  }

  private considerHit(hit: TriggerHit, standing: Standing): void {
    const { index } = hit.prepared;
    if (this.lastEnd[index]! > hit.start) return;
    const slot = this.neighbours.slotOf(index, standing.block, standing.column);
    const isNew = this.neighbours.isNew(slot, textHash(hit.canonical)) ? 1 : 0;
    this.neighbours.shaped[slot]! += isNew;
    if (!hit.passes) return;
    this.neighbours.passing[slot]! += isNew;
    const near = standing.words ? this.wordsNear(index, standing) : null;
    const role = standing.heading === null ? NO_ROLE : standing.heading.roles[index]!;
    const { prepared, canonical, look } = hit;
    this.keep({ prepared, standing, near, role, slot, grouped: false, canonical, look, again: false });
  }

  /** Keeps a value that passed, unless its sum can never be enough. */
  private keep(value: Keeping): void {
    const { prepared, standing, near, role, slot, grouped, canonical, look, again } = value;
    const { index } = prepared;
    const { start, end, heading } = standing;
    this.lastPassed[index] = start;
    this.lastEnd[index] = end;
    const previous = again ? this.lastKept[index]! : -1;
    if (!again) this.lastKept[index] = -1;
    if (previous < 0) {
      if (wordSum(prepared.pattern, role, near) + ROUNDING < this.needed[grouped ? 1 : 0]![index]!) return;
      this.kept[index]! += 1;
      if (this.kept[index]! > this.most) {
        this.cutShort = true;
        return;
      }
    }
    const context = {
      naming: near?.naming ?? null,
      general: near?.general ?? null,
      supporting: near?.supporting ?? null,
      counter: near?.counter ?? null,
      heading: heading === null || role === NO_ROLE ? null : { text: heading.text, role },
      inside: canonical === null ? insideOf(this.search.units, start, end) : null,
    };
    const survivor: Survivor = { prepared, start, end, grouped, canonical, look, context, slot };
    if (previous >= 0) this.survivors[previous] = survivor;
    else {
      this.lastKept[index] = this.survivors.length;
      this.survivors.push(survivor);
    }
  }

  /** The nearest word of each role around a value. */
  private wordsNear(pattern: number, standing: Standing): NearWords | null {
    const { vocabulary } = this.scan;
    let near: NearWords | null = null;
    for (let index = standing.firstWord; index < this.wordNumbers.length; index += 1) {
      if (this.wordRuns.values[index]! > standing.last) break;
      const word = this.wordNumbers.values[index]!;
      const role = vocabulary.roleOf(word, pattern);
      if (role === NO_ROLE) continue;
      const from = this.wordStarts.values[index]!;
      const to = this.wordEnds.values[index]!;
      if (from < standing.from || to > standing.to) continue;
      const found = nearWord(this.search.units, { text: vocabulary.words[word]!, from, to, role }, standing);
      if (!found || found.distance > (this.scan.patterns[pattern]!.pattern.wordDistance ?? CLEAR_WINDOW))
        continue;
      near ??= { naming: null, general: null, supporting: null, counter: null };
      if (role === NAMING) near.naming = better(near.naming, found);
      else if (role === GENERAL) near.general = better(near.general, found);
      else if (role === SUPPORTING) near.supporting = better(near.supporting, found);
      else near.counter = better(near.counter, found);
    }
    return near && withoutOtherCounter(near);
  }

  /** First word at or behind `position`; asked in the order of the text, nearly, so that it goes on from the last one. */
  private firstWordFrom(position: number): number {
    const { values, length } = this.wordRuns;
    let at = Math.min(this.cursor, length);
    if (at > 0 && values[at - 1]! >= position) at = this.wordRuns.firstFrom(position, at);
    else {
      const near = Math.min(length, at + NEAR_WORDS);
      while (at < near && values[at]! < position) at += 1;
      if (at === near && at < length && values[at]! < position)
        at = this.wordRuns.firstFrom(position, length);
    }
    this.cursor = at;
    return at;
  }

  private readHeading(from: number, to: number): HeadingWords {
    const words: number[] = [];
    for (let index = this.firstWordFrom(from); index < this.wordNumbers.length; index += 1) {
      if (this.wordRuns.values[index]! >= to) break;
      if (this.wordStarts.values[index]! >= from && this.wordEnds.values[index]! <= to)
        words.push(this.wordNumbers.values[index]!);
    }
    return {
      text: this.search.text.slice(from, to).trim(),
      words,
      roles: words.length === 0 ? this.noRoles : this.scan.vocabulary.rolesOf(words),
      owners: new Map(),
    };
  }
}
