import { compileScanner, type Pattern, type Scanner, SPECIMEN_CERTAINTY } from '@lantern/core/detection';
import type { TaskModule } from '@lantern/processes';
import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import type { JournalEntry } from '../journal/journal-entry.js';
import { unsealHere } from '../platform/sealing.js';

/** One pattern as it is published, where it is, and as it is being written. */
export interface PatternData {
  readonly before: Pattern | null;
  readonly written: Pattern;
}

export interface TextsRow {
  readonly id: string;
  /** Its data key. */
  readonly key: Uint8Array;
  readonly sealedTexts: Uint8Array;
}

/** Distinct values in a movement that are certain enough, as specimens count them. */
export interface CountedRow {
  readonly id: string;
  readonly before: number;
  readonly now: number;
}

let before: Scanner | null = null;
let written: Scanner | null = null;

export function prepare(given: PatternData): void {
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
    rows.map(({ id, key, sealedTexts }) => {
      const opened = unsealHere(
        Buffer.from(key),
        SEALED_OF_MOVEMENT.journalTexts.place(id),
        Buffer.from(sealedTexts),
      );
      const texts = (JSON.parse(opened.toString('utf8')) as JournalEntry['texts']) ?? [];
      return { id, before: count(before, texts), now: count(written, texts) };
    }),
} satisfies TaskModule['tasks'];
