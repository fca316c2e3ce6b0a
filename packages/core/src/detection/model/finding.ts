import type { PatternId, RawOffset } from '../../shared/brand.js';
import type { Evidence } from './evidence.js';

/** Another pattern that claimed the same characters and was explained less well. */
export interface Rival {
  readonly pattern: PatternId;
  readonly certainty: number;
}

/** One place in a text that a pattern found. */
export interface Finding {
  readonly pattern: PatternId;
  /** UTF-16 offsets in the text as read, end exclusive. */
  readonly start: RawOffset;
  readonly end: RawOffset;
  /** 0 to 100, whole. */
  readonly certainty: number;
  readonly evidence: readonly Evidence[];
  /** Equal for equal values however they are written. Sensitive: never logged, never stored in the clear. */
  readonly canonical: string;
  readonly rivals: readonly Rival[];
  /** Address of the cell where it begins, such as `B14`; only in sheets. */
  readonly cell?: string;
}

/** Counts of one pattern in an item at a chosen certainty. */
export interface FindingCount {
  readonly findings: number;
  readonly distinct: number;
}

/** Counts findings of `pattern` that are certain to `certainty` or more; the same value twice is one distinct value. */
export function countFindings(
  findings: readonly Finding[],
  pattern: string,
  certainty: number,
): FindingCount {
  const values = new Set<string>();
  let count = 0;
  for (const finding of findings) {
    if (finding.pattern !== pattern || finding.certainty < certainty) continue;
    count += 1;
    values.add(finding.canonical);
  }
  return { findings: count, distinct: values.size };
}
