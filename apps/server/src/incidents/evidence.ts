import type { EvidencePart, ExcerptPiece } from '@lantern/contracts';
import { cutAtMarks, type Evidence, type Excerpt, type ExcerptMark, mask } from '@lantern/core/detection';
import { type PartRole, type UnreadableReason } from '@lantern/core/movement';
import type { InspectedItemPart } from '@lantern/files/inspect';

/** What is sealed with a movement. */
export interface StoredEvidence {
  readonly parts: readonly StoredPart[];
}

interface StoredPart {
  readonly role: PartRole;
  readonly path: readonly string[];
  readonly unreadable: UnreadableReason | null;
  readonly findings: number;
  readonly excerpts: readonly Excerpt[];
  readonly notShown: number;
}

/** Without excerpts only counts are kept, and how many findings nobody can see any more. */
export function toStoredEvidence(parts: readonly InspectedItemPart[], excerpts = true): StoredEvidence {
  return {
    parts: parts.map(({ part, excerpts: kept, notShown }) => ({
      role: part.role,
      path: part.path,
      unreadable: part.status === 'unreadable' ? part.reason : null,
      findings: part.status === 'read' ? part.findings.length : 0,
      excerpts: excerpts ? kept : [],
      notShown: excerpts || part.status !== 'read' ? notShown : part.findings.length,
    })),
  };
}

/** Evidence as it leaves the server: values masked unless `whole`. Parts with nothing to show are left out. */
export function toEvidenceParts(stored: StoredEvidence, whole: boolean): EvidencePart[] {
  return stored.parts
    .filter((part) => part.unreadable !== null || part.excerpts.length > 0 || part.notShown > 0)
    .map((part) => ({
      role: part.role,
      path: part.path,
      unreadable: part.unreadable,
      findings: part.findings,
      notShown: part.notShown,
      excerpts: part.excerpts.map((excerpt) => ({ line: excerpt.line, pieces: toPieces(excerpt, whole) })),
    }));
}

/** An excerpt cut at its marks, its values masked unless `whole`. */
export function toPieces(excerpt: Excerpt, whole: boolean): ExcerptPiece[] {
  return cutAtMarks(excerpt).map(({ text, mark }) => (mark ? toFindingPiece(text, mark, whole) : { text }));
}

function toFindingPiece(value: string, found: ExcerptMark, whole: boolean): ExcerptPiece {
  const { pattern, certainty, cell } = found;
  const evidence = whole ? found.evidence : found.evidence.map(withoutValue);
  return { text: whole ? value : mask(value), pattern, certainty, evidence, ...(cell ? { cell } : {}) };
}

/** The entry of a word list is the found value itself. */
function withoutValue(evidence: Evidence): Evidence {
  return evidence.code === 'listed-word' && evidence.detail !== undefined
    ? { ...evidence, detail: mask(evidence.detail) }
    : evidence;
}
