import { mostNeighbours } from './evidence.js';
import { baseSum, type Prepared } from './prepared.js';

/** Log-odds below which nothing is found: certain to 20. What is weaker is told on demand only. */
export const LEAST_SUM = Math.log(0.2 / 0.8);

/** What words and headings must add before a value can be certain enough, in log-odds; at most 0 where nothing must. */
export function neededSum(prepared: Prepared, grouped: boolean): number {
  return LEAST_SUM - mostNeighbours(prepared.accidentalShare) - mostOwn(prepared, grouped);
}

/** The most that a value can have of itself, whatever stands around it, in log-odds. */
export function mostOwn({ pattern: { weights }, mostForLook }: Prepared, grouped: boolean): number {
  return (
    baseSum(weights, grouped) +
    mostForLook +
    Math.max(weights.usualCheck, -weights.usualCheck / 2) +
    Math.max(0, weights.testValue)
  );
}
