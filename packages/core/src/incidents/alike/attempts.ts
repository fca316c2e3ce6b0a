/** Part of the smaller set of values that two attempts must share to be one case. Judgement, no source. */
export const SHARED_VALUES = 0.5;
/** Likeness of texts (estimated Jaccard index) above which they are one case. Judgement, no source. */
export const SHARED_TEXT = 0.7;
/** Groups of words that a text needs to be compared: shorter ones are forms, and everybody fills the same. Judgement, no source. */
export const LEAST_CASE_TEXT = 50;
/** Days after which the same content is a new case. */
export const CASE_DAYS = 30;
/** Values of one attempt that are compared; more say nothing new. */
export const MOST_CASE_VALUES = 200;

/** What is known of an earlier attempt of the same person. */
export interface EarlierAttempt {
  readonly number: number;
  /** The case it is in; null for none. */
  readonly case: number | null;
  /** How many values it held. */
  readonly values: number;
  /** How many of them the new one holds too. */
  readonly shared: number;
  /** Estimated likeness of the texts, 0 to 1; null where one has none, or too short a one. */
  readonly textLikeness: number | null;
}

/** Why an attempt joins a case. */
export interface JoinedCase {
  readonly case: number;
  /** The attempt it is most like. */
  readonly like: number;
  readonly sharedValues: number;
  readonly textLikeness: number | null;
}

/**
 * The case that a new attempt with `values` distinct values joins: that of the earlier attempt which shares the largest
 * part, the latest among equals. Null where none shares enough.
 */
export function caseOf(values: number, earlier: readonly EarlierAttempt[]): JoinedCase | null {
  let best: { readonly attempt: EarlierAttempt; readonly part: number } | null = null;
  for (const attempt of earlier) {
    const smaller = Math.min(values, attempt.values);
    const byValues = smaller > 0 ? attempt.shared / smaller : 0;
    // The same form with other values is another case; the same text without its values may be the next attempt.
    const sameForm = values > 0 && attempt.values > 0 && attempt.shared === 0;
    const byText = sameForm ? 0 : (attempt.textLikeness ?? 0);
    if (byValues < SHARED_VALUES && byText < SHARED_TEXT) continue;
    const part = Math.max(byValues, byText);
    if (!best || part > best.part || (part === best.part && attempt.number > best.attempt.number))
      best = { attempt, part };
  }
  if (!best) return null;
  const { number, case: known, shared, textLikeness } = best.attempt;
  return { case: known ?? number, like: number, sharedValues: shared, textLikeness };
}
