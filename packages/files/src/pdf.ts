import type { PDFDocumentProxy, PDFPageProxy } from 'pdfjs-dist';
import { MAX_PAGES } from './limits.js';
import type { ReadNested } from './package-parts.js';
import { isScan, type PaintCommands, readScan } from './pdf-scan.js';
import { type ReadPart, unreadable } from './part.js';

/** Time for one document, in milliseconds; what was read until then is kept. */
const TIME_LIMIT = 20_000;
/** Time within it for pages that are pictures, in milliseconds: some four or five of them; the others of them are named. */
const SCANS_LIMIT = 14_000;
/** Distance between two pieces of a line, in widths of a letter, from which they are cells of a table. */
const CELL_GAP = 2.5;

/** Reads pages, comments, form fields, properties and attachments of a PDF (ISO 32000-2). */
export async function readPdf(
  bytes: Uint8Array,
  path: readonly string[],
  nested: ReadNested,
): Promise<ReadPart[]> {
  // Loaded here alone: it takes its time, and exchanges functions of the language, such as JSON.stringify, for slow ones.
  const { getDocument, OPS, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const task = getDocument({
    // The library takes the bytes over; the caller's stay as they are.
    data: new Uint8Array(bytes),
    isEvalSupported: false,
    disableFontFace: true,
    useSystemFonts: false,
    stopAtErrors: false,
    enableXfa: true,
    verbosity: VerbosityLevel.ERRORS,
  });
  const begun = performance.now();
  const until = begun + TIME_LIMIT;
  try {
    const document = await within(task.promise, until);
    if (!document) return [unreadable(path, 'took-too-long')];
    return await documentParts(document, {
      path,
      until,
      nested,
      commands: OPS,
      scansUntil: begun + SCANS_LIMIT,
    });
  } catch (error) {
    return [
      unreadable(
        path,
        (error as { readonly name?: string }).name === 'PasswordException' ? 'encrypted' : 'corrupt',
      ),
    ];
  } finally {
    await task.destroy();
  }
}

interface Reading {
  readonly path: readonly string[];
  readonly until: number;
  readonly nested: ReadNested;
  readonly commands: PaintCommands;
  /** When pages that are pictures are no longer looked into. */
  readonly scansUntil: number;
}

/** The result, or null when the time is over first. */
async function within<Result>(work: Promise<Result>, until: number): Promise<Result | null> {
  let timer: NodeJS.Timeout | undefined;
  const over = new Promise<null>((resolve) => {
    timer = setTimeout(() => resolve(null), Math.max(0, until - performance.now()));
  });
  try {
    return await Promise.race([work, over]);
  } finally {
    clearTimeout(timer);
  }
}

async function documentParts(document: PDFDocumentProxy, reading: Reading): Promise<ReadPart[]> {
  const { path, until } = reading;
  const parts: ReadPart[] = [];
  for (let number = 1; number <= document.numPages; number += 1) {
    if (number > MAX_PAGES) {
      parts.push(unreadable([...path, `pages from ${number}`], 'expands-too-far'));
      break;
    }
    const place = [...path, `page ${number}`];
    try {
      const page = await within(document.getPage(number), until);
      const read = page && (await within(pageParts(page, place, reading), until));
      if (!read) {
        parts.push(unreadable([...path, `pages from ${number}`], 'took-too-long'));
        break;
      }
      parts.push(...read);
      page.cleanup();
    } catch {
      parts.push(unreadable(place, 'corrupt'));
    }
  }
  return [...parts, ...(await aboutParts(document, reading))];
}

async function pageParts(
  page: PDFPageProxy,
  place: readonly string[],
  reading: Reading,
): Promise<ReadPart[]> {
  const text = await pageText(page);
  const parts: ReadPart[] = text === '' ? [] : [{ status: 'read', path: place, text }];
  if (await isScan(page, text, reading.commands)) parts.push(...(await scanParts(page, place, reading)));
  const notes = await annotationLines(page);
  if (notes.length > 0)
    parts.push({
      status: 'read',
      path: [...place, 'comments and fields'],
      text: notes.join('\n'),
      inner: 'comment',
    });
  return parts;
}

/** The text in the picture of a page; pages that come too late are named, and the others are read all the same. */
async function scanParts(
  page: PDFPageProxy,
  place: readonly string[],
  { scansUntil }: Reading,
): Promise<ReadPart[]> {
  const late = [unreadable([...place, 'picture'], 'took-too-long')];
  if (performance.now() >= scansUntil) return late;
  return (await within(readScan(page, place), scansUntil)) ?? late;
}

async function pageText(page: PDFPageProxy): Promise<string> {
  const { items } = await page.getTextContent();
  const lines: string[] = [];
  let line = '';
  let last: { x: number; y: number; size: number } | null = null;
  for (const item of items) {
    if (!('str' in item)) continue;
    const [, , , scale = 1, x = 0, y = 0] = item.transform as number[];
    const size = Math.abs(scale) || 1;
    if (item.str.trim() === '' && item.width > size * 0.5 * CELL_GAP && line !== '' && !item.hasEOL) {
      // A wide blank stands between two cells.
      line += '\t';
      last = { x: x + item.width, y, size };
      continue;
    }
    if (last && Math.abs(last.y - y) > size * 0.6) {
      lines.push(line);
      line = '';
    } else if (last && line !== '' && x - last.x > size * 0.5 * CELL_GAP) line += '\t';
    else if (last && x - last.x > size * 0.15 && !line.endsWith(' ') && !item.str.startsWith(' '))
      line += ' ';
    line += item.str;
    last = { x: x + item.width, y, size };
    if (item.hasEOL) {
      lines.push(line);
      line = '';
      last = null;
    }
  }
  lines.push(line);
  return lines.join('\n').trim();
}

interface Annotation {
  readonly fieldName?: string;
  readonly fieldValue?: unknown;
  readonly contentsObj?: { readonly str?: string };
  readonly url?: string;
}

/** Comments, addresses behind links, and what was filled into a form: `name: value`. */
async function annotationLines(page: PDFPageProxy): Promise<string[]> {
  const annotations = (await page.getAnnotations()) as Annotation[];
  return annotations.flatMap(({ fieldName, fieldValue, contentsObj, url }) => {
    const filled =
      typeof fieldValue === 'string' && fieldValue !== '' ? [`${fieldName ?? ''}: ${fieldValue}`] : [];
    return [...filled, ...(contentsObj?.str ? [contentsObj.str] : []), ...(url ? [url] : [])];
  });
}

async function aboutParts(document: PDFDocumentProxy, reading: Reading): Promise<ReadPart[]> {
  const { path, until, nested } = reading;
  const parts: ReadPart[] = [];
  const about = await within(
    document.getMetadata().catch(() => null),
    until,
  );
  const lines = Object.entries((about?.info ?? {}) as Record<string, unknown>)
    .filter((entry): entry is [string, string] => typeof entry[1] === 'string' && entry[1].trim() !== '')
    .map(([name, value]) => `${name}: ${value}`);
  if (lines.length > 0) parts.push({ status: 'read', path: [...path, 'properties'], text: lines.join('\n') });
  const attached = (await within(
    document.getAttachments().catch(() => null),
    until,
  )) as Record<string, { readonly filename: string; readonly content: Uint8Array }> | null;
  for (const { filename, content } of Object.values(attached ?? {}))
    parts.push(...(await nested(filename, content)));
  return parts;
}
