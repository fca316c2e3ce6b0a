import type { PatternId, RawOffset } from '../../shared/brand.js';
import type { Finding } from './finding.js';

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
}

export function packFindings(findings: readonly Finding[]): PackedFindings {
  const patterns = [...new Set(findings.map(({ pattern }) => String(pattern)))];
  const at = new Map(patterns.map((pattern, index) => [pattern, index]));
  return {
    patterns,
    which: Uint16Array.from(findings, ({ pattern }) => at.get(pattern) ?? 0),
    starts: Int32Array.from(findings, ({ start }) => start),
    ends: Int32Array.from(findings, ({ end }) => end),
    certainties: Uint8Array.from(findings, ({ certainty }) => certainty),
    values: findings.map(({ canonical }) => canonical).join(''),
    lengths: Int32Array.from(findings, ({ canonical }) => canonical.length),
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
  return findings;
}

const NONE: readonly never[] = [];
