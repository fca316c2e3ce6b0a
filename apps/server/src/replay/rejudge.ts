import { type Scanner } from '@lantern/core/detection';
import { type Decided, decidedOf } from '@lantern/core/insight';
import { type WholeLabelSet } from '@lantern/core/labels';
import { type InspectedMovement } from '@lantern/core/movement';
import { compileItemJudge, type PolicySet, unkeepMovement } from '@lantern/core/policy';
import type { JournalEntry } from '../journal/journal-entry.js';

/** What one side of a replay judges with. */
export interface Side {
  readonly scanner: Scanner;
  /** Patterns that the side reads; null for all. */
  readonly asked: ReadonlySet<string> | null;
  decide(movement: InspectedMovement): Decided;
}

/** Automatic rules label first, as they do where something moves. */
export function sideOf(set: PolicySet, labels: WholeLabelSet, scanner: Scanner): Side {
  const { asked, judge } = compileItemJudge({ policies: set, labels });
  return { scanner, asked, decide: (movement) => decidedOf(judge(movement)) };
}

/** Which sides must look at the texts again. */
export interface Detect {
  readonly before: boolean;
  readonly after: boolean;
}

/**
 * What both sides decide about a kept movement. Where a side must detect, the texts are looked at again, once where both
 * sides have the same scanner; null where that is needed and only findings were kept.
 */
export function rejudge(
  entry: JournalEntry,
  sides: { readonly before: Side; readonly after: Side },
  detect: Detect,
): { readonly before: Decided | null; readonly after: Decided | null } {
  const seen = new Map<Scanner, InspectedMovement | null>();
  const decide = (side: Side, again: boolean): Decided | null => {
    const { scanner } = side;
    if (!again) return side.decide(unkeepMovement(entry.movement, side.asked));
    const known = seen.get(scanner);
    const movement = known ?? detectedAgain(unkeepMovement(entry.movement, NOTHING), entry.texts, scanner);
    seen.set(scanner, movement);
    return movement && side.decide(movement);
  };
  return { before: decide(sides.before, detect.before), after: decide(sides.after, detect.after) };
}

const NOTHING: ReadonlySet<string> = new Set();

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
