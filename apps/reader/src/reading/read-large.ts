import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { Finding } from '@lantern/core/detection';
import { piecesOf, readPiece } from '@lantern/files/reading';

/** Longest text that is read, in bytes: more is a dump of a database, which is a place of its own. */
export const MOST_TEXT_BYTES = 4 * 1024 * 1024 * 1024;
/** Findings by which a label is chosen; all are counted. */
const MOST_JUDGED = 100_000;
/** Characters by which the kind of a file is told. */
const HEAD_LENGTH = 64 * 1024;

/** What is found in one stretch of text, with what may be shown of it. */
export interface Scanned<Excerpt> {
  readonly findings: readonly Finding[];
  readonly excerpts: readonly Excerpt[];
}

/** Findings and excerpts of a text that was read in pieces. */
export interface LargeText<Excerpt> extends Scanned<Excerpt> {
  readonly characters: number;
  readonly digest: string;
  /** Its beginning as UTF-8, which tells its kind. */
  readonly head: Uint8Array;
}

/**
 * Reads a text piece by piece; null if the file is not text or is longer than {@link MOST_TEXT_BYTES}. `scan` returns the findings
 * of a piece between two places of its text; `count` is called with all of them, of which the first 100,000 are returned.
 */
export async function readLarge<Excerpt>(
  path: string,
  size: number,
  scan: (part: {
    readonly name: string;
    readonly text: string;
    readonly from: number;
    readonly to: number;
  }) => Scanned<Excerpt>,
  count: (findings: readonly Finding[]) => void,
): Promise<LargeText<Excerpt> | null> {
  if (size > MOST_TEXT_BYTES) return null;
  const findings: Finding[] = [];
  const excerpts: Excerpt[] = [];
  let characters = 0;
  let head: Uint8Array = new Uint8Array();
  const pieces = piecesOf(size);
  for (let number = 0; number < pieces; number += 1) {
    const piece = readPiece(path, number);
    if (!piece) return null;
    const { text, from, to } = piece;
    if (number === 0) head = Buffer.from(text.slice(from, from + HEAD_LENGTH));
    const found = scan({ name: `piece ${number + 1} of ${pieces}`, ...piece });
    count(found.findings);
    for (const finding of found.findings) if (findings.length < MOST_JUDGED) findings.push(finding);
    excerpts.push(...found.excerpts);
    characters += to - from;
  }
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return { findings, excerpts, characters, digest: hash.digest('hex'), head };
}
