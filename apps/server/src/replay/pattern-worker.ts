import { workerData } from 'node:worker_threads';
import { compileScanner, type Pattern, type Scanner, SPECIMEN_CERTAINTY } from '@lantern/core';
import { journalTextsPlace } from '../journal/journal-place.js';
import type { JournalEntry } from '../journal/journal-entry.js';
import { unsealHere } from '../platform/sealing.js';

/** One pattern as it is published, where it is, and as it is being written. */
export interface PatternData {
  readonly key: Uint8Array;
  readonly before: Pattern | null;
  readonly written: Pattern;
}

export interface TextsRow {
  readonly id: string;
  readonly sealedTexts: Uint8Array;
}

/** Distinct values in a movement that are certain enough, as specimens count them. */
export interface CountedRow {
  readonly id: string;
  readonly before: number;
  readonly now: number;
}

// Piscina wraps what the pool was given.
const given = (Array.isArray(workerData) ? workerData.at(-1) : workerData) as PatternData;
const key = Buffer.from(given.key);
const before = given.before && compileScanner([given.before]);
const written = compileScanner([given.written]);

function count(scanner: Scanner | null, texts: readonly (string | null)[]): number {
  const values = new Set<string>();
  for (const text of scanner ? texts : [])
    for (const { certainty, canonical } of text ? (scanner?.scan(text).findings ?? []) : [])
      if (certainty >= SPECIMEN_CERTAINTY) values.add(canonical);
  return values.size;
}

/** Some rows a call. */
export default function countRows(rows: readonly TextsRow[]): CountedRow[] {
  return rows.map(({ id, sealedTexts }) => {
    const opened = unsealHere(key, journalTextsPlace(id), Buffer.from(sealedTexts)).toString('utf8');
    const texts = (JSON.parse(opened) as JournalEntry['texts']) ?? [];
    return { id, before: count(before, texts), now: count(written, texts) };
  });
}
