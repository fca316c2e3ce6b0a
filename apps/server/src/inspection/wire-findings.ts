import type { WireFindings } from '@lantern/contracts';
import { packFindings, type PackedFindings } from '@lantern/core/detection';

/** Packed findings as they go to a browser. */
export function toWire({ patterns, values, ...arrays }: PackedFindings): WireFindings {
  return {
    patterns,
    values,
    which: base64(arrays.which),
    starts: base64(arrays.starts),
    ends: base64(arrays.ends),
    certainties: base64(arrays.certainties),
    lengths: base64(arrays.lengths),
    candidateOf: base64(arrays.candidateOf),
    candidatePatterns: base64(arrays.candidatePatterns),
    candidateShares: base64(arrays.candidateShares),
  };
}

export const NO_WIRE_FINDINGS: WireFindings = toWire(packFindings([]));

function base64({ buffer, byteOffset, byteLength }: ArrayBufferView): string {
  return Buffer.from(buffer, byteOffset, byteLength).toString('base64');
}
