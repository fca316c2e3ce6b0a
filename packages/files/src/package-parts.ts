import type { Budget } from './budget.js';
import { walkMarkup } from './markup.js';
import { expand, type ZipEntry } from './zip.js';
import { type ReadPart, unreadable } from './part.js';

/** Reads whatever is packed inside a document, as a file of its own. */
export type ReadNested = (name: string, bytes: Uint8Array) => Promise<ReadPart[]>;

/** A document that is a zip container, while it is being read. */
export interface Container {
  readonly entries: readonly ZipEntry[];
  readonly path: readonly string[];
  readonly budget: Budget;
  readonly nested: ReadNested;
}

/** Text of a part that must be XML; what kept it from being read where there is none. */
export async function partText(container: Container, entry: ZipEntry): Promise<string | ReadPart['status']> {
  const expanded = await expand(entry, container.budget);
  return expanded.status === 'expanded' ? expanded.bytes.toString('utf8') : 'unreadable';
}

/** Files that people put inside a document: tables in texts, texts in slides, anything as an object. */
const EMBEDDED =
  /^(?:word|xl|ppt)\/(?:embeddings|media)\/[^/]+$|^(?:Object [^/]+|ObjectReplacements|Pictures|media)\/[^/]*$/;
/** Drawings that programs keep beside an object show what the object says anyway. */
const PICTURE_OF_OBJECT = /\.(?:emf|wmf)$|^ObjectReplacements\//i;

/** Objects and pictures inside a document, each read as a file. */
export async function embeddedParts(container: Container): Promise<ReadPart[]> {
  const parts: ReadPart[] = [];
  for (const entry of container.entries) {
    if (!EMBEDDED.test(entry.name) || PICTURE_OF_OBJECT.test(entry.name) || entry.name.endsWith('.xml'))
      continue;
    const name = `object ${entry.name.split('/').at(-1) ?? ''}`;
    const expanded = await expand(entry, container.budget);
    if (expanded.status === 'unreadable') parts.push(unreadable([...container.path, name], expanded.reason));
    else {
      const read = await container.nested(name, expanded.bytes);
      // A picture without text, or an object of a kind that is not read, is no news in a document.
      parts.push(...read.filter((part) => part.status === 'read' || part.reason !== 'unsupported'));
    }
  }
  return parts;
}

/** Properties that programs keep for themselves: counts, versions, times. */
const OF_PROGRAMS =
  /^(?:application|lpstr|appversion|docsecurity|scalecrop|linksuptodate|shareddoc|hyperlinkschanged|i4|totaltime|pages|words|characters|characterswithspaces|lines|paragraphs|slides|notes|hiddenslides|mmclips|presentationformat|created|modified|revision|lastprinted|creation-date|date|editing-cycles|editing-duration|generator|document-statistic|print-date)$/i;

/** Properties of an OOXML or OpenDocument file, a line each: `title: …`. Undefined where it is not well-formed. */
export function propertyLines(xml: string): string | undefined {
  const lines: string[] = [];
  const open: string[] = [];
  let text = '';
  let named = '';
  const wellFormed = walkMarkup(xml, {
    open(name, attributes) {
      open.push(name);
      if (attributes['name']) named = attributes['name'];
      text = '';
    },
    text(piece) {
      text += piece;
    },
    close(name) {
      open.pop();
      if (text.trim() !== '' && !OF_PROGRAMS.test(name)) lines.push(`${named || name}: ${text.trim()}`);
      if (name === 'property' || name === 'user-defined') named = '';
      text = '';
    },
  });
  return wellFormed ? lines.join('\n') : undefined;
}
