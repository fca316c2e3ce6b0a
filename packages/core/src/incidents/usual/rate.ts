/** History below which no usual rate is stated: four weeks see each weekday four times. Judgement, no source. */
export const LEAST_HISTORY_DAYS = 28;
/** Chance below which a count is called unusual. */
export const UNUSUAL_CHANCE = 0.01;

/** What is usual, against what happened. */
export interface Unusual {
  /** Usual count for a stretch as long as the looked-at one. */
  readonly usual: number;
  /** Chance of seeing as many or more in such a stretch, if nothing changed. */
  readonly chance: number;
}

/**
 * How unusual `count` events within `days` days are, where `before` events happened in the `beforeDays` days before.
 *
 * Events are taken as a Poisson process whose rate is not known but estimated: with Jeffreys' prior, Gamma(½, 0), the rate
 * after `before` events is Gamma(before + ½, beforeDays), and the count to come is negative binomial (Gelman et al.,
 * Bayesian Data Analysis, 3rd edition, section 2.6; from memory). This keeps small histories honest: after none in 84 days,
 * one in 7 days has a chance of 4 %, not 0. Null where the history is shorter than {@link LEAST_HISTORY_DAYS}. People
 * who do something in bursts look more unusual than they are: the method knows no bursts.
 */
export function unusual(
  { count, days }: { readonly count: number; readonly days: number },
  { before, beforeDays }: { readonly before: number; readonly beforeDays: number },
): Unusual | null {
  if (beforeDays < LEAST_HISTORY_DAYS || days <= 0) return null;
  const shape = before + 0.5;
  const stays = beforeDays / (beforeDays + days);
  // P(X = 0), then each next from the one before; as logarithms, since the first is too small for large counts.
  let logarithm = shape * Math.log(stays);
  let below = 0;
  for (let k = 0; k < count; k += 1) {
    below += Math.exp(logarithm);
    logarithm += Math.log(((k + shape) / (k + 1)) * (1 - stays));
  }
  return { usual: (before / beforeDays) * days, chance: Math.min(1, Math.max(0, 1 - below)) };
}

/** The middle of some numbers; null for none. */
export function medianOf(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((one, other) => one - other);
  const middle = Math.floor(sorted.length / 2);
  return sorted.length % 2 === 1
    ? (sorted[middle] ?? null)
    : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
}
