import {
  compileScanner,
  type PatternWeights,
  READY_PATTERNS,
  type ReadyPattern,
  withWeights,
} from '@lantern/core/detection';

/** A text and how certain the pattern is of it before and after a change of weights; null where it finds nothing. */
export interface Moved {
  readonly text: string;
  readonly before: number | null;
  readonly after: number | null;
}

/** What a change of weights moves in some texts: the best finding of the pattern in each, before and after. */
export function whatMoves(id: string, weights: Partial<PatternWeights>, texts: readonly string[]): Moved[] {
  const ready = READY_PATTERNS.find((pattern) => pattern.id === id);
  if (!ready) return [];
  const before = bestIn(ready);
  const after = bestIn(withWeights(ready, weights));
  return texts.map((text) => ({ text, before: before(text), after: after(text) }));
}

function bestIn(pattern: ReadyPattern): (text: string) => number | null {
  const scanner = compileScanner([pattern]);
  return (text) => {
    const found = scanner.scan(text).findings.map((finding) => finding.certainty);
    return found.length === 0 ? null : Math.max(...found);
  };
}
