import { workerData } from 'node:worker_threads';
import {
  compileScanner,
  type DocumentSource,
  type OwnPattern,
  patternSet,
  type PolicySet,
  type RecordSource,
  type Scanner,
  type WholeLabelSet,
} from '@lantern/core';
import { stable } from '../policies/draft-state.js';
import { sideOf } from './rejudge.js';

export interface ReplaySide {
  readonly set: PolicySet;
  readonly own: readonly OwnPattern[];
  readonly labels: WholeLabelSet;
}

/** What the workers of one replay know. */
export interface ReplayData {
  readonly key: Uint8Array;
  readonly before: ReplaySide;
  readonly after: ReplaySide;
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

/** Piscina wraps what the pool was given. */
const given = (Array.isArray(workerData) ? workerData.at(-1) : workerData) as ReplayData;
const records = new Map(given.records);
const documents = new Map(given.documents);
const scannerFor = (own: readonly OwnPattern[]): Scanner =>
  compileScanner(patternSet(own), records, documents);
const scanner = scannerFor(given.before.own);
// Where the drafts leave patterns alone, texts need to be looked at once for both sides.
const sameScanner = stable(given.before.own) === stable(given.after.own);

export const KEY = Buffer.from(given.key);
export const SIDES = {
  before: sideOf(given.before.set, given.before.labels, scanner),
  after: sideOf(given.after.set, given.after.labels, sameScanner ? scanner : scannerFor(given.after.own)),
};
