import { createHash } from 'node:crypto';
import { closeSync, createReadStream, openSync, readSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { Finding } from '@lantern/core/detection';
import { piecesOf, readPiece } from '@lantern/files/reading';

/** Longest text that is read, in bytes: more is a dump of a database, which is a place of its own. */
export const MOST_TEXT_BYTES = 4 * 1024 * 1024 * 1024;
/** Findings by which a label is chosen; all are counted. */
const MOST_JUDGED = 100_000;
const HEAD_BYTES = 64 * 1024;

/** What is found in one stretch of text, with what may be shown of it. */
export interface Scanned<Excerpt> {
  readonly findings: readonly Finding[];
  readonly excerpts: readonly Excerpt[];
}

/** A text that was read in pieces; null for what is no text, or is too long. */
export interface LargeText<Excerpt> extends Scanned<Excerpt> {
  readonly characters: number;
  readonly digest: string;
  /** Its first bytes, by which its kind is told. */
  readonly head: Uint8Array;
}

/**
 * Reads a text piece by piece. `scan` looks into a piece and says what stands between two places of it; `count` is told every
 * finding, of which only the first are kept.
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
  const pieces = piecesOf(size);
  for (let number = 0; number < pieces; number += 1) {
    const piece = readPiece(path, number);
    if (!piece) return null;
    const { before, own, after } = piece;
    const found = scan({
      name: `piece ${number + 1} of ${pieces}`,
      text: before + own + after,
      from: before.length,
      to: before.length + own.length,
    });
    count(found.findings);
    findings.push(...found.findings.slice(0, Math.max(0, MOST_JUDGED - findings.length)));
    excerpts.push(...found.excerpts);
    characters += own.length;
  }
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return { findings, excerpts, characters, digest: hash.digest('hex'), head: headOf(path) };
}

function headOf(path: string): Uint8Array {
  const handle = openSync(path, 'r');
  try {
    const head = Buffer.alloc(HEAD_BYTES);
    return head.subarray(0, readSync(handle, head, 0, head.length, 0));
  } finally {
    closeSync(handle);
  }
}
