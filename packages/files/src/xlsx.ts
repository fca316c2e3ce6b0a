import type { Budget } from './budget.js';
import { MAX_COLUMNS } from './limits.js';
import { walkMarkup } from './markup.js';
import { type ReadPart, unreadable } from './part.js';
import { expand, type ZipEntry } from './zip.js';

/** Reads the sheets of an .xlsx: a line a row, a tab a column, so that headings stay above their values. */
export async function readXlsx(
  entries: readonly ZipEntry[],
  path: readonly string[],
  budget: Budget,
): Promise<ReadPart[]> {
  const strings = await textsOf(entries, 'xl/sharedStrings.xml', budget);
  if (strings === undefined) return [unreadable(path, 'corrupt')];
  const names = await sheetNames(entries, budget);
  const parts: ReadPart[] = [];
  for (const entry of entries) {
    const sheet = /^xl\/worksheets\/(sheet\d+)\.xml$/.exec(entry.name)?.[1];
    if (!sheet) continue;
    const place = [...path, `sheet ${names.get(`worksheets/${sheet}.xml`) ?? sheet}`];
    const expanded = await expand(entry, budget);
    if (expanded.status === 'unreadable') parts.push(unreadable(place, expanded.reason));
    else {
      const text = rowsOf(expanded.bytes.toString('utf8'), strings);
      parts.push(text === undefined ? unreadable(place, 'corrupt') : { status: 'read', path: place, text });
    }
  }
  return parts;
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

async function sheetNames(entries: readonly ZipEntry[], budget: Budget): Promise<Map<string, string>> {
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
  const names = new Map<string, string>();
  collect(await markupOf(entries, 'xl/workbook.xml', budget), (tag, { name, id }) => {
    const target = tag === 'sheet' && id ? targets.get(id) : undefined;
    if (target && name) names.set(target, name);
  });
  return names;
}

interface Cell {
  column: number;
  type: string;
  value: string;
}

function rowsOf(xml: string, strings: readonly string[]): string | undefined {
  const lines: string[] = [];
  let row: string[] = [];
  let cell: Cell = { column: 0, type: '', value: '' };
  let inValue = false;
  const wellFormed = walkMarkup(xml, {
    open(tag, attributes) {
      if (tag === 'row') row = [];
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
        while (row.length < cell.column) row.push('');
        row[cell.column] = shown(cell, strings).replace(/[\t\n]/g, ' ');
      } else if (tag === 'row') lines.push(row.join('\t'));
    },
  });
  return wellFormed ? lines.join('\n') : undefined;
}

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
