/** Names of evidence; the sentences for them are the web's. */
export type EvidenceCode =
  | 'shape'
  | 'own-expression'
  | 'record'
  | 'structure'
  | 'check-digits'
  | 'usual-check'
  | 'grouping'
  | 'look'
  | 'naming-word'
  | 'general-name'
  | 'unknown-number'
  | 'supporting-word'
  | 'counter-word'
  | 'column-heading'
  | 'field-name'
  | 'neighbours'
  | 'test-value'
  | 'inside-longer-code'
  | 'inside-address'
  | 'broken-over-lines'
  | 'listed-word'
  | 'listed-others'
  | 'reappears'
  | 'category'
  | 'category-word'
  | 'category-others';

/** One reason for or against, in log-odds (natural logarithm). */
export interface Evidence {
  readonly code: EvidenceCode;
  readonly weight: number;
  /** The word or heading that counted, as it stands in the library or the text; absent where there is none. */
  readonly detail?: string;
  /** Characters between the word and the value. */
  readonly distance?: number;
}

/** Beyond this many characters a word says nothing about a value (measured: see docs/decisions/0002-certainty.md). */
export const WORD_WINDOW = 60;
/** A name before its value counts up to here where nothing else between them could be meant. */
export const CLEAR_WINDOW = 90;
/** A name at the edge of that window keeps this share of its weight. */
const CLEAR_EDGE_SHARE = 0.75;
/** A name so close behind a value, with words alone between them, is that value's. */
export const CLOSE_BEHIND = 16;
/** Up to this distance a word counts in full. */
const FULL_WEIGHT_DISTANCE = 20;
/** A word at the very edge of the window keeps this share of its weight. */
const EDGE_SHARE = 0.4;
/** A word behind a value often belongs to the next one. */
const BEHIND_SHARE = 0.8;

/** Sum of log-odds as a certainty from 0 to 100, whole numbers. */
export function certaintyOf(evidence: readonly Evidence[]): number {
  return certaintyOfSum(sumOf(evidence));
}

/** Sum of all weights, in log-odds. */
export function sumOf(evidence: readonly Evidence[]): number {
  return evidence.reduce((total, item) => total + item.weight, 0);
}

/** Log-odds as a certainty from 0 to 100, whole numbers. */
export function certaintyOfSum(sum: number): number {
  return Math.round(100 / (1 + Math.exp(-sum)));
}

/** Share of a word's weight that is left at a distance of `characters` (0 beyond {@link WORD_WINDOW}). */
export function shareAtDistance(characters: number, behind = false): number {
  if (characters > WORD_WINDOW) return 0;
  const most = behind ? BEHIND_SHARE : 1;
  if (characters <= FULL_WEIGHT_DISTANCE) return most;
  const along = (characters - FULL_WEIGHT_DISTANCE) / (WORD_WINDOW - FULL_WEIGHT_DISTANCE);
  return most * (1 - along * (1 - EDGE_SHARE));
}

/** The same for a name before its value with words alone between them. */
export function clearShareAtDistance(characters: number): number {
  if (characters > CLEAR_WINDOW) return 0;
  if (characters <= FULL_WEIGHT_DISTANCE) return 1;
  const along = (characters - FULL_WEIGHT_DISTANCE) / (CLEAR_WINDOW - FULL_WEIGHT_DISTANCE);
  return 1 - along * (1 - CLEAR_EDGE_SHARE);
}

/** Weight of the neighbours stays within these bounds: many rows are one observation more than they are many. */
export const NEIGHBOUR_BOUNDS = { least: -4, most: 1.7 };
/** Each neighbour counts for this share of a full observation. */
const NEIGHBOUR_SHARE = 0.25;
/** Share of real values that pass their own check; the rest are typing errors. */
const REAL_PASS_SHARE = 0.98;
/** Without check digits, neighbours of the same shape say nothing either way. */
const TELLING_SHARE = 0.5;

/** The most that neighbours can add where `accidentalShare` of accidental values pass, in log-odds. */
export function mostNeighbours(accidentalShare: number): number {
  return accidentalShare > TELLING_SHARE ? 0 : NEIGHBOUR_BOUNDS.most;
}

/**
 * Log-odds from values of the same shape around this one: real numbers nearly all pass their check, accidental ones
 * pass it at `accidentalShare`. `shaped` and `passing` leave the value itself out.
 */
export function neighbourWeight(shaped: number, passing: number, accidentalShare: number): number {
  if (shaped === 0 || accidentalShare > TELLING_SHARE) return 0;
  const pass = Math.log(REAL_PASS_SHARE / accidentalShare);
  const fail = Math.log((1 - REAL_PASS_SHARE) / (1 - accidentalShare));
  const full = passing * pass + (shaped - passing) * fail;
  return Math.max(NEIGHBOUR_BOUNDS.least, Math.min(NEIGHBOUR_BOUNDS.most, full * NEIGHBOUR_SHARE));
}
