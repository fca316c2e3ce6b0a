import type { UnreadableReason } from '@lantern/core/movement';

/** A text read out of a file, or what kept it from being read. `path` leads from the outermost file inwards. */
export type ReadPart =
  | {
      readonly status: 'read';
      readonly path: readonly string[];
      readonly text: string;
      /** Row in its sheet of each line, from 1, where the text is that of one: cells stand between tabs. */
      readonly rows?: readonly number[];
    }
  | { readonly status: 'unreadable'; readonly path: readonly string[]; readonly reason: UnreadableReason };

/** Bytes with the name under which they came. */
export interface NamedBytes {
  readonly name: string;
  readonly bytes: Uint8Array;
}

export function unreadable(path: readonly string[], reason: UnreadableReason): ReadPart {
  return { status: 'unreadable', path, reason };
}
