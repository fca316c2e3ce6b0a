import type { SearchText } from './search-text.js';

/**
 * Where a text holds rows and columns: CSV, tab-separated text, the rows read out of a sheet, a list of values under a
 * heading. Read in one pass over the units, kept as one number a line.
 */

/** How the cells of a row are told apart. */
export const NO_TABLE = 0;
const TAB = 1;
const SEMICOLON = 2;
const BAR = 3;
/** Commas with no space behind them. */
const COMMA = 4;
/** Commas with a space behind them, which prose has too. */
const LOOSE_COMMA = 5;
/** Values one a line under a heading. */
export const LIST = 6;
/** Columns aligned by two spaces or more. */
const SPACES = 7;

/** Rows longer than this are prose or data on one line, not a table somebody reads. */
const LONGEST_ROW = 4000;
/** A heading longer than this is a sentence. */
const LONGEST_HEADING = 80;
/** A value alone on its line is not longer. */
const LONGEST_VALUE = 40;
/** Headings between loose commas are short, or the row is a sentence. */
const LONGEST_LOOSE_HEADING = 30;
/** Spaces that a cell aligned by spaces may have behind its words. */
const GAP_ROOM = 40;

/** Where an offset stands in a table. */
export interface TableCell {
  /** Number of its table in the text. */
  readonly block: number;
  readonly column: number;
  /** Offsets of the row, end exclusive. */
  readonly rowStart: number;
  readonly rowEnd: number;
  /** Offsets of the heading of the column, end exclusive. */
  readonly headingStart: number;
  readonly headingEnd: number;
}

const KIND_OF_UNIT = new Uint8Array(65_536);
for (const [unit, kind] of [[9, TAB], [59, SEMICOLON], [124, BAR], [44, COMMA], [32, SPACES]] as const) KIND_OF_UNIT[unit] = kind; // prettier-ignore

/** Lines of a text and the tables they form. */
export class Tables {
  /** Offset at which each line begins; one more entry for the end of the text. */
  readonly lineStarts: Uint32Array;
  readonly lines: number;
  /** Number of the table of each line, 0 for none; a table's first line is its heading and has none. */
  readonly blockOf: Uint32Array;
  /** How the rows of each table are divided, and its heading line, by number of the table. */
  private readonly kinds: number[] = [NO_TABLE];
  private readonly headings: number[] = [0];

  private readonly units: Uint16Array;

  /** `text` and `units` are the same searched text. */
  constructor({ text, units }: Pick<SearchText, 'text' | 'units'>) {
    this.units = units;
    const { starts, shapes, count } = readLines(text, units);
    this.lineStarts = starts;
    this.lines = count;
    this.blockOf = new Uint32Array(count);
    this.findBlocks(shapes);
  }

  /** One more than the highest number of a table. */
  get count(): number {
    return this.kinds.length;
  }

  /** How the rows of a table are divided. */
  kindOf(block: number): number {
    return this.kinds[block] ?? NO_TABLE;
  }

  /** End of a line without its line break. */
  lineEnd(line: number): number {
    const next = this.lineStarts[line + 1] ?? this.units.length;
    let end = line + 1 < this.lines ? next - 1 : next;
    if (end > (this.lineStarts[line] ?? 0) && this.units[end - 1] === 13) end -= 1;
    return end;
  }

  /** Number of the line that holds an offset. */
  lineAt(offset: number): number {
    let low = 0;
    let high = this.lines - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((this.lineStarts[middle] ?? 0) <= offset) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** The cell that holds `offset`, or undefined when it stands in a heading or outside any table. */
  cellAt(offset: number, line = this.lineAt(offset)): TableCell | undefined {
    const block = this.blockOf[line] ?? 0;
    if (block === 0) return undefined;
    const rowStart = this.lineStarts[line] ?? 0;
    const column = this.columnAt(offset, rowStart, this.kindOf(block));
    const heading = this.headings[block] ?? 0;
    const [headingStart, headingEnd] = this.cellBounds(heading, column, this.kindOf(block));
    if (headingEnd - headingStart > LONGEST_HEADING) return undefined;
    return { block, column, rowStart, rowEnd: this.lineEnd(line), headingStart, headingEnd };
  }

  /** Bounds of the headings of a table, the last one standing for all beyond `most`; null where one is a sentence. */
  headingsOf(block: number, most: number): ({ from: number; to: number } | null)[] {
    const kind = this.kindOf(block);
    const line = this.headings[block] ?? 0;
    const cells: ({ from: number; to: number } | null)[] = [];
    const end = this.lineEnd(line);
    let from = this.lineStarts[line] ?? 0;
    for (let at = from; at <= end && cells.length < most; at += 1) {
      if (at < end && (kind === LIST || !divides(this.units, at, kind))) continue;
      cells.push(at - from > LONGEST_HEADING ? null : { from, to: at });
      from = at + 1;
    }
    return cells;
  }

  /** Number of the column that holds an offset, also where its heading is a sentence. */
  columnOf(offset: number, line: number): number {
    return this.columnAt(offset, this.lineStarts[line] ?? 0, this.kindOf(this.blockOf[line] ?? 0));
  }

  /** Offsets of one cell of a row, end exclusive; empty where the row has no such column. */
  cellOf(line: number, column: number): [from: number, to: number] {
    return this.cellBounds(line, column, this.kindOf(this.blockOf[line] ?? 0));
  }

  private columnAt(offset: number, rowStart: number, kind: number): number {
    let column = 0;
    for (let at = rowStart; at < offset; at += 1) if (divides(this.units, at, kind)) column += 1;
    return column;
  }

  private cellBounds(line: number, column: number, kind: number): [number, number] {
    const end = this.lineEnd(line);
    let from = this.lineStarts[line] ?? 0;
    let seen = 0;
    for (let at = from; at < end; at += 1) {
      if (!divides(this.units, at, kind)) continue;
      if (seen === column) return [from, at];
      seen += 1;
      from = at + 1;
    }
    return seen === column ? [from, end] : [end, end];
  }

  private findBlocks(shapes: Uint32Array): void {
    let open = 0;
    let previous = -1;
    for (let line = 0; line < this.lines; line += 1) {
      const shape = shapes[line] ?? 0;
      const kind = shape & 7;
      if (kind === NO_TABLE) {
        open = 0;
        previous = -1;
        continue;
      }
      if (kind === LIST) {
        if (previous !== shape) open = this.listFrom(line);
        this.blockOf[line] = open;
      } else if (previous !== shape || open === 0) {
        // The first row of its width is the heading; the table begins with the next one.
        open = previous === shape ? this.begin(line - 1, kind, shapes[line + 1] === shape) : 0;
        this.blockOf[line] = Math.max(0, open);
      } else this.blockOf[line] = Math.max(0, open);
      previous = shape;
    }
  }

  /** Number of the new table, or -1 where these rows are prose after all. */
  private begin(heading: number, kind: number, goesOn: boolean): number {
    if (kind === LOOSE_COMMA && !this.looksLikeHeadings(heading)) return -1;
    // Two lines with as many gaps are met by chance in any text that is set with spaces.
    if (kind === SPACES && !(goesOn && this.looksLikeNames(heading))) return -1;
    this.kinds.push(kind);
    this.headings.push(heading);
    return this.kinds.length - 1;
  }

  /** Values one a line count as a list when a short line of words stands above the first. */
  private listFrom(line: number): number {
    let heading = line - 1;
    while (heading >= 0 && heading >= line - 2 && this.lineEnd(heading) === this.lineStarts[heading])
      heading -= 1;
    if (heading < 0) return 0;
    const length = this.lineEnd(heading) - (this.lineStarts[heading] ?? 0);
    if (length === 0 || length > LONGEST_HEADING) return 0;
    this.kinds.push(LIST);
    this.headings.push(heading);
    return this.kinds.length - 1;
  }

  /** Short cells of words: no digits, no end of a sentence, no name of a field with its colon. */
  private looksLikeNames(line: number): boolean {
    const end = this.lineEnd(line);
    let length = 0;
    for (let at = this.lineStarts[line] ?? 0; at < end; at += 1) {
      const unit = this.units[at] ?? 0;
      const isDigit = unit >= 48 && unit <= 57;
      if (isDigit || unit === 58 || unit === 33 || unit === 63) return false;
      length = divides(this.units, at, SPACES) ? 0 : length + 1;
      if (length > LONGEST_LOOSE_HEADING + GAP_ROOM) return false;
    }
    return true;
  }

  private looksLikeHeadings(line: number): boolean {
    const end = this.lineEnd(line);
    let from = this.lineStarts[line] ?? 0;
    for (let at = from; at <= end; at += 1) {
      const unit = this.units[at] ?? 0;
      if (at === end || divides(this.units, at, LOOSE_COMMA)) {
        if (at - from > LONGEST_LOOSE_HEADING) return false;
        from = at + 1;
      } else if (unit === 46 || unit === 33 || unit === 63) return false;
    }
    return true;
  }
}

/** Whether the unit at `at` stands between two cells of a row divided like `kind`. */
export function divides(units: Uint16Array, at: number, kind: number): boolean {
  const found = KIND_OF_UNIT[units[at] ?? 0] ?? 0;
  if (found === 0) return false;
  if (found === COMMA) return kind === (units[at + 1] === 32 ? LOOSE_COMMA : COMMA);
  if (found === SPACES) return kind === SPACES && endsGap(units, at);
  return found === kind;
}

/** Whether the space at `at` is the last of two or more between two cells of a line; indentation is no gap. */
function endsGap(units: Uint16Array, at: number): boolean {
  const next = units[at + 1] ?? 10;
  if (next === 32 || next === 10 || next === 13 || units[at - 1] !== 32) return false;
  let before = at - 2;
  while (before >= 0 && units[before] === 32) before -= 1;
  return before >= 0 && units[before] !== 10;
}

/** Marks that a value alone on its line has not: small letters and letters beyond Latin. */
const isSmall = (unit: number): boolean => (unit >= 97 && unit <= 122) || unit > 0x2ff;

interface Lines {
  readonly starts: Uint32Array;
  /** Kind in the lowest three bits, number of dividers above; equal for rows of one table. Good until other lines are read. */
  readonly shapes: Uint32Array;
  readonly count: number;
}

/** Room kept for the lines of the next text, which has fewer as a rule. */
const KEPT_LINES = 1 << 14;
const keptStarts = new Uint32Array(KEPT_LINES);
const keptShapes = new Uint32Array(KEPT_LINES);

/** Dividers in the order in which they are preferred, as the text has them. */
const DIVIDERS = ['\t', ';', '|', ','] as const;

/**
 * Ends of lines and dividers are asked of the engine, which leaps from one to the next: most of a text is neither, and
 * a loop over all units takes several times as long.
 */
function readLines(text: string, units: Uint16Array): Lines {
  let starts = keptStarts;
  let shapes = keptShapes;
  let line = 0;
  const { length } = units;
  const found = new Uint32Array(6);
  let gap = placeOf(text, '  ', 0);
  const next = DIVIDERS.map((divider) => placeOf(text, divider, 0));
  for (let start = 0; start <= length;) {
    const end = placeOf(text, '\n', start);
    if (line + 1 >= starts.length) {
      starts = twice(starts);
      shapes = twice(shapes);
    }
    let divided = false;
    for (let index = 0; index < 4; index += 1) {
      let at = next[index]!;
      if (at >= end) continue;
      divided = true;
      for (; at < end; at = placeOf(text, DIVIDERS[index]!, at + 1)) {
        const kind = index === 3 ? (units[at + 1] === 32 ? LOOSE_COMMA : COMMA) : index + 1;
        found[kind]! += 1;
      }
      next[index] = at;
    }
    starts[line] = start;
    let gaps = 0;
    for (; gap < end; gap = placeOf(text, '  ', gap)) {
      while (units[gap] === 32) gap += 1;
      if (gap <= end && divides(units, gap - 1, SPACES)) gaps += 1;
    }
    if (end - start > LONGEST_ROW) shapes[line] = 0;
    else if (divided || gaps > 0) shapes[line] = shapeOf(found, gaps);
    else shapes[line] = isListed(units, start, end) ? 8 + LIST : 0;
    if (divided) found.fill(0);
    line += 1;
    start = end + 1;
  }
  starts[line] = length;
  return { starts: starts.slice(0, line + 1), shapes, count: line };
}

function placeOf(text: string, wanted: string, from: number): number {
  const at = text.indexOf(wanted, from);
  return at === -1 ? text.length : at;
}

/** Whether a line may be one value of a list: digits, and no small letters. */
function isListed(units: Uint16Array, start: number, end: number): boolean {
  if (end - start > LONGEST_VALUE) return false;
  let digits = false;
  for (let at = start; at < end; at += 1) {
    const unit = units[at]!;
    if (isSmall(unit)) return false;
    if (unit >= 48 && unit <= 57) digits = true;
  }
  return digits;
}

function twice(old: Uint32Array<ArrayBuffer>): Uint32Array<ArrayBuffer> {
  const next = new Uint32Array(old.length * 2);
  next.set(old);
  return next;
}

/** What divides a line. Several gaps of spaces say more than a comma, which amounts and prose have too. */
function shapeOf(dividers: Uint32Array, gaps: number): number {
  for (let kind = TAB; kind <= LOOSE_COMMA; kind += 1) {
    if (kind === COMMA && gaps > 1) break;
    const found = dividers[kind] ?? 0;
    if (found > 0) return found * 8 + kind;
  }
  return gaps > 0 ? gaps * 8 + SPACES : 0;
}
