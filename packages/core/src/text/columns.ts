/** Where a value stands in delimited rows: CSV, tab-separated text, the rows read out of a sheet or a table. */
export interface TableCell {
  /** Text of the first row of the block in the same column, trimmed. */
  readonly heading: string;
  /** Offsets of the row the cell stands in, end exclusive. */
  readonly rowStart: number;
  readonly rowEnd: number;
}

const DELIMITERS = ['\t', ';', ',', '|'] as const;
/** Rows longer than this are prose or data on one line, not a table somebody reads. */
const LONGEST_ROW = 4000;
/** A heading longer than this is a sentence. */
const LONGEST_HEADING = 80;

interface Row {
  readonly start: number;
  readonly end: number;
}

interface Block {
  readonly delimiter: string;
  readonly first: Row;
}

/** Finds the heading above a value. Reads the text once, on the first question. */
export class Columns {
  private rows: Row[] | undefined;
  private blocks: (Block | undefined)[] = [];

  constructor(private readonly text: string) {}

  /** The cell that holds `offset`, or undefined when it stands in the first row or outside any table. */
  cellAt(offset: number): TableCell | undefined {
    const rows = this.read();
    const index = rowIndex(rows, offset);
    const row = rows[index];
    const block = this.blocks[index];
    if (!row || !block || block.first.start === row.start) return undefined;
    const column = count(this.text.slice(row.start, offset), block.delimiter);
    const cells = this.text.slice(block.first.start, block.first.end).split(block.delimiter);
    const heading = (cells[column] ?? '').trim();
    if (heading.length > LONGEST_HEADING) return undefined;
    return { heading, rowStart: row.start, rowEnd: row.end };
  }

  private read(): Row[] {
    if (this.rows) return this.rows;
    const rows = splitRows(this.text);
    let previous: { delimiter: string; count: number; block: Block } | undefined;
    for (const row of rows) {
      const shape =
        row.end - row.start > LONGEST_ROW ? undefined : shapeOf(this.text.slice(row.start, row.end));
      if (!shape) previous = undefined;
      else if (!previous || previous.delimiter !== shape.delimiter || previous.count !== shape.count) {
        previous = { ...shape, block: { delimiter: shape.delimiter, first: row } };
      }
      this.blocks.push(previous?.block);
    }
    this.rows = rows;
    return rows;
  }
}

function splitRows(text: string): Row[] {
  const rows: Row[] = [];
  let start = 0;
  while (start <= text.length) {
    const found = text.indexOf('\n', start);
    const end = found === -1 ? text.length : found;
    rows.push({ start, end });
    start = end + 1;
  }
  return rows;
}

function shapeOf(row: string): { delimiter: string; count: number } | undefined {
  for (const delimiter of DELIMITERS) {
    const found = count(row, delimiter);
    if (found > 0) return { delimiter, count: found };
  }
  return undefined;
}

function count(text: string, unit: string): number {
  let found = 0;
  for (let at = text.indexOf(unit); at !== -1; at = text.indexOf(unit, at + 1)) found += 1;
  return found;
}

function rowIndex(rows: readonly Row[], offset: number): number {
  let low = 0;
  let high = rows.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((rows[middle]?.start ?? 0) <= offset) low = middle;
    else high = middle - 1;
  }
  return low;
}
