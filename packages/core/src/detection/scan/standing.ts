import type { Look } from '../looks/look.js';
import type { NearWords } from '../model/context.js';
import type { Prepared } from '../model/prepared.js';

/** A heading with the context words in it. */
export interface HeadingWords {
  readonly text: string;
  readonly words: readonly number[];
  /** What it is to each pattern, by place of the pattern. */
  readonly roles: Uint8Array;
  /** Patterns to ask under it, by number of shape; filled as shapes are met. */
  readonly owners: Map<number, readonly Prepared[]>;
}

/** What stands at the place that is being decided about. */
export interface Standing {
  readonly start: number;
  readonly end: number;
  readonly line: number;
  readonly column: number;
  readonly block: number;
  readonly heading: HeadingWords | null;
  /** Units in which words count: the row in a table, else the whole text. */
  readonly from: number;
  readonly to: number;
  /** First word that may be near, and whether there is one at all. */
  readonly firstWord: number;
  readonly words: boolean;
  /** Words that begin behind this offset are too far away. */
  readonly last: number;
}

/** A value that passed, about to be kept. */
export interface Keeping {
  readonly prepared: Prepared;
  readonly standing: Standing;
  readonly near: NearWords | null;
  readonly role: number;
  readonly slot: number;
  readonly grouped: boolean;
  readonly canonical: string | null;
  readonly look: Look | null;
  /** A shorter way of reading it from the same start passed before. */
  readonly again: boolean;
}
