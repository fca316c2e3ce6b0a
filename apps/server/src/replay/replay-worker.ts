import { workerData } from 'node:worker_threads';
import {
  compileScanner,
  type Decided,
  type DocumentSource,
  type OwnPattern,
  patternSet,
  type PolicySet,
  type RecordSource,
  type Scanner,
} from '@lantern/core';
import { journalPlace, journalTextsPlace } from '../journal/journal-place.js';
import type { JournalEntry } from '../journal/journal-entry.js';
import { stable } from '../policies/draft-state.js';
import { unseal } from '../platform/sealing.js';
import { rejudge, sideOf } from './rejudge.js';

/** What the workers of one replay know. */
export interface ReplayData {
  readonly key: Uint8Array;
  readonly before: { readonly set: PolicySet; readonly own: readonly OwnPattern[] };
  readonly after: { readonly set: PolicySet; readonly own: readonly OwnPattern[] };
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

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

const given = (Array.isArray(workerData) ? workerData.at(-1) : workerData) as ReplayData;
const key = Buffer.from(given.key);
const records = new Map(given.records);
const documents = new Map(given.documents);
const scannerFor = (own: readonly OwnPattern[]): Scanner =>
  compileScanner(patternSet(own), records, documents);
const scanner = scannerFor(given.before.own);
// Where the drafts leave patterns alone, texts need to be looked at once for both sides.
const sameScanner = stable(given.before.own) === stable(given.after.own);
const sides = {
  before: sideOf(given.before.set, scanner),
  after: sideOf(given.after.set, sameScanner ? scanner : scannerFor(given.after.own)),
};

const opened = (place: string, sealed: Uint8Array): unknown =>
  JSON.parse(unseal(key, place, Buffer.from(sealed)).toString('utf8'));

/** Some rows a call. */
export default function replay(rows: readonly ReplayRow[]): ReplayedRow[] {
  return rows.map(({ id, sealed, sealedTexts, detectBefore, detectAfter }) => {
    const movement = opened(journalPlace(id), sealed) as JournalEntry['movement'];
    const texts = sealedTexts && (opened(journalTextsPlace(id), sealedTexts) as JournalEntry['texts']);
    const entry: JournalEntry = { movement, texts };
    const decided = rejudge(entry, sides, { before: detectBefore, after: detectAfter });
    return { id, ...decided, department: entry.movement.sender.department ?? '' };
  });
}
