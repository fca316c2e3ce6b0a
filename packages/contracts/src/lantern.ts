import type { Finding, UnreadableReason } from '@lantern/core';

/** One part of a file that the Lantern asked the server to read. Nothing of it is kept. */
export type LanternPart =
  | {
      readonly status: 'read';
      readonly path: readonly string[];
      readonly text: string;
      readonly cut: boolean;
      /** By the drafts: what the panel shows. */
      readonly findings: readonly Finding[];
      /** By the published revision, for the verdict beside it. */
      readonly publishedFindings: readonly Finding[];
    }
  | { readonly status: 'unreadable'; readonly path: readonly string[]; readonly reason: UnreadableReason };

export interface LanternFileResult {
  readonly name: string;
  readonly parts: readonly LanternPart[];
}
