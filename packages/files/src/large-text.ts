import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { FileKind } from '@lantern/core/movement';
import { tableRows } from '@lantern/core/text';
import iconv from 'iconv-lite';
import { fileFacts } from './named-kind.js';
import { encodingOf } from './text.js';

/** A text that is too large for one piece is read in pieces of so many bytes. */
export const PIECE_BYTES = 2 * 1024 * 1024;
/** What stands before and behind a piece is read with it, so that values, names and tables at its ends are seen whole. */
const AROUND_BYTES = 64 * 1024;
/** A line that is longer than this is cut where the piece ends. */
const LONGEST_LINE = 64 * 1024;
const SAMPLE_BYTES = 256 * 1024;
/** What cannot be read in pieces, by its first bytes. */
const NO_TEXT: ReadonlySet<FileKind> = new Set(['pdf', 'office', 'picture', 'archive', 'program']);
/** Longest first line that is taken for the headings of a table. */
const LONGEST_HEADING = 8 * 1024;

/** One piece of a text with what stands around it: in front the headings, where it is a table. */
export interface TextPiece {
  readonly text: string;
  /** Where its own part begins and ends in `text`, in UTF-16 units. What begins elsewhere belongs to another piece. */
  readonly from: number;
  readonly to: number;
}

/** How many pieces a file of some bytes is read in. */
export const piecesOf = (size: number): number => Math.max(1, Math.ceil(size / PIECE_BYTES));

/**
 * The piece of a text file with a number, from 0; null where the file is no text. Pieces meet at ends of lines, or where a line
 * is endless between two characters; together their own parts are the whole text. Throws what the disk throws.
 */
export function readPiece(path: string, number: number): TextPiece | null {
  const handle = openSync(path, 'r');
  try {
    const { size } = fstatSync(handle);
    const head = bytesFrom(handle, 0, SAMPLE_BYTES);
    const encoding = NO_TEXT.has(fileFacts(path, head).kind) ? undefined : encodingOf(head);
    if (encoding === undefined) return null;
    const file = { handle, size, unit: /^utf-?16/u.test(encoding) ? 2 : 1 };
    const first = number === 0 ? 0 : borderAt(file, number * PIECE_BYTES);
    const end = borderAt(file, (number + 1) * PIECE_BYTES);
    const from = number === 0 ? 0 : borderAt(file, Math.max(0, first - AROUND_BYTES));
    const text = (begin: number, stop: number): string =>
      decoded(bytesFrom(handle, begin, Math.max(0, stop - begin)), encoding, begin === 0);
    const heading = number === 0 ? '' : headingIn(decoded(head, encoding, true));
    const before = heading + text(from, first);
    const own = text(first, end);
    const after = text(end, borderAt(file, end + AROUND_BYTES));
    return { text: before + own + after, from: before.length, to: before.length + own.length };
  } finally {
    closeSync(handle);
  }
}

interface OpenFile {
  readonly handle: number;
  readonly size: number;
  /** Bytes of a unit. */
  readonly unit: number;
}

/** Where a piece ends that would end at some byte: behind the line that stands there. */
function borderAt(file: OpenFile, wanted: number): number {
  if (wanted >= file.size) return file.size;
  const bytes = bytesFrom(file.handle, wanted, LONGEST_LINE);
  for (let at = 0; at + file.unit <= bytes.length; at += file.unit) {
    const low = bytes[at] ?? 0;
    const high = file.unit === 2 ? (bytes[at + 1] ?? 0) : 0;
    // Of two bytes either may be the first: a line ends with 0A and 00 in whichever order.
    if (low + high === 0x0a && (low === 0x0a || high === 0x0a)) return wanted + at + file.unit;
  }
  return aligned(file, wanted);
}

/** The beginning of the next character at a place or behind it. */
function aligned({ handle, size, unit }: OpenFile, wanted: number): number {
  if (wanted <= 0) return 0;
  if (wanted >= size) return size;
  if (unit === 2) return wanted - (wanted % 2);
  const bytes = bytesFrom(handle, wanted, 4);
  // Bytes of a character in UTF-8 behind its first one (RFC 3629).
  const found = bytes.findIndex((byte) => (byte & 0xc0) !== 0x80);
  return wanted + Math.max(0, found);
}

function bytesFrom(handle: number, position: number, length: number): Buffer {
  const room = Buffer.allocUnsafeSlow(length);
  let filled = 0;
  while (filled < length) {
    const read = readSync(handle, room, filled, length - filled, position + filled);
    if (read === 0) break;
    filled += read;
  }
  return room.subarray(0, filled);
}

const decoded = (bytes: Buffer, encoding: string, isFirst: boolean): string =>
  iconv.decode(bytes, encoding, { stripBOM: isFirst });

/** The first line of a table, which says what stands in its columns; empty where the text is none. */
function headingIn(head: string): string {
  const end = head.indexOf('\n') + 1;
  return end > 0 && end <= LONGEST_HEADING && tableRows(head.slice(0, head.lastIndexOf('\n') + 1)) > 0
    ? head.slice(0, end)
    : '';
}
