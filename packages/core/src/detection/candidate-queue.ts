import type { PatternId } from '../shared/brand.js';
import type { SearchText } from '../text/search-text.js';
import { LIST, type Tables } from '../text/tables.js';
import {
  better,
  insideOf,
  NAMING,
  type NearWords,
  nearWord,
  NO_ROLE,
  SUPPORTING,
  withoutOwnName,
} from './context.js';
import { NEIGHBOUR_BOUNDS, WORD_WINDOW } from './evidence.js';
import type { FastScan } from './fast-scan.js';
import { GrowingNumbers } from './growing.js';
import type { Survivor } from './passed.js';
import { baseSum, type Prepared } from './prepared.js';
import type { ShapeReading } from './shape-index.js';
import type { TriggerHit } from './triggers.js';

/** Words and values further apart than this have nothing to do with each other: the window and the longest phrase. */
export const REACH = WORD_WINDOW + 64;
/** Values wait until their surroundings are read; so many at most, whatever the text. */
const WAITING = 16_384;
/** Columns told apart in a table; a wider one is data that nobody reads by its headings. */
const MOST_COLUMNS = 64;
/** Tables whose headings are kept before those that are done with are let go. */
const MOST_TABLES = 4_096;
/** Headings stand at most this far above the first row that needs their words. */
const KEPT_WORDS = 4_200;
/** Log-odds below which nothing is found: certain to 20. What is weaker is told on demand only. */
export const LEAST_SUM = Math.log(0.2 / 0.8);

interface HeadingWords {
  readonly text: string;
  readonly words: readonly number[];
}

/** Values that passed their checks, waiting for the text around them; what can never be certain enough is let go. */
export class CandidateQueue {
  survivors: Survivor[] = [];
  private readonly starts = new GrowingNumbers();
  private readonly ends = new GrowingNumbers();
  private readonly owners = new GrowingNumbers();
  private readonly lines = new GrowingNumbers();
  private readonly columns = new GrowingNumbers();
  private readonly slots = new GrowingNumbers();
  private readonly grouped = new GrowingNumbers();
  private readonly canonicals = new Map<number, string>();
  private dropped = 0;

  private readonly wordNumbers = new GrowingNumbers();
  private readonly wordStarts = new GrowingNumbers();
  private readonly wordEnds = new GrowingNumbers();
  private readonly wordRuns = new GrowingNumbers();

  private readonly lastEnd: Int32Array;
  private readonly lastShaped: Int32Array;
  private readonly lastPassed: Int32Array;
  private readonly lastQueued: Int32Array;
  private readonly kept: Int32Array;

  private slotShaped = new GrowingNumbers();
  private slotPassing = new GrowingNumbers();
  private readonly slotOfColumn: Int32Array;
  private readonly slotBlock: Int32Array;
  /** Added to numbers of tables, so that those of one text are not taken for those of another. */
  private blockBase = 0;
  private search!: SearchText;
  private tables!: Tables;
  private most = 0;
  private readonly headings = new Map<number, readonly (HeadingWords | null)[]>();

  constructor(private readonly scan: FastScan) {
    const count = scan.patterns.length;
    this.lastEnd = new Int32Array(count);
    this.lastShaped = new Int32Array(count);
    this.lastPassed = new Int32Array(count);
    this.lastQueued = new Int32Array(count);
    this.kept = new Int32Array(count);
    this.slotOfColumn = new Int32Array(count * MOST_COLUMNS);
    this.slotBlock = new Int32Array(count * MOST_COLUMNS).fill(-1);
  }

  /** Makes ready for another text. What the last one found belongs to its caller and is not touched again. */
  begin(search: SearchText, tables: Tables, most: number): void {
    this.blockBase += this.tables ? this.tables.count : 0;
    if (this.blockBase > 1_000_000_000) {
      this.blockBase = 0;
      this.slotBlock.fill(-1);
    }
    this.search = search;
    this.tables = tables;
    this.most = most;
    this.survivors = [];
    for (const numbers of [
      this.starts,
      this.ends,
      this.owners,
      this.lines,
      this.columns,
      this.slots,
      this.grouped,
    ])
      numbers.length = 0;
    for (const numbers of [this.wordNumbers, this.wordStarts, this.wordEnds, this.wordRuns])
      numbers.length = 0;
    this.canonicals.clear();
    this.headings.clear();
    this.dropped = 0;
    this.lastEnd.fill(0);
    this.lastShaped.fill(-1);
    this.lastPassed.fill(-1);
    this.kept.fill(0);
    // The first slots are for values outside tables, one a pattern.
    const count = this.scan.patterns.length;
    this.slotShaped = new GrowingNumbers(count * 2);
    this.slotPassing = new GrowingNumbers(count * 2);
    this.slotShaped.length = count;
    this.slotPassing.length = count;
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
    if (this.headings.size > MOST_TABLES) this.forgetTables(line);
  }

  /** A place where a shape stands, passing or not. */
  shaped(prepared: Prepared, reading: ShapeReading, passes: boolean): void {
    const { index } = prepared;
    const { start, end } = reading;
    const again = this.lastPassed[index] === start;
    if (!again && this.lastEnd[index]! > start) return;
    const slot = this.slotOf(index, reading.line, reading.column);
    if (this.lastShaped[index] !== start) {
      this.lastShaped[index] = start;
      this.slotShaped.values[slot]! += 1;
    }
    if (!passes) return;
    if (again) {
      this.lengthen(index, reading);
      return;
    }
    this.slotPassing.values[slot]! += 1;
    this.push(prepared, {
      start,
      end,
      line: reading.line,
      column: reading.column,
      slot,
      grouped: reading.grouped,
    });
  }

  /** Of two ways of reading a value from the same start the longer one counts. */
  private lengthen(index: number, reading: ShapeReading): void {
    const place = this.lastQueued[index]! - this.dropped;
    if (reading.end <= this.ends.values[place]!) return;
    this.ends.values[place] = reading.end;
    this.grouped.values[place] = reading.grouped ? 1 : 0;
    this.lastEnd[index] = reading.end;
  }

  /** A value that a trigger led to. */
  triggered(hit: TriggerHit, line: number): void {
    const { index } = hit.prepared;
    if (this.lastEnd[index]! > hit.start) return;
    const block = this.tables.blockOf[line] ?? 0;
    const column = block === 0 ? 0 : (this.tables.cellAt(hit.start, line)?.column ?? 0);
    const slot = this.slotOf(index, line, column);
    this.slotShaped.values[slot]! += 1;
    if (!hit.passes) return;
    this.slotPassing.values[slot]! += 1;
    this.canonicals.set(this.starts.length + this.dropped, hit.canonical);
    this.push(hit.prepared, { start: hit.start, end: hit.end, line, column, slot, grouped: false });
  }

  flushIfFull(position: number): void {
    if (this.starts.length >= WAITING) this.flush(position);
  }

  /** Decides about every value whose surroundings end before `position`. */
  flush(position: number): void {
    let decided = 0;
    while (decided < this.starts.length && this.ends.values[decided]! + REACH < position) {
      this.decide(decided);
      decided += 1;
    }
    for (const numbers of [
      this.starts,
      this.ends,
      this.owners,
      this.lines,
      this.columns,
      this.slots,
      this.grouped,
    ])
      numbers.dropFirst(decided);
    this.dropped += decided;
    const oldest = this.starts.length > 0 ? this.starts.values[0]! : position;
    const useless = this.firstWordFrom(oldest - KEPT_WORDS);
    for (const numbers of [this.wordNumbers, this.wordStarts, this.wordEnds, this.wordRuns])
      numbers.dropFirst(useless);
  }

  /** Patterns that had more candidates than are kept. */
  cutShort(): PatternId[] {
    return this.scan.patterns
      .filter(({ index }) => this.kept[index]! > this.most)
      .map(({ pattern }) => pattern.id);
  }

  /** Other values in the same column or text, and how many of them pass; the value itself left out. */
  neighbours(): (slot: number) => { shaped: number; passing: number } {
    const shaped = this.slotShaped.values;
    const passing = this.slotPassing.values;
    return (slot) => ({ shaped: shaped[slot]! - 1, passing: passing[slot]! - 1 });
  }

  private push(
    prepared: Prepared,
    value: { start: number; end: number; line: number; column: number; slot: number; grouped: boolean },
  ): void {
    const { index } = prepared;
    this.lastPassed[index] = value.start;
    this.lastEnd[index] = value.end;
    this.lastQueued[index] = this.starts.length + this.dropped;
    this.starts.push(value.start);
    this.ends.push(value.end);
    this.owners.push(index);
    this.lines.push(value.line);
    this.columns.push(value.column);
    this.slots.push(value.slot);
    this.grouped.push(value.grouped ? 1 : 0);
  }

  /** Tables above the oldest waiting value are done with. */
  private forgetTables(line: number): void {
    const oldest = this.tables.blockOf[this.lines.length > 0 ? this.lines.values[0]! : line]!;
    for (const block of this.headings.keys()) if (block < oldest && oldest !== 0) this.headings.delete(block);
  }

  private slotOf(pattern: number, line: number, column: number): number {
    const block = this.tables.blockOf[line] ?? 0;
    if (block === 0) return pattern;
    const key = pattern * MOST_COLUMNS + Math.min(column, MOST_COLUMNS - 1);
    if (this.slotBlock[key] !== block + this.blockBase) {
      this.slotBlock[key] = block + this.blockBase;
      this.slotOfColumn[key] = this.slotShaped.length;
      this.slotShaped.push(0);
      this.slotPassing.push(0);
    }
    return this.slotOfColumn[key]!;
  }

  private decide(place: number): void {
    const number = place + this.dropped;
    const canonical = this.canonicals.get(number) ?? null;
    if (canonical !== null) this.canonicals.delete(number);
    const prepared = this.scan.patterns[this.owners.values[place]!]!;
    const grouped = this.grouped.values[place] === 1;
    const value = { start: this.starts.values[place]!, end: this.ends.values[place]! };
    const line = this.lines.values[place]!;
    const block = this.tables.blockOf[line] ?? 0;
    const heading = block === 0 ? null : this.headingOf(block, this.columns.values[place]!);
    const bounds =
      heading === null || this.tables.kindOf(block) === LIST
        ? { from: 0, to: this.search.units.length }
        : { from: this.tables.lineStarts[line]!, to: this.tables.lineEnd(line) };
    const { weights } = prepared.pattern;
    const least = LEAST_SUM - NEIGHBOUR_BOUNDS.most - weights.usualCheck - baseSum(weights, grouped);
    const near = this.wordsNear(prepared.index, value, bounds);
    const role = heading === null ? NO_ROLE : this.headingRole(heading, prepared.index);
    if (!near && role === NO_ROLE && least > 0) return;
    if (this.kept[prepared.index]! >= this.most) {
      this.kept[prepared.index]! += 1;
      return;
    }
    const inside = canonical === null ? insideOf(this.search.units, value.start, value.end) : null;
    const context = {
      naming: near?.naming ?? null,
      supporting: near?.supporting ?? null,
      counter: near?.counter ?? null,
      heading: heading === null || role === NO_ROLE ? null : { text: heading.text, role },
      inside,
    };
    if (mostSum(prepared, context) < least) return;
    this.kept[prepared.index]! += 1;
    this.survivors.push({ prepared, ...value, grouped, canonical, context, slot: this.slots.values[place]! });
  }

  /** The nearest word of each role around a value. */
  private wordsNear(
    pattern: number,
    value: { start: number; end: number },
    bounds: { from: number; to: number },
  ): NearWords | null {
    const { vocabulary } = this.scan;
    let near: NearWords | null = null;
    for (let index = this.firstWordFrom(value.start - REACH); index < this.wordNumbers.length; index += 1) {
      if (this.wordRuns.values[index]! > value.end + REACH) break;
      const word = this.wordNumbers.values[index]!;
      const role = vocabulary.roleOf(word, pattern);
      if (role === NO_ROLE) continue;
      const from = this.wordStarts.values[index]!;
      const to = this.wordEnds.values[index]!;
      if (from < bounds.from || to > bounds.to) continue;
      const found = nearWord(this.search.units, { text: vocabulary.words[word]!, from, to }, value);
      if (!found) continue;
      near ??= { naming: null, supporting: null, counter: null };
      if (role === NAMING) near.naming = better(near.naming, found);
      else if (role === SUPPORTING) near.supporting = better(near.supporting, found);
      else near.counter = better(near.counter, found);
    }
    return near && withoutOwnName(near);
  }

  private firstWordFrom(position: number): number {
    let low = 0;
    let high = this.wordRuns.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.wordRuns.values[middle]! < position) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private headingOf(block: number, column: number): HeadingWords | null {
    return this.headings.get(block)?.[Math.min(column, MOST_COLUMNS - 1)] ?? null;
  }

  private readHeading(from: number, to: number): HeadingWords {
    const words: number[] = [];
    for (let index = this.firstWordFrom(from); index < this.wordNumbers.length; index += 1) {
      if (this.wordRuns.values[index]! >= to) break;
      if (this.wordStarts.values[index]! >= from && this.wordEnds.values[index]! <= to)
        words.push(this.wordNumbers.values[index]!);
    }
    return { text: this.search.text.slice(from, to).trim(), words };
  }

  private headingRole(heading: HeadingWords, pattern: number): number {
    let role = NO_ROLE;
    for (const word of heading.words) {
      const each = this.scan.vocabulary.roleOf(word, pattern);
      if (each !== NO_ROLE && (role === NO_ROLE || each < role)) role = each;
    }
    return role;
  }
}

/** The most that words and headings can add; what counts against a value is left out, so that none is let go too early. */
function mostSum({ pattern }: Prepared, context: Survivor['context']): number {
  const { weights } = pattern;
  let sum = 0.5;
  if (context.heading) sum += Math.max(0, weights.heading, weights.supportingWord + 1.2);
  if (context.naming) sum += Math.max(0, weights.namingWord * context.naming.share);
  if (context.supporting) sum += Math.max(0, weights.supportingWord * context.supporting.share);
  return sum;
}
