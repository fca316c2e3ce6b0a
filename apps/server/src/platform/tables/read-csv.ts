import chardet from 'chardet';
import iconv from 'iconv-lite';
import Papa from 'papaparse';
import { headOfUpload, readUpload, type SealedUpload } from '../http/read-upload.js';

/** Bytes looked at to tell the encoding. */
const SAMPLE_BYTES = 64 * 1024;
/** Longest row that is taken, in characters: more is a quotation mark that never closes. */
export const MAX_ROW = 100_000;

/** Encoding of a file by its beginning. */
export async function encodingOf(upload: SealedUpload): Promise<string> {
  const head = await headOfUpload(upload, SAMPLE_BYTES);
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le';
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be';
  if (isUtf8(head)) return 'utf-8';
  const guess = chardet.detect(head);
  return guess && iconv.encodingExists(guess) ? guess : 'utf-8';
}

/** Whether bytes are UTF-8, the last character perhaps cut off. */
function isUtf8(head: Buffer): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true });
    return true;
  } catch {
    return false;
  }
}

/** One row with its number, the headings being row 1. */
export interface CsvRow {
  readonly number: number;
  readonly cells: readonly string[];
}

/**
 * Rows of a CSV file one by one (RFC 4180; the divider is found out), in any common encoding; at most `most` of them.
 * Blank rows are left out. Stops early when the caller does.
 */
export async function* csvRows(
  upload: SealedUpload,
  encoding: string,
  most = Number.MAX_SAFE_INTEGER,
): AsyncGenerator<CsvRow> {
  const file = await readUpload(upload);
  const parser = Papa.parse(Papa.NODE_STREAM_INPUT, { skipEmptyLines: 'greedy' });
  const decoded = file.pipe(iconv.decodeStream(encoding));
  const rows = decoded.pipe(parser);
  const fail = (error: Error): void => void rows.destroy(error);
  file.on('error', fail);
  decoded.on('error', fail);
  let number = 0;
  try {
    for await (const cells of rows as AsyncIterable<string[]>) {
      number += 1;
      if (number > most) return;
      yield { number, cells };
    }
  } finally {
    file.destroy();
  }
}
