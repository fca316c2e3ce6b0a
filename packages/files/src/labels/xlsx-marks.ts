import type { Document, Element } from '@xmldom/xmldom';
import type { PrintedMark } from '@lantern/core/labels';
import type { LabelNote } from './file-label.js';
import type { PackageFile } from './package-file.js';
import { attribute, children, drop, make, put, rootOf } from './xml.js';

const SHEET = /^xl\/(?:worksheets|chartsheets|dialogsheets)\/[^/]+\.xml$/;
const S = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
/** Longest header or footer, all parts together (ECMA-376 part 1, 18.3.1.46 and common limits of programs). */
const MAX_HEADER = 255;

/** Elements of a sheet that stand behind its print header (18.3.1.99, the order of its schema). */
const BEHIND =
  /^(?:rowBreaks|colBreaks|customProperties|cellWatches|ignoredErrors|smartTags|drawing|legacyDrawing|legacyDrawingHF|drawingHF|picture|oleObjects|controls|webPublishItems|tableParts|extLst)$/;

/** What was printed, to be found again: lines of the header and of the footer. */
export interface SheetMarks {
  readonly header: string;
  readonly footer: string;
}

/** Lines as codes of a print header: size, colour and text, an ampersand doubled (18.3.1.46). */
function coded(marks: readonly PrintedMark[]): string {
  return marks
    .map(
      ({ line, points, colour }) =>
        `&${Math.round(points)}&K${colour.slice(1).toUpperCase()}${line.replace(/&/g, '&&')}`,
    )
    .join('\n');
}

export function sheetMarks(marks: readonly PrintedMark[]): SheetMarks {
  return {
    header: coded(marks.filter(({ place }) => place === 'top')),
    footer: coded(marks.filter(({ place }) => place === 'foot')),
  };
}

/** Puts lines into the middle of the print header and footer of every sheet, in front of what stands there. */
export function addSheetMarks(file: PackageFile, marks: SheetMarks): LabelNote[] {
  let full = false;
  for (const name of file.names.filter((each) => SHEET.test(each))) {
    const document = file.xml(name);
    const holder = headerFooter(document);
    for (const [kind, text] of [
      ['Header', marks.header],
      ['Footer', marks.footer],
    ] as const) {
      if (text === '') continue;
      const pages = [
        'odd',
        ...(isSet(holder, 'differentOddEven') ? ['even'] : []),
        ...(isSet(holder, 'differentFirst') ? ['first'] : []),
      ];
      for (const page of pages) full = !addTo(document, holder, `${page}${kind}`, text) || full;
    }
  }
  return full ? ['header-full'] : [];
}

/** Takes the same lines off again. */
export function removeSheetMarks(file: PackageFile, marks: SheetMarks): void {
  for (const name of file.names.filter((each) => SHEET.test(each))) {
    const [holder] = children(rootOf(file.xml(name))).filter(({ localName }) => localName === 'headerFooter');
    if (!holder) continue;
    for (const element of children(holder)) {
      const text = element.textContent ?? '';
      const own = /Footer$/.test(element.localName ?? '') ? marks.footer : marks.header;
      if (own === '' || !text.includes(own)) continue;
      const rest = joined(without(split(text), own));
      if (rest === '') drop(element);
      else element.textContent = rest;
    }
    if (children(holder).length === 0 && holder.attributes.length === 0) drop(holder);
  }
}

interface Thirds {
  L: string;
  C: string;
  R: string;
}

/** A header's left, middle and right part; text in front of any code is the middle. */
function split(text: string): Thirds {
  const parts: Thirds = { L: '', C: '', R: '' };
  let part: keyof Thirds = 'C';
  for (let at = 0; at < text.length; at += 1) {
    const next = text[at + 1];
    if (text[at] === '&' && (next === 'L' || next === 'C' || next === 'R')) {
      part = next;
      at += 1;
    } else if (text[at] === '&' && next === '&') {
      parts[part] += '&&';
      at += 1;
    } else parts[part] += text[at] ?? '';
  }
  return parts;
}

function joined({ L, C, R }: Thirds): string {
  return `${L === '' ? '' : `&L${L}`}${C === '' ? '' : `&C${C}`}${R === '' ? '' : `&R${R}`}`;
}

function without(parts: Thirds, own: string): Thirds {
  return { ...parts, C: parts.C.replace(`${own}\n&11&K000000`, '').replace(own, '') };
}

function addTo(document: Document, holder: Element, name: string, text: string): boolean {
  const known = children(holder).find(({ localName }) => localName === name);
  const parts = split(known?.textContent ?? '');
  // What follows is set back to the usual size and colour.
  parts.C = parts.C === '' ? text : `${text}\n&11&K000000${parts.C}`;
  const whole = joined(parts);
  if (whole.length > MAX_HEADER) return false;
  const element = known ?? place(document, holder, name);
  element.textContent = whole;
  return true;
}

/** Order inside the holder (18.3.1.46). */
const ORDER = ['oddHeader', 'oddFooter', 'evenHeader', 'evenFooter', 'firstHeader', 'firstFooter'];

function place(document: Document, holder: Element, name: string): Element {
  const behind = children(holder).find(
    ({ localName }) => ORDER.indexOf(localName ?? '') > ORDER.indexOf(name),
  );
  return put(holder, make(document, S, prefixed(holder, name)), behind ?? null);
}

/** A name with the prefix that its surroundings use. */
function prefixed(around: Element, name: string): string {
  return around.prefix ? `${around.prefix}:${name}` : name;
}

function headerFooter(document: Document): Element {
  const root = rootOf(document);
  const known = children(root).find(({ localName }) => localName === 'headerFooter');
  if (known) return known;
  const behind = children(root).find(({ localName }) => BEHIND.test(localName ?? ''));
  return put(root, make(document, S, prefixed(root, 'headerFooter')), behind ?? null);
}

function isSet(element: Element, name: string): boolean {
  return ['1', 'true'].includes(attribute(element, name));
}
