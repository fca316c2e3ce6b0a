import { Budget } from './budget.js';
import { looksLikeHtml } from './looks-like-html.js';
import { MAX_FILE_BYTES, MAX_NESTING_DEPTH } from './limits.js';
import { looksLikeMail } from './looks-like-mail.js';
import { openMail } from './mail.js';
import { otherThanNamed } from './named-kind.js';
import type { Container } from './package-parts.js';
import { innerOf, type NamedBytes, type ReadPart, unreadable } from './part.js';
import { readPdf } from './pdf.js';
import { pictureSize, readPicture } from './picture.js';
import {
  cardLines,
  jsonLines,
  looksLikeCard,
  looksLikeJson,
  looksLikeXml,
  mailsOfBox,
} from './structured.js';
import { gunzipWithin, listTar, looksLikeTar } from './tar.js';
import { decodeText } from './text.js';
import { expand, listZip } from './zip.js';
import { tableRows } from '@lantern/core/text';

interface Place {
  readonly path: readonly string[];
  readonly depth: number;
  readonly budget: Budget;
}

/**
 * Reads every text out of a file, its kind told by content and not by its ending. Never throws for what the bytes
 * are: each part that cannot be read says why, and the others are read all the same.
 */
export async function readFile(file: NamedBytes, budget: Budget = new Budget()): Promise<ReadPart[]> {
  return readAt(file.bytes, { path: [file.name], depth: 0, budget });
}

/** What bytes begin with, and who reads them. */
const SIGNATURES: readonly (readonly [
  readonly number[],
  (bytes: Uint8Array, place: Place) => Promise<ReadPart[]>,
])[] = [
  [[0x50, 0x4b, 0x03, 0x04], readContainer],
  [[0x50, 0x4b, 0x05, 0x06], readContainer],
  [[0xd0, 0xcf, 0x11, 0xe0], (bytes, { path }) => Promise.resolve([unreadable(path, compoundReason(bytes))])],
  [[0x25, 0x50, 0x44, 0x46, 0x2d], (bytes, place) => readPdf(bytes, place.path, nestedIn(place))],
  [[0x7b, 0x5c, 0x72, 0x74, 0x66], (bytes, { path }) => richText(bytes, path)],
  [[0x1f, 0x8b], readGzip],
];

/** Junk that some programs put in front of a PDF (ISO 32000-2, annex I, note on headers). */
const BEFORE_PDF = 1024;

async function readAt(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  const { path } = place;
  if (bytes.length > MAX_FILE_BYTES) return [unreadable(path, 'too-large')];
  if (place.depth > MAX_NESTING_DEPTH) return [unreadable(path, 'nested-too-deep')];
  const truth = otherThanNamed(bytes, path.at(-1) ?? '');
  return readAs(bytes, truth === undefined ? place : { ...place, path: [...path, truth] });
}

/** Reads bytes as what they are. */
async function readAs(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  const { path } = place;
  const signed = SIGNATURES.find(([signature]) => signature.every((byte, index) => bytes[index] === byte));
  if (signed) return signed[1](bytes, place);
  if (looksLikeTar(bytes)) return readTar(bytes, place);
  if (pictureSize(bytes)) return readPicture(bytes, path);
  const text = decodeText(bytes);
  if (text !== undefined) return readText(bytes, text, place);
  const start = Buffer.from(bytes.subarray(0, BEFORE_PDF)).indexOf('%PDF-');
  return start === -1
    ? [unreadable(path, 'unsupported')]
    : readPdf(bytes.subarray(start), path, nestedIn(place));
}

async function readText(bytes: Uint8Array, text: string, place: Place): Promise<ReadPart[]> {
  const { path } = place;
  const read = (shown: string): ReadPart[] => [{ status: 'read', path, text: shown }];
  const head = text.slice(0, 16_384);
  if (head.startsWith('From ') && looksLikeMail(head)) {
    const mails = mailsOfBox(bytes);
    if (mails.length > 1) return readBox(mails, place);
  }
  if (looksLikeMail(head)) return readMail(bytes, place);
  if (looksLikeHtml(head, path.at(-1) ?? '')) {
    const { readHtml } = await import('./html.js');
    const { shown: page, hidden } = readHtml(text);
    const shown = read(page);
    return hidden === '' ? shown : [...shown, { status: 'read', path: [...path, 'hidden'], text: hidden }];
  }
  if (looksLikeCard(head)) return read(cardLines(text));
  if (looksLikeJson(head)) return read(jsonLines(text) ?? text);
  if (looksLikeXml(head)) return read((await import('./xml-lines.js')).xmlLines(text) ?? text);
  return read(text).map((part) => (isSheet(path, text) ? { ...part, inner: 'cell' } : part));
}

/** Values between commas or tabs, by the ending that spreadsheets give them, with rows of a table in them. */
const isSheet = (path: readonly string[], text: string): boolean =>
  /\.(?:csv|tsv|tab)$/iu.test(path.at(-1) ?? '') && tableRows(text) > 0;

/** Reads what is packed inside something, one level deeper and out of the same budget. */
function nestedIn(place: Place): Container['nested'] {
  return (name, bytes) => {
    const path = [...place.path, name];
    if (!place.budget.spend(0)) return Promise.resolve([unreadable(path, 'expands-too-far')]);
    return readAt(bytes, { ...place, path, depth: place.depth + 1 });
  };
}

/** A password-protected OOXML file is a compound file with a stream of this name (MS-OFFCRYPTO, 1.3.2). */
function compoundReason(bytes: Uint8Array): 'encrypted' | 'unsupported' {
  const name = Buffer.from('EncryptedPackage', 'utf16le');
  return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).includes(name)
    ? 'encrypted'
    : 'unsupported';
}

async function richText(bytes: Uint8Array, path: readonly string[]): Promise<ReadPart[]> {
  const { readRtf } = await import('./rtf.js');
  const texts = readRtf(bytes);
  if (!texts) return [unreadable(path, 'corrupt')];
  return [...texts].flatMap(([place, text]) =>
    text.trim() === '' && place !== 'text'
      ? []
      : [
          {
            status: 'read' as const,
            path: [...path, ...place.split('\0')],
            text,
            ...innerOf(place.split('\0').at(-1) ?? ''),
          },
        ],
  );
}

async function readContainer(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  const listing = await listZip(bytes);
  if (listing.status === 'unreadable') return [unreadable(place.path, listing.reason)];
  const { entries } = listing;
  const { path, budget } = place;
  const has = (name: string) => entries.some((entry) => entry.name === name);
  const container: Container = { entries, path, budget, nested: nestedIn(place) };
  if (has('word/document.xml')) return (await import('./docx.js')).readDocx(container);
  if (has('xl/workbook.xml')) return (await import('./xlsx.js')).readXlsx(container);
  if (has('ppt/presentation.xml')) return (await import('./pptx.js')).readPptx(container);
  if (has('content.xml') && (has('mimetype') || has('META-INF/manifest.xml')))
    return (await import('./odf.js')).readOdf(container);
  if (has('[Content_Types].xml') && !entries.some((entry) => /^(?:word|xl|ppt)\//.test(entry.name)))
    return [unreadable(path, 'unsupported')];
  const parts: ReadPart[] = [];
  for (const entry of entries) {
    const expanded = await expand(entry, budget);
    if (expanded.status === 'unreadable') {
      parts.push(unreadable([...path, entry.name], expanded.reason));
      // Whatever follows would find the budget spent as well: one line says it for all.
      if (expanded.reason === 'expands-too-far') break;
    } else
      parts.push(
        ...(await readAt(expanded.bytes, { ...place, path: [...path, entry.name], depth: place.depth + 1 })),
      );
  }
  return parts;
}

async function readGzip(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  const expanded = await gunzipWithin(bytes, place.budget);
  if (expanded.status === 'unreadable') return [unreadable(place.path, expanded.reason)];
  const outer = place.path.at(-1) ?? '';
  const inner = outer.replace(/\.tgz$/i, '.tar').replace(/\.gz$/i, '');
  const path = inner === outer ? place.path : [...place.path, inner];
  return readAt(expanded.bytes, { ...place, path, depth: place.depth + 1 });
}

async function readTar(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  const { files, stopped } = await listTar(bytes, place.budget);
  const parts: ReadPart[] = [];
  for (const file of files)
    parts.push(
      ...(await readAt(file.bytes, { ...place, path: [...place.path, file.name], depth: place.depth + 1 })),
    );
  if (stopped) parts.push(unreadable(place.path, stopped));
  return parts;
}

async function readBox(mails: readonly Uint8Array[], place: Place): Promise<ReadPart[]> {
  const parts: ReadPart[] = [];
  for (const [index, bytes] of mails.entries()) {
    const path = [...place.path, `mail ${index + 1}`];
    if (!place.budget.spend(bytes.length)) return [...parts, unreadable(path, 'expands-too-far')];
    parts.push(...(await readMail(bytes, { ...place, path, depth: place.depth + 1 })));
  }
  return parts;
}

async function readMail(bytes: Uint8Array, place: Place): Promise<ReadPart[]> {
  let mail;
  try {
    mail = await openMail(bytes);
  } catch {
    return [unreadable(place.path, 'corrupt')];
  }
  const parts: ReadPart[] = [];
  if (mail.subject !== '')
    parts.push({ status: 'read', path: [...place.path, 'subject'], text: mail.subject });
  for (const { name, text } of mail.texts) parts.push({ status: 'read', path: [...place.path, name], text });
  for (const attachment of mail.attachments) {
    const path = [...place.path, attachment.name];
    if (!place.budget.spend(attachment.bytes.length)) parts.push(unreadable(path, 'expands-too-far'));
    else parts.push(...(await readAt(attachment.bytes, { ...place, path, depth: place.depth + 1 })));
  }
  return parts;
}
