import type { PatternId, RawOffset } from '../../shared/brand.js';
import { type Candidate, type Finding, patternsOf } from './finding.js';

/**
 * Findings side by side in a few arrays, as they travel between processes: a hundred thousand objects would hold up the
 * server while they are unpacked. Without evidence, which the excerpts hold where it is kept.
 */
export interface PackedFindings {
  readonly patterns: readonly string[];
  /** Index into `patterns` of each finding. */
  readonly which: Uint16Array;
  readonly starts: Int32Array;
  readonly ends: Int32Array;
  readonly certainties: Uint8Array;
  /** Values one behind the other, and the length of each in UTF-16 units. */
  readonly values: string;
  readonly lengths: Int32Array;
  /** Candidates where there are several: number of the finding, index into `patterns`, share; one row each. */
  readonly candidateOf: Int32Array;
  readonly candidatePatterns: Uint16Array;
  readonly candidateShares: Float32Array;
}

const NONE: readonly never[] = [];

export function packFindings(findings: readonly Finding[]): PackedFindings {
  const patterns = [
    ...new Set(findings.flatMap((finding) => [String(finding.pattern), ...patternsOf(finding)])),
  ];
  const at = new Map(patterns.map((pattern, index) => [pattern, index]));
  const rows = findings.flatMap(({ candidates = NONE }, index) =>
    candidates.map((candidate) => ({ index, ...candidate })),
  );
  return {
    patterns,
    which: Uint16Array.from(findings, ({ pattern }) => at.get(pattern) ?? 0),
    starts: Int32Array.from(findings, ({ start }) => start),
    ends: Int32Array.from(findings, ({ end }) => end),
    certainties: Uint8Array.from(findings, ({ certainty }) => certainty),
    values: findings.map(({ canonical }) => canonical).join(''),
    lengths: Int32Array.from(findings, ({ canonical }) => canonical.length),
    candidateOf: Int32Array.from(rows, ({ index }) => index),
    candidatePatterns: Uint16Array.from(rows, ({ pattern }) => at.get(pattern) ?? 0),
    candidateShares: Float32Array.from(rows, ({ share }) => share),
  };
}

export function unpackFindings(packed: PackedFindings): Finding[] {
  const { patterns, which, starts, ends, certainties, values, lengths } = packed;
  const findings: Finding[] = [];
  let from = 0;
  for (let index = 0; index < which.length; index += 1) {
    const to = from + (lengths[index] ?? 0);
    findings.push({
      pattern: (patterns[which[index] ?? 0] ?? '') as PatternId,
      start: (starts[index] ?? 0) as RawOffset,
      end: (ends[index] ?? 0) as RawOffset,
      certainty: certainties[index] ?? 0,
      canonical: values.slice(from, to),
      evidence: NONE,
      rivals: NONE,
    });
    from = to;
  }
  return withCandidates(findings, packed);
}

function withCandidates(
  findings: Finding[],
  { patterns, candidateOf, candidatePatterns, candidateShares }: PackedFindings,
): Finding[] {
  const byFinding = new Map<number, Candidate[]>();
  candidateOf.forEach((index, row) => {
    const pattern = (patterns[candidatePatterns[row] ?? 0] ?? '') as PatternId;
    const candidate = { pattern, share: candidateShares[row] ?? 0 };
    byFinding.set(index, [...(byFinding.get(index) ?? []), candidate]);
  });
  for (const [index, candidates] of byFinding) findings[index] = { ...findings[index]!, candidates };
  return findings;
}
