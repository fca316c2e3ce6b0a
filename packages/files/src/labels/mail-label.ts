import { Readable } from 'node:stream';
import iconv from 'iconv-lite';
import libmime from 'libmime';
import { decode as decodeQuoted, encode as encodeQuoted, wrap as wrapQuoted } from 'libqp';
import { Joiner, type MimeNode, Splitter, type SplitPiece } from 'mailsplit';
import type { PrintedMark } from '@lantern/core/labels';
import {
  type FileLabel,
  type FileLabels,
  foreignFrom,
  type LabelNote,
  labelFields,
  labelFrom,
  type LabelWriter,
  refused,
} from './file-label.js';
import { escaped } from './xml.js';

/** The field of the head that holds the label: `name=value; …` with parameters of RFC 2231. */
const HEADER = 'Lantern-Label';
const MARKS_HEADER = 'Lantern-Label-Marks';
/** Longest head that is taken apart; mail programs make a few thousand bytes. */
const MAX_HEAD_BYTES = 128 * 1024;

/** What was printed, to be taken off again to the letter. */
interface MailMarks {
  readonly subject: string;
  readonly top: string;
  readonly foot: string;
}

interface Piece {
  readonly node: MimeNode | null;
  readonly chunks: SplitPiece[];
}

/** Takes a mail apart into its nodes with what belongs to each, in order. */
async function split(bytes: Uint8Array): Promise<Piece[]> {
  const pieces: Piece[] = [];
  const splitter = new Splitter({ ignoreEmbedded: true, maxHeadSize: MAX_HEAD_BYTES });
  splitter.on('data', (piece: SplitPiece) => {
    if (piece.type === 'node') pieces.push({ node: piece, chunks: [] });
    else if (piece.type === 'body') pieces.at(-1)?.chunks.push(piece);
    else pieces.push({ node: null, chunks: [piece] });
  });
  await new Promise<void>((resolve, reject) => {
    splitter.once('end', resolve).once('error', reject);
    Readable.from([Buffer.from(bytes)]).pipe(splitter);
  });
  return pieces;
}

async function join(pieces: readonly Piece[]): Promise<Buffer> {
  const joiner = new Joiner();
  const chunks: Buffer[] = [];
  joiner.on('data', (chunk: Buffer) => chunks.push(chunk));
  const done = new Promise<void>((resolve, reject) => joiner.once('end', resolve).once('error', reject));
  for (const { node, chunks: parts } of pieces) {
    if (node) joiner.write(node);
    for (const part of parts) joiner.write(part);
  }
  joiner.end();
  await done;
  return Buffer.concat(chunks);
}

function headOf(pieces: readonly Piece[]): MimeNode | null {
  const root = pieces[0]?.node ?? null;
  return root && root.headers && root.headers.getList().length > 0 ? root : null;
}

/** A value of the head in words (RFC 2047). */
function decoded(value: string): string {
  const line = value.replace(/\r?\n[ \t]+/g, ' ').trim();
  try {
    return libmime.decodeWords(line);
  } catch {
    return line;
  }
}

/** Reads the label out of the head of a mail. */
export async function readMailLabel(bytes: Uint8Array): Promise<FileLabels> {
  // Only the head is looked at, so that the body of a large mail costs nothing.
  const text = Buffer.from(bytes.subarray(0, MAX_HEAD_BYTES)).toString('latin1');
  const end = /\r?\n\r?\n/.exec(text);
  const pieces = await split(bytes.subarray(0, end ? end.index + end[0].length : MAX_HEAD_BYTES));
  const head = headOf(pieces);
  if (!head) return { own: null, foreign: [] };
  const fields = head.headers
    .getList()
    .map(({ key, line }) => [key, decoded(line.slice(line.indexOf(':') + 1))] as const);
  return {
    own: labelFrom(labelParameters(head)),
    foreign: foreignFrom(
      fields
        .filter(([key]) => !key.startsWith('lantern-label'))
        .map(([key, value]) => [key, markingOf(value)] as const),
    ),
  };
}

/** The words of a security label (RFC 7444, display marking), or the value as it stands. */
function markingOf(value: string): string {
  return /(?:^|;)\s*marking="([^"]+)"/.exec(value)?.[1] ?? value;
}

function labelParameters(head: MimeNode): Map<string, string> {
  const value = head.headers.getFirst(HEADER);
  if (value === '') return new Map();
  const { params } = libmime.parseHeaderValue(`label; ${value}`);
  return new Map(labelNames().map((name) => [name, params[name.toLowerCase()] ?? params[name] ?? '']));
}

const labelNames = (): string[] =>
  labelFields({ id: '', name: '', rank: 0, setBy: '', setAt: '', how: 'by-hand' }).map(([name]) => name);

/** Writes label and marks into a mail: head, subject and the words people read. Sealed bodies are left alone. */
export const writeMailLabel: LabelWriter = async ({ bytes }, change) => {
  let pieces: Piece[];
  try {
    pieces = await split(bytes);
  } catch {
    return refused('corrupt');
  }
  const head = headOf(pieces);
  if (!head) return refused('corrupt');
  const old = storedMarks(head);
  const fresh = change ? mailMarks(change.label, change.marks) : null;
  writeHead(head, change?.label ?? null, fresh);
  writeSubject(head, old, fresh);
  const notes: LabelNote[] = change?.marks.some(({ place }) => place === 'across') ? ['no-place-across'] : [];
  if (isSealed(pieces)) {
    if (fresh && fresh.top + fresh.foot !== '') notes.push('body-sealed');
  } else
    for (const kind of ['text/plain', 'text/html'] as const) {
      const index = pieces.findIndex(({ node }) => node !== null && isBody(node, kind));
      const piece = pieces[index];
      if (piece?.node) pieces[index] = markedBody(piece, kind, old, fresh);
    }
  return { status: 'written', bytes: await join(pieces), notes };
};

function isBody(node: MimeNode, kind: string): boolean {
  return node.contentType === kind && node.disposition !== 'attachment' && !node.filename;
}

/** A signed or encrypted body ends to be so when a letter changes (RFC 1847, RFC 8551). */
function isSealed(pieces: readonly Piece[]): boolean {
  return pieces.some(
    ({ node }) =>
      node !== null &&
      (node.multipart === 'signed' ||
        node.multipart === 'encrypted' ||
        /^application\/(?:x-)?pkcs7-mime$/.test(node.contentType || '')),
  );
}

function mailMarks(label: FileLabel, marks: readonly PrintedMark[]): MailMarks {
  const lines = (place: string): string =>
    marks
      .filter((mark) => mark.place === place)
      .map(({ line }) => line.replace(/\s+/g, ' '))
      .join('\n');
  return { subject: marks.length === 0 ? '' : `[${label.name}] `, top: lines('top'), foot: lines('foot') };
}

function storedMarks(head: MimeNode): MailMarks | null {
  const line = head.headers.getFirst(MARKS_HEADER);
  if (line === '') return null;
  try {
    const value = JSON.parse(
      Buffer.from(decoded(line).replace(/\s+/g, ''), 'base64').toString('utf8'),
    ) as Partial<MailMarks>;
    return {
      subject: String(value.subject ?? ''),
      top: String(value.top ?? ''),
      foot: String(value.foot ?? ''),
    };
  } catch {
    return null;
  }
}

function writeHead(head: MimeNode, label: FileLabel | null, marks: MailMarks | null): void {
  head.headers.remove(HEADER);
  head.headers.remove(MARKS_HEADER);
  if (!label) return;
  const params = Object.fromEntries(labelFields(label));
  const value = libmime.buildHeaderValue({ value: 'label', params }).replace(/^label;\s*/, '');
  head.headers.add(HEADER, value, Infinity);
  if (marks && marks.subject + marks.top + marks.foot !== '')
    head.headers.add(MARKS_HEADER, chunked(Buffer.from(JSON.stringify(marks)).toString('base64')), Infinity);
}

/** Blanks for the head to be folded at: its lines are 78 characters at most (RFC 5322, 2.1.1). */
const chunked = (value: string): string => (value.match(/.{1,60}/g) ?? []).join(' ');

function writeSubject(head: MimeNode, old: MailMarks | null, fresh: MailMarks | null): void {
  const line = head.headers.getFirst('Subject');
  const subject = line === '' ? '' : decoded(line);
  const bare =
    old && old.subject !== '' && subject.startsWith(old.subject.trimEnd())
      ? subject.slice(old.subject.length)
      : subject;
  const marked = `${fresh?.subject ?? ''}${bare}`;
  if (marked === subject || (marked === '' && line === '')) return;
  const encoded = [...marked].every((each) => each >= ' ' && each <= '~')
    ? marked
    : libmime.encodeWords(marked, 'Q', 52);
  if (line === '') head.headers.add('Subject', encoded, Infinity);
  else head.headers.update('Subject', encoded);
}

function markedBody(
  piece: Piece,
  kind: 'text/plain' | 'text/html',
  old: MailMarks | null,
  fresh: MailMarks | null,
): Piece {
  const node = piece.node as MimeNode;
  const raw = Buffer.concat(piece.chunks.map(({ value }) => value ?? Buffer.alloc(0)));
  const charset = node.charset && iconv.encodingExists(node.charset) ? node.charset : 'utf-8';
  const text = iconv.decode(transferDecoded(raw, node.encoding), charset);
  const bare = old ? withoutMarks(text, kind, old) : text;
  const marked = fresh ? withMarks(bare, kind, fresh) : bare;
  if (marked === text) return piece;
  const same = iconv.decode(iconv.encode(marked, charset), charset) === marked;
  if (!same) node.setCharset('utf-8');
  const bytes = iconv.encode(marked, same ? charset : 'utf-8');
  const plain = bytes.every((byte) => byte < 128) && marked.split('\n').every(({ length }) => length < 990);
  const encoding =
    node.encoding === 'base64' || node.encoding === 'quoted-printable'
      ? node.encoding
      : plain
        ? ''
        : 'quoted-printable';
  if (encoding !== '' && encoding !== node.encoding)
    node.headers.update('Content-Transfer-Encoding', encoding);
  const body = transferEncoded(bytes, encoding);
  return { node, chunks: [{ type: 'body', node, value: body }] };
}

function transferDecoded(raw: Buffer, encoding: string | false): Buffer {
  if (encoding === 'base64') return Buffer.from(raw.toString('latin1'), 'base64');
  if (encoding === 'quoted-printable') return decodeQuoted(raw);
  return raw;
}

function transferEncoded(bytes: Buffer, encoding: string): Buffer {
  if (encoding === 'base64')
    return Buffer.from(`${(bytes.toString('base64').match(/.{1,76}/g) ?? []).join('\r\n')}\r\n`);
  if (encoding === 'quoted-printable') return Buffer.from(wrapQuoted(encodeQuoted(bytes)));
  return bytes;
}

const ATTRIBUTE = 'data-lantern-mark';
const HTML_MARK = new RegExp(`<p ${ATTRIBUTE}="[a-z]+"[^>]*>[^<]*</p>\\r?\\n?`, 'gi');

function withoutMarks(text: string, kind: string, { top, foot }: MailMarks): string {
  if (kind === 'text/html') return text.replace(HTML_MARK, '');
  const unix = (lines: string): RegExp =>
    new RegExp(
      lines
        .split('\n')
        .map((line) => line.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
        .join('\\r?\\n'),
    );
  let rest = text;
  if (top !== '') rest = rest.replace(new RegExp(`^${unix(top).source}(?:\\r?\\n){0,2}`), '');
  if (foot !== '') rest = rest.replace(new RegExp(`(?:\\r?\\n){2}${unix(foot).source}(?:\\r?\\n)*$`), '');
  return rest;
}

function withMarks(text: string, kind: string, { top, foot }: MailMarks): string {
  if (kind === 'text/plain') {
    const end = text.includes('\r\n') || !text.includes('\n') ? '\r\n' : '\n';
    const head = top === '' ? '' : `${top.replaceAll('\n', end)}${end}${end}`;
    const tail = foot === '' ? '' : `${end}${end}${foot.replaceAll('\n', end)}`;
    return `${head}${text}${tail}`;
  }
  const line = (place: string, words: string): string =>
    words === '' ? '' : `<p ${ATTRIBUTE}="${place}" style="text-align:center">${escaped(words)}</p>\n`;
  const opened = /<body[^>]*>/i.exec(text);
  const start = opened ? opened.index + opened[0].length : 0;
  const closed = text.toLowerCase().lastIndexOf('</body>');
  const end = closed === -1 ? text.length : closed;
  return (
    text.slice(0, start) + line('top', top) + text.slice(start, end) + line('foot', foot) + text.slice(end)
  );
}
