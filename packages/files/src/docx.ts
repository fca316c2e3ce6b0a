import { walkMarkup } from './markup.js';
import { type Container, embeddedParts, partText, propertyLines } from './package-parts.js';
import { innerOf, type ReadPart, unreadable } from './part.js';

/** Parts of a word-processing document that hold text people wrote (ECMA-376 part 1, 11.3), with what they are. */
const TEXT_PARTS: readonly (readonly [RegExp, string])[] = [
  [/^word\/document\d*\.xml$/, 'text'],
  [/^word\/\w*header\d*\.xml$/i, 'header'],
  [/^word\/\w*footer\d*\.xml$/i, 'footer'],
  [/^word\/footnotes\.xml$/, 'footnotes'],
  [/^word\/endnotes\.xml$/, 'endnotes'],
  [/^word\/comments\.xml$/, 'comments'],
  [/^word\/glossary\/document\.xml$/, 'building blocks'],
  [/^docProps\/(?:core|custom|app)\.xml$/, 'properties'],
];

/** Reads text, headers, footers, notes, comments, pending edits, hidden text, properties and objects of a .docx. */
export async function readDocx(container: Container): Promise<ReadPart[]> {
  const parts: ReadPart[] = [];
  for (const entry of container.entries) {
    const kind = TEXT_PARTS.find(([name]) => name.test(entry.name))?.[1];
    if (!kind) continue;
    const xml = await partText(container, entry);
    const place = [...container.path, kind];
    if (xml === 'unreadable') parts.push(unreadable(place, 'corrupt'));
    else if (kind === 'properties') parts.push(...propertyPart(xml, place));
    else parts.push(...textParts(xml, place, kind));
  }
  return [...parts, ...(await embeddedParts(container))];
}

function propertyPart(xml: string, place: readonly string[]): ReadPart[] {
  const text = propertyLines(xml);
  if (text === undefined) return [unreadable(place, 'corrupt')];
  return text === '' ? [] : [{ status: 'read', path: place, text }];
}

function textParts(xml: string, place: readonly string[], kind: string): ReadPart[] {
  const texts = paragraphsOf(xml);
  if (!texts) return [unreadable(place, 'corrupt')];
  const inner = innerOf(kind);
  const parts: ReadPart[] = [];
  if (texts.text.trim() !== '' || kind === 'text')
    parts.push({ status: 'read', path: place, text: texts.text, ...inner });
  if (texts.deleted.trim() !== '')
    parts.push({
      status: 'read',
      path: [...place, 'pending deletion'],
      text: texts.deleted,
      inner: 'pending-edit',
    });
  if (texts.hidden.trim() !== '')
    parts.push({ status: 'read', path: [...place, 'hidden text'], text: texts.hidden, ...inner });
  return parts;
}

interface Texts {
  /** A line a paragraph and, in tables, a line a row and a tab a cell. */
  readonly text: string;
  /** What a pending edit takes out. */
  readonly deleted: string;
  /** What the page does not show. */
  readonly hidden: string;
}

/** Text of a part; undefined when it is not well-formed. */
function paragraphsOf(xml: string): Texts | undefined {
  const pieces: Record<keyof Texts, string[]> = { text: [], deleted: [], hidden: [] };
  let cells = 0;
  let deep = 0;
  let kind: keyof Texts = 'text';
  let hidden = false;
  const wellFormed = walkMarkup(xml, {
    open(name, attributes) {
      if (name === 'tc') cells += 1;
      else if (name === 'r') hidden = false;
      else if (name === 'vanish') hidden = attributes['val'] !== '0' && attributes['val'] !== 'false';
      else if (name === 't' || name === 'instrText' || name === 'delText' || name === 'delInstrText') {
        deep += 1;
        kind = name.startsWith('del') ? 'deleted' : hidden ? 'hidden' : 'text';
      } else if (name === 'tab') pieces.text.push('\t');
      else if (name === 'br' || name === 'cr') pieces.text.push('\n');
      else if (name === 'noBreakHyphen') pieces.text.push('-');
    },
    text(text) {
      if (deep > 0) pieces[kind].push(text);
    },
    close(name) {
      if (name === 't' || name === 'instrText' || name === 'delText' || name === 'delInstrText') deep -= 1;
      else if (name === 'p') {
        pieces.text.push(cells > 0 ? ' ' : '\n');
        for (const other of [pieces.deleted, pieces.hidden]) if (other.length > 0) other.push('\n');
      } else if (name === 'tc') {
        cells -= 1;
        pieces.text.push('\t');
      } else if (name === 'tr') pieces.text.push('\n');
    },
  });
  if (!wellFormed) return undefined;
  return { text: pieces.text.join(''), deleted: pieces.deleted.join(''), hidden: pieces.hidden.join('') };
}
