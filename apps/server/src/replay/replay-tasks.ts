import type { Decided } from '@lantern/core/insight';
import type { InspectedMovement } from '@lantern/core/movement';
import type { TaskModule } from '@lantern/processes';
import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import type { JournalEntry } from '../journal/journal-entry.js';
import { unsealHere } from '../platform/sealing.js';
import { rejudge } from './rejudge.js';
import { compileSides, type ReplayData, type Sides } from './replay-sides.js';

/** A row of the journal, and which side's patterns differ from those it was looked at with. */
export interface ReplayRow {
  readonly id: string;
  /** Its data key. */
  readonly key: Uint8Array;
  readonly sealed: Uint8Array;
  /** Its texts, where a side must look at them and they were kept. */
  readonly sealedTexts: Uint8Array | null;
  /** Amounts before it over stretches that nobody asked about when it moved. */
  readonly past: InspectedMovement['past'];
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

let sides: Sides | undefined;

export function prepare(data: ReplayData): void {
  sides = compileSides(data);
}

function replayed({ id, key, sealed, sealedTexts, past, detectBefore, detectAfter }: ReplayRow): ReplayedRow {
  if (!sides) throw new Error('This process was given no sides');
  const opened = (place: string, bytes: Uint8Array): unknown =>
    JSON.parse(unsealHere(Buffer.from(key), place, Buffer.from(bytes)).toString('utf8'));
  const kept = opened(SEALED_OF_MOVEMENT.journal.place(id), sealed) as JournalEntry['movement'];
  // What was counted then is what rules saw.
  const movement = past ? { ...kept, past: { ...past, ...kept.past } } : kept;
  const texts =
    sealedTexts && (opened(SEALED_OF_MOVEMENT.journalTexts.place(id), sealedTexts) as JournalEntry['texts']);
  const entry: JournalEntry = { movement, texts };
  const decided = rejudge(entry, sides, { before: detectBefore, after: detectAfter });
  return { id, ...decided, department: entry.movement.sender.department ?? '' };
}

export const tasks = {
  /** Some rows a call. */
  replay: (rows: readonly ReplayRow[]): ReplayedRow[] => rows.map(replayed),
} satisfies TaskModule['tasks'];
