import { NEIGHBOUR_BOUNDS } from './evidence.js';
import type { NearWords } from './context.js';
import { baseSum, type Prepared } from './prepared.js';

/** Log-odds below which nothing is found: certain to 20. What is weaker is told on demand only. */
export const LEAST_SUM = Math.log(0.2 / 0.8);

/** What words and headings must add before a value can be certain enough, in log-odds; at most 0 where nothing must. */
export function neededSum(prepared: Prepared, grouped: boolean): number {
  const { weights } = prepared.pattern;
  return LEAST_SUM - NEIGHBOUR_BOUNDS.most - weights.usualCheck - baseSum(weights, grouped);
}

/** The most that words and headings can add; what counts against a value is left out, so that none is let go too early. */
export function mostSum({ pattern }: Prepared, near: NearWords | null, headed: boolean): number {
  const { weights } = pattern;
  let sum = 0.5;
  if (headed) sum += Math.max(0, weights.heading, weights.supportingWord + 1.2);
  if (near?.naming) sum += Math.max(0, weights.namingWord * near.naming.share);
  if (near?.supporting) sum += Math.max(0, weights.supportingWord * near.supporting.share);
  return sum;
}
