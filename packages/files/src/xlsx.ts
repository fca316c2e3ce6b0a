import type { Budget } from './budget.js';
import { MAX_COLUMNS, MAX_EMPTY_CELLS, MAX_PART_TEXT } from './limits.js';
import { walkMarkup } from './markup.js';
import { type Container, embeddedParts, partText, propertyLines } from './package-parts.js';
import { type ReadPart, unreadable } from './part.js';
import { expand, type ZipEntry } from './zip.js';

/**
 * Reads the sheets of an .xlsx, hidden ones, rows and columns too: a line a row, a tab a column, so that headings stay
 * above their values. Comments, properties and objects are read beside them.
 */
export async function readXlsx(container: Container): Promise<ReadPart[]> {
  const { entries, path, budget } = container;
  const strings = await textsOf(entries, 'xl/sharedStrings.xml', budget);
  if (strings === undefined) return [unreadable(path, 'corrupt')];
  const names = await sheetNames(entries, budget);
  const parts: ReadPart[] = [];
  for (const entry of entries) {
    const sheet = /^xl\/worksheets\/([^/]+)\.xml$/.exec(entry.name)?.[1];
    if (!sheet) continue;
    const known = names.get(`worksheets/${sheet}.xml`) ?? { name: sheet, hidden: false };
    const place = [...path, `sheet ${known.name}`, ...(known.hidden ? ['hidden'] : [])];
    const expanded = await expand(entry, budget);
    if (expanded.status === 'unreadable') parts.push(unreadable(place, expanded.reason));
    else {
      const read = rowsOf(expanded.bytes.toString('utf8'), strings);
      if (read === undefined) parts.push(unreadable(place, 'corrupt'));
      else if (read.shown.isFull || read.hidden?.isFull) parts.push(unreadable(place, 'expands-too-far'));
      else {
        parts.push({
          status: 'read',
          path: place,
          text: read.shown.text,
          rows: read.shown.rows,
          inner: 'cell',
        });
        if (read.hidden)
          parts.push({
            status: 'read',
            path: [...place, 'hidden rows and columns'],
            text: read.hidden.text,
            rows: read.hidden.rows,
            inner: 'cell',
          });
      }
    }
  }
  return [...parts, ...(await besideSheets(container)), ...(await embeddedParts(container))];
}

/** Comments and properties. */
async function besideSheets(container: Container): Promise<ReadPart[]> {
  const parts: ReadPart[] = [];
  for (const entry of container.entries) {
    const comments = /^xl\/(?:comments\d*|threadedComments\/[^/]+|comments\/[^/]+)\.xml$/.test(entry.name);
    if (!comments && !/^docProps\/(?:core|custom|app)\.xml$/.test(entry.name)) continue;
    const xml = await partText(container, entry);
    const text = xml === 'unreadable' ? undefined : comments ? commentLines(xml) : propertyLines(xml);
    const place = [...container.path, comments ? 'comments' : 'properties'];
    if (text === undefined) parts.push(unreadable(place, 'corrupt'));
    else if (text.trim() !== '')
      parts.push({ status: 'read', path: place, text, ...(comments ? { inner: 'comment' } : {}) });
  }
  return parts;
}

/** A line a comment, with the cell that it is about. */
function commentLines(xml: string): string | undefined {
  const lines: string[] = [];
  let cell = '';
  let text = '';
  const wellFormed = walkMarkup(xml, {
    open(tag, { ref }) {
      if (tag === 'comment' || tag === 'threadedComment') {
        cell = ref ?? '';
        text = '';
      }
    },
    text(piece) {
      text += piece;
    },
    close(tag) {
      if (tag === 'comment' || tag === 'threadedComment') lines.push(`${cell}: ${text.trim()}`);
    },
  });
  return wellFormed ? lines.join('\n') : undefined;
}

async function markupOf(
  entries: readonly ZipEntry[],
  name: string,
  budget: Budget,
): Promise<string | undefined> {
  const entry = entries.find((candidate) => candidate.name === name);
  if (!entry) return '';
  const expanded = await expand(entry, budget);
  return expanded.status === 'expanded' ? expanded.bytes.toString('utf8') : undefined;
}

async function textsOf(
  entries: readonly ZipEntry[],
  name: string,
  budget: Budget,
): Promise<string[] | undefined> {
  const xml = await markupOf(entries, name, budget);
  if (xml === undefined) return undefined;
  const texts: string[] = [];
  let current = '';
  let inText = false;
  if (xml === '') return texts;
  const wellFormed = walkMarkup(xml, {
    open(tag) {
      if (tag === 'si') current = '';
      inText = tag === 't';
    },
    text(text) {
      if (inText) current += text;
    },
    close(tag) {
      if (tag === 'si') texts.push(current);
      inText = false;
    },
  });
  return wellFormed ? texts : undefined;
}

async function sheetNames(
  entries: readonly ZipEntry[],
  budget: Budget,
): Promise<Map<string, { name: string; hidden: boolean }>> {
  const targets = new Map<string, string>();
  const relations = await markupOf(entries, 'xl/_rels/workbook.xml.rels', budget);
  const collect = (
    xml: string | undefined,
    open: (tag: string, attributes: Readonly<Record<string, string>>) => void,
  ) => {
    if (xml) walkMarkup(xml, { open, text: () => undefined, close: () => undefined });
  };
  collect(relations, (tag, { Id, Target }) => {
    if (tag === 'Relationship' && Id && Target) targets.set(Id, Target.replace(/^\/xl\//, ''));
  });
  const names = new Map<string, { name: string; hidden: boolean }>();
  collect(await markupOf(entries, 'xl/workbook.xml', budget), (tag, { name, id, state }) => {
    const target = tag === 'sheet' && id ? targets.get(id) : undefined;
    const hidden = state === 'hidden' || state === 'veryHidden';
    if (target && name) names.set(target, { name, hidden });
  });
  return names;
}

interface Cell {
  column: number;
  type: string;
  value: string;
}

/** Lines of a sheet and the row of each. */
class Lines {
  private readonly lines: string[] = [];
  readonly rows: number[] = [];

  /** It would be longer than is read: a few shared strings can be told a million times. */
  isFull = false;
  private length = 0;

  add(row: number, cells: readonly string[]): void {
    for (const cell of cells) this.length += cell.length + 1;
    this.isFull ||= this.length > MAX_PART_TEXT;
    if (this.isFull) return;
    this.lines.push(cells.join('\t'));
    this.rows.push(row);
  }

  get text(): string {
    return this.lines.join('\n');
  }
}

/** What a sheet shows, and apart from it what it hides, under the headings of the sheet. */
class ShownAndHidden {
  private readonly shown = new Lines();
  private readonly hidden = new Lines();
  /** 1 where a column is hidden. */
  private readonly columns = new Uint8Array(MAX_COLUMNS);
  private anyColumn = false;
  private hides = false;

  hideColumns(from: number, to: number): void {
    this.columns.fill(1, Math.max(0, from), Math.max(0, to + 1));
    this.anyColumn = true;
  }

  add(number: number, row: readonly string[], hiddenRow: boolean): void {
    const inHidden = (_text: string, column: number): boolean => this.columns[column] === 1;
    const first = this.shown.rows.length === 0 && this.hidden.rows.length === 0;
    // The first row goes with both: it holds the headings.
    if (hiddenRow || first) this.hidden.add(number, row);
    else if (this.anyColumn)
      this.hidden.add(
        number,
        row.map((text, at) => (inHidden(text, at) ? text : '')),
      );
    this.hides ||= hiddenRow || row.some((text, at) => text !== '' && inHidden(text, at));
    if (!hiddenRow)
      this.shown.add(
        number,
        row.map((text, at) => (inHidden(text, at) && !first ? '' : text)),
      );
  }

  get texts(): { shown: Lines; hidden: Lines | null } {
    return { shown: this.shown, hidden: this.hides ? this.hidden : null };
  }
}

/** Rows as text, and apart from them what the sheet does not show, under its headings. */
function rowsOf(xml: string, strings: readonly string[]): { shown: Lines; hidden: Lines | null } | undefined {
  const rows = new ShownAndHidden();
  let number = 0;
  let row: string[] = [];
  let cell: Cell = { column: 0, type: '', value: '' };
  let inValue = false;
  let hiddenRow = false;
  let emptyLeft = MAX_EMPTY_CELLS;
  const wellFormed = walkMarkup(xml, {
    open(tag, attributes) {
      if (tag === 'row') {
        row = [];
        number = Number(attributes['r'] ?? number + 1) || number + 1;
        hiddenRow = isTrue(attributes['hidden']);
      } else if (tag === 'col' && isTrue(attributes['hidden']))
        rows.hideColumns(Number(attributes['min'] ?? 1) - 1, Number(attributes['max'] ?? 1) - 1);
      else if (tag === 'c')
        cell = { column: columnOf(attributes['r'], row.length), type: attributes['t'] ?? 'n', value: '' };
      inValue = tag === 'v' || tag === 't';
    },
    text(text) {
      if (inValue) cell.value += text;
    },
    close(tag) {
      inValue = false;
      if (tag === 'c' && cell.column < MAX_COLUMNS) {
        const empty = Math.min(Math.max(0, cell.column - row.length), emptyLeft);
        emptyLeft -= empty;
        for (let added = 0; added < empty; added += 1) row.push('');
        row[emptyLeft > 0 ? cell.column : row.length] = shown(cell, strings).replace(/[\t\n]/g, ' ');
      } else if (tag === 'row') {
        rows.add(number, row, hiddenRow);
      }
    },
  });
  return wellFormed ? rows.texts : undefined;
}

const isTrue = (value: string | undefined): boolean => value === '1' || value === 'true';

function columnOf(reference: string | undefined, next: number): number {
  const letters = /^[A-Z]{1,3}/.exec(reference ?? '')?.[0];
  if (!letters) return next;
  return [...letters].reduce((column, letter) => column * 26 + letter.charCodeAt(0) - 64, 0) - 1;
}

/** The value as a person reads it: shared strings looked up, long whole numbers without an exponent. */
function shown(cell: Cell, strings: readonly string[]): string {
  if (cell.type === 's') return strings[Number(cell.value)] ?? '';
  if (cell.type === 'n' && /e\+?\d/i.test(cell.value)) {
    const value = Number(cell.value);
    return Number.isSafeInteger(value) ? String(BigInt(value)) : cell.value;
  }
  return cell.value;
}
