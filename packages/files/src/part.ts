import type { InnerPlace, UnreadableReason } from '@lantern/core/movement';

/** A text read out of a file, or what kept it from being read. `path` leads from the outermost file inwards. */
export type ReadPart =
  | {
      readonly status: 'read';
      readonly path: readonly string[];
      readonly text: string;
      /** What it is within its file; left out for running text. */
      readonly inner?: InnerPlace;
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

/** Kind of text by the name that readers give its place; empty for running text. */
export function innerOf(place: string): { readonly inner?: InnerPlace } {
  const known = NAMED.find(([name]) => name.test(place));
  return known ? { inner: known[1] } : {};
}

const NAMED: readonly (readonly [RegExp, InnerPlace])[] = [
  [/^comments/u, 'comment'],
  [/^(?:foot|end)notes$|^speaker notes/u, 'note'],
  [/^pending deletion$/u, 'pending-edit'],
];
