/** Rows that stand together before a text counts as a table: fewer are a sentence with commas. Common practice, no source. */
const FEWEST_ROWS = 3;
/** Characters of a line that are looked at; longer lines are data of another kind. */
const LONGEST_ROW = 20_000;

/**
 * Rows of all tables in a text: runs of lines with the same number of tabs, semicolons, bars or commas. Commas count
 * from two a line on, since sentences have one. Grows with the length of the text.
 */
export function tableRows(text: string): number {
  let rows = 0;
  let run = 0;
  let kind = '';
  const close = (): void => {
    if (run >= FEWEST_ROWS) rows += run;
    run = 0;
  };
  for (const line of linesOf(text)) {
    const found = shapeOf(line);
    if (found !== '' && found === kind) run += 1;
    else {
      close();
      kind = found;
      run = found === '' ? 0 : 1;
    }
  }
  close();
  return rows;
}

function* linesOf(text: string): Generator<string> {
  let from = 0;
  while (from <= text.length) {
    const end = text.indexOf('\n', from);
    const to = end === -1 ? text.length : end;
    yield text.slice(from, Math.min(to, from + LONGEST_ROW));
    from = to + 1;
  }
}

const DIVIDERS = ['\t', ';', '|', ','] as const;

/** The divider of a line and how often it stands there outside quotes; empty for a line of no table. */
function shapeOf(line: string): string {
  const bare = line.includes('"') ? line.replaceAll(QUOTED, '""') : line;
  for (const divider of DIVIDERS) {
    let count = 0;
    for (let at = bare.indexOf(divider); at !== -1; at = bare.indexOf(divider, at + 1)) count += 1;
    if (count > (divider === ',' ? 1 : 0)) return `${divider}${count}`;
  }
  return '';
}

/** A quoted cell as RFC 4180 writes it: doubled quotes stand for themselves. */
const QUOTED = /"[^"]*"/g;

/** Longest name of a column that is kept; longer headings are sentences. */
const LONGEST_NAME = 80;

/** Something that stands at an offset of a text. */
interface Standing {
  readonly start: number;
}

/**
 * The column of a table in which each of `standing` begins, by its heading: the first row of its run of like lines.
 * Undefined for what stands in no table, or in the headings themselves. `standing` must be in order.
 */
export function fieldsAt(text: string, standing: readonly Standing[]): (string | undefined)[] {
  const names: (string | undefined)[] = standing.map(() => undefined);
  let next = 0;
  let from = 0;
  let kind = '';
  /** The run of like lines: its headings, its rows so far, and what stands in it. */
  let run: { heading: readonly string[]; rows: number; found: { at: number; column: number }[] } | null =
    null;
  const close = (): void => {
    if (run && run.rows >= FEWEST_ROWS)
      for (const { at, column } of run.found) names[at] = run.heading[column] || `column ${column + 1}`;
    run = null;
  };
  for (const line of linesOf(text)) {
    const end = text.indexOf('\n', from);
    const to = end === -1 ? text.length : end;
    // Sheets leave out the empty cells at the end of a row.
    const found = shapeOf(line);
    const shape = found.startsWith('\t') ? '\t' : found;
    const isHeading = shape === '' || shape !== kind || run === null;
    if (isHeading) {
      close();
      kind = shape;
      if (shape !== '') run = { heading: cellsOf(line, shape.charAt(0)), rows: 1, found: [] };
    } else if (run) run.rows += 1;
    for (; next < standing.length && (standing[next]?.start ?? 0) <= to; next += 1) {
      const start = standing[next]?.start ?? 0;
      if (run && !isHeading && start >= from)
        run.found.push({ at: next, column: columnAt(line, start - from, shape.charAt(0)) });
    }
    from = to + 1;
  }
  close();
  return names;
}

/** Cells of one line, without the quotes around them. */
function cellsOf(line: string, divider: string): string[] {
  const cells: string[] = [];
  let from = 0;
  let quoted = false;
  for (let at = 0; at <= line.length; at += 1) {
    const unit = line[at];
    if (unit === '"') quoted = !quoted;
    if (at < line.length && (unit !== divider || quoted)) continue;
    const cell = line.slice(from, at).trim();
    cells.push(cell.replaceAll(/^"|"$/g, '').slice(0, LONGEST_NAME));
    from = at + 1;
  }
  return cells;
}

function columnAt(line: string, offset: number, divider: string): number {
  let column = 0;
  let quoted = false;
  for (let at = 0; at < offset && at < line.length; at += 1) {
    if (line[at] === '"') quoted = !quoted;
    else if (line[at] === divider && !quoted) column += 1;
  }
  return column;
}
