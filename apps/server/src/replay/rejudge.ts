import {
  compilePolicies,
  type Decided,
  decidedOf,
  type InspectedMovement,
  type Judge,
  type PolicySet,
  type Scanner,
  unkeepMovement,
} from '@lantern/core';
import type { JournalEntry } from '../journal/journal-entry.js';

/** What one side of a replay judges with. */
export interface Side {
  readonly judge: Judge;
  readonly scanner: Scanner;
}

export function sideOf(set: PolicySet, scanner: Scanner): Side {
  return { judge: compilePolicies(set), scanner };
}

/**
 * What one side decides about a kept movement. With `detect` its texts are looked at again; null where that is needed
 * and only findings were kept.
 */
export function rejudge(entry: JournalEntry, side: Side, detect: boolean): Decided | null {
  const movement = unkeepMovement(entry.movement, side.judge.asked);
  if (!detect) return decidedOf(side.judge.judge(movement));
  const again = detectedAgain(movement, entry.texts, side.scanner);
  return again && decidedOf(side.judge.judge(again));
}

function detectedAgain(
  movement: InspectedMovement,
  texts: JournalEntry['texts'],
  scanner: Scanner,
): InspectedMovement | null {
  if (!texts) return null;
  const parts = movement.parts.map((part, index) => {
    const text = texts[index];
    return part.status === 'read' && typeof text === 'string'
      ? { ...part, findings: scanner.scan(text).findings }
      : part;
  });
  return { ...movement, parts };
}
