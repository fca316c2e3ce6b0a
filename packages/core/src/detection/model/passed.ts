import type { PatternId } from '../../shared/brand.js';
import type { Look } from '../looks/look.js';
import type { Context } from './context.js';
import type { Prepared } from './prepared.js';

/** A value that may be a finding, with what stands around it; neighbours are known when the pass is over. */
export interface Survivor {
  readonly prepared: Prepared;
  readonly start: number;
  readonly end: number;
  readonly grouped: boolean;
  /** Canonical form where a trigger gave it; shapes make theirs later. */
  readonly canonical: string | null;
  readonly look: Look | null;
  readonly context: Omit<Context, 'around' | 'broken'>;
  readonly slot: number;
}

/** A listed word at its place, in units of the searched text. */
export interface ListedHit {
  readonly meaning: number;
  readonly start: number;
  readonly end: number;
}

/** What a pass over one text hands on, whichever way it was made. */
export interface Passed {
  readonly survivors: readonly Survivor[];
  readonly listed: readonly ListedHit[];
  readonly cutShort: readonly PatternId[];
  /** Neighbours of a survivor: other values of its shape, and how many of them pass. */
  around(survivor: Survivor): { shaped: number; passing: number };
  /** Runs that may belong to text in base 64. */
  readonly longRuns: readonly number[];
  /** Starts of runs with digits, where they were asked for; good until the next pass. */
  readonly digitRuns: Int32Array | null;
}
