import { workerData } from 'node:worker_threads';
import {
  compileScanner,
  type DocumentSource,
  isEverywhere,
  type OwnPattern,
  patternSet,
  type RecordSource,
  type Scanner,
} from '@lantern/core';
import { type FileLabels, NO_FILE_LABELS, type NamedBytes, readFileLabels } from '@lantern/files';
import { type InspectedItemPart, inspectItem, type ItemToInspect } from './inspect-item.js';

/** Piscina wraps what the pool was given. */
interface PoolData {
  readonly own: readonly OwnPattern[];
  readonly wanted: readonly string[];
  readonly records: readonly [string, RecordSource][];
  readonly documents: readonly [string, DocumentSource][];
}

const given = (Array.isArray(workerData) ? workerData.at(-1) : workerData) as PoolData;
const scanner: Scanner = compileScanner(
  patternSet(given.own),
  new Map(given.records),
  new Map(given.documents),
);
const wanted = new Set(given.wanted);

/** Labels that files carry, in their order; what cannot be read carries none. */
export async function labels(files: readonly NamedBytes[]): Promise<FileLabels[]> {
  const found: FileLabels[] = [];
  for (const file of files) found.push(await readFileLabels(file).catch(() => NO_FILE_LABELS));
  return found;
}

/** One item a call; the patterns are those the pool was made with. */
export default function inspect(item: ItemToInspect): Promise<InspectedItemPart[]> {
  return inspectItem(item, scanner, (pattern) => wanted.has(pattern) || !isEverywhere(pattern));
}
