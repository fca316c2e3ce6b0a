import type { Finding, MovedFile, MovedLabel, UnreadableReason } from '@lantern/core';

/** One part of a file that the Lantern asked the server to read. Nothing of it is kept. */
export type LanternPart =
  | {
      readonly status: 'read';
      readonly path: readonly string[];
      readonly text: string;
      readonly cut: boolean;
      /** Rows of the tables in it; 0 for none. */
      readonly rows: number;
      /** By the drafts: what the panel shows. */
      readonly findings: readonly Finding[];
      /** By the published revision, for the verdict beside it. */
      readonly publishedFindings: readonly Finding[];
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
