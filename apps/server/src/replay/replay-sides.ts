import {
  compileScanner,
  type DocumentSource,
  type OwnPattern,
  patternSet,
  type RecordSource,
  type Scanner,
} from '@lantern/core/detection';
import { type WholeLabelSet } from '@lantern/core/labels';
import { type PolicySet } from '@lantern/core/policy';
import { stable } from '../published/draft-state.js';
import { type Side, sideOf } from './rejudge.js';

export interface ReplaySide {
  readonly set: PolicySet;
  readonly own: readonly OwnPattern[];
  readonly labels: WholeLabelSet;
}

/** What the processes of one replay know. */
export interface ReplayData {
  readonly before: ReplaySide;
  readonly after: ReplaySide;
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

/** Both sides of a replay, compiled once as a process starts. */
export interface Sides {
  readonly before: Side;
  readonly after: Side;
}

export function compileSides(given: ReplayData): Sides {
  const records = new Map(given.records);
  const documents = new Map(given.documents);
  const scannerFor = (own: readonly OwnPattern[]): Scanner =>
    compileScanner(patternSet(own), records, documents);
  const scanner = scannerFor(given.before.own);
  // Where the drafts leave patterns alone, texts need to be looked at once for both sides.
  const same = stable(given.before.own) === stable(given.after.own);
  return {
    before: sideOf(given.before.set, given.before.labels, scanner),
    after: sideOf(given.after.set, given.after.labels, same ? scanner : scannerFor(given.after.own)),
  };
}
