import { createHash } from 'node:crypto';
import type { ReadResult } from '@lantern/contracts/discovery';
import {
  endingOf,
  type FoundPattern,
  holdingOf,
  isSensitive,
  type ItemKnown,
  type ItemReach,
} from '@lantern/core/discovery';
import type { ItemEntity } from './item.entity.js';

/** Longest ending that is kept. */
const LONGEST_ENDING = 20;
/** Patterns of one item that are kept; the library has fewer than twice as many. */
const MOST_PATTERNS = 500;

/** Where the evidence of an item is sealed. */
export const evidenceAt = (id: string): string => `discovery-item:${id}`;
export const digestOfPath = (path: string): string => createHash('sha256').update(path).digest('hex');
export const keptEnding = (path: string): string => endingOf(path).slice(0, LONGEST_ENDING);

/** What is known of an item, for what changed since; null where it was never read. */
export function knownOf(item: ItemEntity): ItemKnown | null {
  if (item.state === 'waiting') return null;
  const { state, found, labelRank, digest, reachRead } = item;
  return { state, found, labelRank, digest, reach: reachRead };
}

/** Columns that follow from what was found. */
export function columnsOf(result: ReadResult, reach: ItemReach) {
  const found = readFound(result.found);
  const state = result.status;
  const known = { state, found };
  return {
    ...{ state, reason: result.reason?.slice(0, 40) ?? null, digest: result.digest, found },
    labelId: result.label?.id.slice(0, 36) ?? null,
    labelRank: result.label?.rank ?? null,
    suggested: result.suggested,
    ...{
      reach,
      reachRead: reach,
      isSensitive: isSensitive(known),
      holding: isSensitive(known) ? holdingOf(known) : 0,
    },
    total: found.reduce((sum, { count }) => sum + count, 0),
    certainty: Math.max(0, ...found.map(({ certainty }) => certainty)),
  } satisfies Partial<ItemEntity>;
}

/** Findings as a reader counted them; what is none is left out. */
function readFound(given: readonly FoundPattern[]): FoundPattern[] {
  const seen = new Set<string>();
  return given
    .flatMap(({ pattern, count, certainty }) => {
      const right =
        typeof pattern === 'string' &&
        pattern.length > 0 &&
        pattern.length <= 60 &&
        Number.isInteger(count) &&
        count > 0 &&
        certainty >= 0 &&
        certainty <= 100 &&
        !seen.has(pattern);
      if (!right) return [];
      seen.add(pattern);
      return [{ pattern, count: Math.min(count, 2_000_000_000), certainty: Math.round(certainty) }];
    })
    .slice(0, MOST_PATTERNS);
}
