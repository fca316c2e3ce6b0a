import type { LanternFileResult, WireFindings } from '@lantern/contracts';
import { type Finding, unpackFindings } from '@lantern/core/detection';

/** Findings of each part of a file by the drafts and by the published revision; only the first have evidence. */
export interface AllFindings {
  readonly drafts: readonly (readonly Finding[])[];
  readonly published: readonly (readonly Finding[])[];
}

export function allFindings({ parts }: Pick<LanternFileResult, 'parts'>): AllFindings {
  return {
    drafts: parts.map((part) => (part.status === 'read' ? [...part.findings, ...fromWire(part.others)] : [])),
    published: parts.map((part) => (part.status === 'read' ? fromWire(part.published) : [])),
  };
}

function fromWire({ patterns, values, ...arrays }: WireFindings): Finding[] {
  return unpackFindings({
    patterns,
    values,
    which: new Uint16Array(bytesOf(arrays.which)),
    starts: new Int32Array(bytesOf(arrays.starts)),
    ends: new Int32Array(bytesOf(arrays.ends)),
    certainties: new Uint8Array(bytesOf(arrays.certainties)),
    lengths: new Int32Array(bytesOf(arrays.lengths)),
    candidateOf: new Int32Array(bytesOf(arrays.candidateOf)),
    candidatePatterns: new Uint16Array(bytesOf(arrays.candidatePatterns)),
    candidateShares: new Float32Array(bytesOf(arrays.candidateShares)),
  });
}

function bytesOf(base64: string): ArrayBuffer {
  return Uint8Array.from(atob(base64), (character) => character.charCodeAt(0)).buffer;
}
