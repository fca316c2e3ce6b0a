import type { Finding } from '@lantern/core/detection';
import type { InnerPlace, MovedFile, MovedLabel, UnreadableReason } from '@lantern/core/movement';

/** Packed findings as JSON takes them: numbers are base64 of little-endian arrays. */
export interface WireFindings {
  readonly patterns: readonly string[];
  readonly which: string;
  readonly starts: string;
  readonly ends: string;
  readonly certainties: string;
  readonly values: string;
  readonly lengths: string;
  readonly candidateOf: string;
  readonly candidatePatterns: string;
  readonly candidateShares: string;
}

/** One part of a file that the Lantern asked the server to read. Nothing of it is kept. */
export type LanternPart =
  | {
      readonly status: 'read';
      readonly path: readonly string[];
      readonly text: string;
      readonly cut: boolean;
      /** Rows of the tables in it; 0 for none. */
      readonly rows: number;
      /** What it is within the file; left out for running text. */
      readonly inner?: InnerPlace;
      /** By the drafts: the first findings, with their evidence, as the panel shows them. */
      readonly findings: readonly Finding[];
      /** By the drafts: all others, which count for the verdict. */
      readonly others: WireFindings;
      /** By the published revision, for the verdict beside it. */
      readonly published: WireFindings;
    }
  | { readonly status: 'unreadable'; readonly path: readonly string[]; readonly reason: UnreadableReason };

export interface LanternFileResult {
  readonly name: string;
  readonly parts: readonly LanternPart[];
  /** What the file is, as rules ask about it. */
  readonly facts: MovedFile;
  /** Labels that it carries, of those the published set knows. */
  readonly labels: readonly MovedLabel[];
}
