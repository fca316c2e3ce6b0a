import type { PatternId, RawOffset } from '../../shared/brand.js';
import type { Evidence } from './evidence.js';

/** Another pattern that claimed the same characters and was explained less well. */
export interface Rival {
  readonly pattern: PatternId;
  readonly certainty: number;
}

/** One of several patterns that explain the same characters about equally well. */
export interface Candidate {
  readonly pattern: PatternId;
  /** Over 0 to 1. Shares of countries come to 1 at most; a pattern of no country that holds for all of them has 1. */
  readonly share: number;
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
  /** Where several patterns explain it about equally well: all of them, the likeliest first; else absent. */
  readonly candidates?: readonly Candidate[];
  /** Address of the cell where it begins, such as `B14`; only in sheets. */
  readonly cell?: string;
}

/**
 * How certain it is that a finding is of `pattern`, 0 to 100: where several patterns explain it, the share of this one;
 * 0 where it is none of them.
 */
export function certaintyFor({ pattern: own, certainty, candidates }: Finding, pattern: string): number {
  if (candidates === undefined) return own === pattern ? certainty : 0;
  const candidate = candidates.find((each) => each.pattern === pattern);
  return candidate ? Math.round(certainty * candidate.share) : 0;
}

/** Patterns that a finding may be of. */
export const patternsOf = ({ pattern, candidates }: Finding): readonly PatternId[] =>
  candidates ? candidates.map((candidate) => candidate.pattern) : [pattern];

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
    if (certaintyFor(finding, pattern) < Math.max(1, certainty)) continue;
    count += 1;
    values.add(finding.canonical);
  }
  return { findings: count, distinct: values.size };
}
