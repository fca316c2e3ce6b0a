import { MAX_COLUMNS, MAX_MARKUP_DEPTH } from './limits.js';
import { type HtmlListener, walkHtml } from './walk-html.js';

/** Elements that stand on lines of their own. */
const LINES = new Set([
  'address', 'article', 'aside', 'body', 'caption', 'center', 'dd', 'details', 'div', 'dl', 'dt', 'fieldset', 'figcaption',
  'figure', 'footer', 'form', 'header', 'hr', 'legend', 'li', 'main', 'nav', 'optgroup', 'option', 'section', 'summary',
]); // prettier-ignore
/** Elements with an empty line around them. */
const BLOCKS = new Set(['blockquote', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'ol', 'p', 'pre', 'table', 'ul']);
/** Elements whose text is none of the page's; {@link HiddenText} reads what they hold. */
const UNSEEN = new Set(['head', 'noscript', 'script', 'style', 'template', 'title']);
/** Columns or rows that one cell may cover: more is a mistake, or an attack by a few bytes. */
const MAX_SPAN = 100;
/** Empty cells that spans may put into one page, over all of its tables. */
const MAX_SPANNED_CELLS = 200_000;

interface Table {
  /** Cells of the row that is open; null between rows. */
  row: string[] | null;
  inCell: boolean;
  /** Rows that each column is still covered for by a cell above. */
  readonly covered: number[];
}

/**
 * One line, kept as pieces until it ends. A long string that grows and is looked at after each piece would be copied
 * each time, and a page can have a million pieces on one line.
 */
class Line {
  private pieces: string[] = [];
  private last = '';
  /** Nothing but white space so far. */
  isBlank = true;

  get isEmpty(): boolean {
    return this.pieces.length === 0;
  }

  get endsWithSpace(): boolean {
    return this.last.endsWith(' ');
  }

  add(piece: string): void {
    if (piece === '') return;
    this.pieces.push(piece);
    this.last = piece;
    this.isBlank &&= piece.trim() === '';
  }

  /** The whole line; an empty one begins. */
  take(): string {
    const whole = this.pieces.join('');
    this.pieces = [];
    this.last = '';
    this.isBlank = true;
    return whole;
  }
}

/** Hears the text of a page as it stands on it, hidden elements included: a line a row and a tab a cell in tables. */
class HtmlText implements HtmlListener {
  private readonly lines: string[] = [];
  private readonly line = new Line();
  private readonly tables: Table[] = [];
  /** Tables inside each other beyond the depth that is followed: their cells are text. */
  private beyond = 0;
  private unseen = '';
  private pre = 0;
  private spannedLeft = MAX_SPANNED_CELLS;

  open(name: string, attributes: Readonly<Record<string, string>>): void {
    if (this.unseen !== '') {
      // A page without an end of its head goes on with its body.
      if (name === 'body') this.unseen = '';
      return;
    }
    if (UNSEEN.has(name)) this.unseen = name;
    else if (name === 'table') this.openTable();
    else if (name === 'tr') this.openRow();
    else if (name === 'td' || name === 'th') this.openCell(attributes);
    else if (name === 'br') this.breakLine();
    else if (name === 'pre') {
      this.pre += 1;
      this.block();
    } else if (BLOCKS.has(name)) this.block();
    else if (LINES.has(name)) this.breakIfFilled();
    if (name === 'li') this.line.add(' * ');
  }

  close(name: string): void {
    if (this.unseen !== '') {
      if (name === this.unseen) this.unseen = '';
      return;
    }
    if (name === 'table') this.closeTable();
    else if (name === 'tr') this.closeRow();
    else if (name === 'td' || name === 'th') this.closeCell();
    else if (name === 'pre') {
      this.pre = Math.max(0, this.pre - 1);
      this.block();
    } else if (BLOCKS.has(name)) this.block();
    else if (LINES.has(name)) this.breakIfFilled();
  }

  text(text: string): void {
    if (this.unseen !== '') return;
    if (this.pre > 0 && !this.table?.inCell) {
      const [first = '', ...rest] = text.split('\n');
      this.line.add(first);
      for (const next of rest) {
        this.breakLine();
        this.line.add(next);
      }
      return;
    }
    const folded = text.replace(/[ \t\r\n\f]+/g, ' ');
    this.line.add(this.line.isEmpty || this.line.endsWithSpace ? folded.replace(/^ /, '') : folded);
  }

  comment(): void {
    // What a page says beside itself is none of its text.
  }

  finish(): string {
    while (this.tables.length > 0) this.closeTable();
    this.breakIfFilled();
    return this.lines
      .join('\n')
      .replace(/\n{3,}/g, '\n\n')
      .replace(/^\n+|\s+$/g, '');
  }

  private get table(): Table | undefined {
    return this.beyond > 0 ? undefined : this.tables.at(-1);
  }

  private openTable(): void {
    if (this.tables.length >= MAX_MARKUP_DEPTH) {
      this.beyond += 1;
      return;
    }
    // What stands in the cell before a table inside it is a line of its own, and so are its rows.
    const outer = this.table;
    if (outer?.inCell) this.flushRow(outer);
    this.block();
    this.tables.push({ row: null, inCell: false, covered: [] });
  }

  private closeTable(): void {
    if (this.beyond > 0) {
      this.beyond -= 1;
      return;
    }
    this.closeRow();
    this.tables.pop();
    this.block();
  }

  private openRow(): void {
    const { table } = this;
    if (!table) return this.breakIfFilled();
    this.closeRow();
    this.breakIfFilled();
    table.row = [];
  }

  private closeRow(): void {
    const { table } = this;
    if (!table?.row) return;
    this.closeCell();
    this.flushRow(table);
    table.row = null;
  }

  private openCell({ colspan, rowspan }: Readonly<Record<string, string>>): void {
    const { table } = this;
    if (!table) {
      if (!this.line.isEmpty) this.line.add('\t');
      return;
    }
    this.closeCell();
    table.row ??= [];
    table.inCell = true;
    this.skipCovered(table);
    const columns = spanOf(colspan);
    const rows = spanOf(rowspan) - 1;
    const from = table.row.length;
    for (let column = from; rows > 0 && column < from + columns && column < MAX_COLUMNS; column += 1)
      table.covered[column] = rows;
    this.pending = columns - 1;
  }

  /** Further columns that the open cell covers. */
  private pending = 0;

  private closeCell(): void {
    const { table } = this;
    if (!table?.inCell || !table.row) return;
    table.inCell = false;
    table.row.push(this.line.take().trim().replace(/\t/g, ' '));
    this.fill(table.row, this.pending);
    this.pending = 0;
  }

  /** Leaves columns empty that a cell of an earlier row covers. */
  private skipCovered({ row, covered }: Table): void {
    while (row && (covered[row.length] ?? 0) > 0 && this.spannedLeft > 0) {
      const column = row.length;
      covered[column] = (covered[column] ?? 1) - 1;
      this.fill(row, 1);
    }
  }

  private fill(row: string[], columns: number): void {
    const filled = Math.min(columns, this.spannedLeft, Math.max(0, MAX_COLUMNS - row.length));
    this.spannedLeft -= filled;
    for (let added = 0; added < filled; added += 1) row.push('');
  }

  private flushRow(table: Table): void {
    const cells = table.row ?? [];
    if (table.inCell) {
      cells.push(this.line.take().trim());
    }
    if (cells.length > 0) this.lines.push(cells.join('\t'));
    if (table.row) table.row = [];
  }

  /** A line ends here, empty or not. Inside a cell it is a space: a row is one line. */
  private breakLine(): void {
    if (this.table?.inCell) {
      if (!this.line.isEmpty && !this.line.endsWithSpace) this.line.add(' ');
      return;
    }
    this.lines.push(this.line.take().trimEnd());
  }

  private breakIfFilled(): void {
    if (!this.line.isBlank) this.breakLine();
    else if (!this.table?.inCell) this.line.take();
  }

  private block(): void {
    this.breakIfFilled();
    if (!this.table?.inCell && this.lines.length > 0 && this.lines.at(-1) !== '') this.lines.push('');
  }
}

function spanOf(given: string | undefined): number {
  const span = Number.parseInt(given ?? '1', 10);
  return Number.isFinite(span) ? Math.min(MAX_SPAN, Math.max(1, span)) : 1;
}

/** Attributes that hold text which a page keeps to itself or shows on demand. */
const TELLING = ['value', 'alt', 'title', 'placeholder', 'content', 'aria-label'] as const;

/** Hears what a page does not show: comments, values of fields, texts behind pictures, its description, data in scripts. */
class HiddenText implements HtmlListener {
  private readonly lines: string[] = [];
  private inScript = false;

  open(name: string, attributes: Readonly<Record<string, string>>): void {
    this.inScript = name === 'script';
    for (const attribute of TELLING) {
      const text = attributes[attribute]?.trim();
      if (!text) continue;
      const named = attributes['name'] ?? attributes['id'] ?? attributes['property'] ?? attribute;
      this.lines.push(`${named}: ${text}`);
    }
  }

  text(text: string): void {
    if (this.inScript && text.trim() !== '') this.lines.push(text);
  }

  close(): void {
    this.inScript = false;
  }

  comment(text: string): void {
    if (text.trim() !== '') this.lines.push(text.trim());
  }

  finish(): string {
    return this.lines.join('\n');
  }
}

/** What a page shows and what it keeps to itself, heard in one walk over it. */
export function readHtml(html: string): { readonly shown: string; readonly hidden: string } {
  const shown = new HtmlText();
  const hidden = new HiddenText();
  walkHtml(html, {
    open(name, attributes) {
      shown.open(name, attributes);
      hidden.open(name, attributes);
    },
    text(text) {
      shown.text(text);
      hidden.text(text);
    },
    close(name) {
      shown.close(name);
      hidden.close();
    },
    comment: (text) => hidden.comment(text),
  });
  return { shown: shown.finish(), hidden: hidden.finish() };
}
