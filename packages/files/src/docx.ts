import type { Budget } from './budget.js';
import { walkMarkup } from './markup.js';
import { type ReadPart, unreadable } from './part.js';
import { expand, type ZipEntry } from './zip.js';

/** Parts of a word-processing document that hold text people wrote (ECMA-376 part 1, 11.3), with what they are. */
const TEXT_PARTS: readonly (readonly [RegExp, string])[] = [
  [/^word\/document\d*\.xml$/, 'text'],
  [/^word\/header\d*\.xml$/, 'header'],
  [/^word\/footer\d*\.xml$/, 'footer'],
  [/^word\/footnotes\.xml$/, 'footnotes'],
  [/^word\/endnotes\.xml$/, 'endnotes'],
  [/^word\/comments\.xml$/, 'comments'],
  [/^docProps\/(?:core|custom)\.xml$/, 'properties'],
];

/** Reads text, headers, footers, notes, comments and properties of a .docx. */
export async function readDocx(
  entries: readonly ZipEntry[],
  path: readonly string[],
  budget: Budget,
): Promise<ReadPart[]> {
  const parts: ReadPart[] = [];
  for (const entry of entries) {
    const kind = TEXT_PARTS.find(([name]) => name.test(entry.name))?.[1];
    if (!kind) continue;
    const place = [...path, kind];
    const expanded = await expand(entry, budget);
    if (expanded.status === 'unreadable') {
      parts.push(unreadable(place, expanded.reason));
      continue;
    }
    const text = paragraphsOf(expanded.bytes.toString('utf8'));
    if (text === undefined) parts.push(unreadable(place, 'corrupt'));
    else if (text.trim() !== '' || kind === 'text') parts.push({ status: 'read', path: place, text });
  }
  return parts;
}

/** Text with a line a paragraph and, in tables, a line a row and a tab a cell; undefined when not well-formed. */
function paragraphsOf(xml: string): string | undefined {
  const pieces: string[] = [];
  let cells = 0;
  let inText = 0;
  const isText = (name: string) => name === 't' || name === 'delText' || name === 'instrText';
  const plainXml = !xml.includes('wordprocessingml');
  const wellFormed = walkMarkup(xml, {
    open(name) {
      if (name === 'tc') cells += 1;
      else if (isText(name)) inText += 1;
      else if (name === 'tab') pieces.push('\t');
      else if (name === 'br' || name === 'cr') pieces.push('\n');
      else if (name === 'noBreakHyphen') pieces.push('-');
    },
    text(text) {
      if (inText > 0 || plainXml) pieces.push(text);
    },
    close(name) {
      if (isText(name)) inText -= 1;
      else if (name === 'p') pieces.push(cells > 0 ? ' ' : '\n');
      else if (name === 'tc') {
        cells -= 1;
        pieces.push('\t');
      } else if (name === 'tr') pieces.push('\n');
      else if (plainXml) pieces.push('\n');
    },
  });
  return wellFormed ? pieces.join('') : undefined;
}
