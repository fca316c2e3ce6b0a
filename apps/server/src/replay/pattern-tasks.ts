import { compileScanner, type Pattern, type Scanner, SPECIMEN_CERTAINTY } from '@lantern/core/detection';
import type { TaskModule } from '@lantern/processes';
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

let key = Buffer.alloc(0);
let before: Scanner | null = null;
let written: Scanner | null = null;

export function prepare(given: PatternData): void {
  key = Buffer.from(given.key);
  before = given.before && compileScanner([given.before]);
  written = compileScanner([given.written]);
}

function count(scanner: Scanner | null, texts: readonly (string | null)[]): number {
  const values = new Set<string>();
  for (const text of scanner ? texts : [])
    for (const { certainty, canonical } of text ? (scanner?.scan(text).findings ?? []) : [])
      if (certainty >= SPECIMEN_CERTAINTY) values.add(canonical);
  return values.size;
}

export const tasks = {
  /** Some rows a call. */
  count: (rows: readonly TextsRow[]): CountedRow[] =>
    rows.map(({ id, sealedTexts }) => {
      const opened = unsealHere(key, journalTextsPlace(id), Buffer.from(sealedTexts)).toString('utf8');
      const texts = (JSON.parse(opened) as JournalEntry['texts']) ?? [];
      return { id, before: count(before, texts), now: count(written, texts) };
    }),
} satisfies TaskModule['tasks'];
