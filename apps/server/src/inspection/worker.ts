import { workerData } from 'node:worker_threads';
import { compileScanner, READY_PATTERNS, type Scanner, type WordListPattern } from '@lantern/core';
import { type InspectedItemPart, inspectItem, type ItemToInspect } from './inspect-item.js';

/** Piscina wraps what the pool was given. */
interface PoolData {
  readonly wordLists: readonly WordListPattern[];
}

const given = (Array.isArray(workerData) ? workerData.at(-1) : workerData) as PoolData;
const scanner: Scanner = compileScanner([...READY_PATTERNS, ...given.wordLists]);

/** One item a call; the patterns are those the pool was made with. */
export default function inspect(item: ItemToInspect): Promise<InspectedItemPart[]> {
  return inspectItem(item, scanner);
}
