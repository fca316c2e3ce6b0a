import type { Decided } from '@lantern/core';
import { journalPlace, journalTextsPlace } from '../journal/journal-place.js';
import type { JournalEntry } from '../journal/journal-entry.js';
import { unsealHere } from '../platform/sealing.js';
import { rejudge } from './rejudge.js';
import { KEY, SIDES } from './replay-sides.js';

/** A row of the journal, and which side's patterns differ from those it was looked at with. */
export interface ReplayRow {
  readonly id: string;
  readonly sealed: Uint8Array;
  /** Its texts, where a side must look at them and they were kept. */
  readonly sealedTexts: Uint8Array | null;
  readonly detectBefore: boolean;
  readonly detectAfter: boolean;
}

/** A row judged twice; null where only findings were kept, of other patterns. */
export interface ReplayedRow {
  readonly id: string;
  readonly before: Decided | null;
  readonly after: Decided | null;
  readonly department: string;
}

const opened = (place: string, sealed: Uint8Array): unknown =>
  JSON.parse(unsealHere(KEY, place, Buffer.from(sealed)).toString('utf8'));

/** Some rows a call. */
export default function replay(rows: readonly ReplayRow[]): ReplayedRow[] {
  return rows.map(({ id, sealed, sealedTexts, detectBefore, detectAfter }) => {
    const movement = opened(journalPlace(id), sealed) as JournalEntry['movement'];
    const texts = sealedTexts && (opened(journalTextsPlace(id), sealedTexts) as JournalEntry['texts']);
    const entry: JournalEntry = { movement, texts };
    const decided = rejudge(entry, SIDES, { before: detectBefore, after: detectAfter });
    return { id, ...decided, department: entry.movement.sender.department ?? '' };
  });
}
