import { medianOf } from '../../incidents/usual/rate.js';

/** A steady rise or fall over several weeks. */
export interface Trend {
  /** Median change from one week to the next, in counts a bucket. */
  readonly slope: number;
  /** Chance of a trend this clear in weeks that only scatter, both directions. */
  readonly chance: number;
  /** Kendall's S, summed over the seasons. */
  readonly s: number;
  readonly variance: number;
}

/** Weeks below which no trend is looked for. */
export const LEAST_TREND_WEEKS = 4;
/** Chance below which a trend is stated. */
export const TREND_CHANCE = 0.01;

/**
 * The trend of counts whose week repeats: `seasons` holds for each weekday (or hour of the week) its counts week by week.
 * Null for fewer than {@link LEAST_TREND_WEEKS} weeks.
 *
 * Seasonal Kendall test with the slope of Sen over pairs of the same season (R. M. Hirsch, J. R. Slack, R. A. Smith, Water
 * Resources Research 18, 1982), ties included in the variance. Few counts and outliers do it no harm: only the order counts.
 */
export function trendOf(seasons: readonly (readonly number[])[]): Trend | null {
  const known = seasons.filter((season) => season.length >= LEAST_TREND_WEEKS);
  if (known.length === 0) return null;
  let [s, variance] = [0, 0];
  const slopes: number[] = [];
  for (const season of known) {
    variance += kendallVariance(season);
    for (const [later, value] of season.entries())
      for (const [earlier, before] of season.slice(0, later).entries()) {
        s += Math.sign(value - before);
        slopes.push((value - before) / (later - earlier));
      }
  }
  return { slope: medianOf(slopes) ?? 0, chance: chanceOf(s, variance), s, variance };
}

/** Variance of Kendall's S where there is no trend: n(n−1)(2n+5)/18, less the same for each group of ties. */
function kendallVariance(values: readonly number[]): number {
  const part = (n: number) => n * (n - 1) * (2 * n + 5);
  const ties = new Map<number, number>();
  for (const value of values) ties.set(value, (ties.get(value) ?? 0) + 1);
  return (part(values.length) - [...ties.values()].reduce((sum, size) => sum + part(size), 0)) / 18;
}

/** Both tails of the normal distribution, with the correction for whole steps of 2. */
function chanceOf(s: number, variance: number): number {
  if (variance === 0 || s === 0) return 1;
  const z = (Math.abs(s) - 1) / Math.sqrt(variance);
  return 2 * upperTail(z);
}

/**
 * P(Z > z) of the standard normal distribution, for z ≥ 0; error below 7.5e-8 (M. Abramowitz, I. A. Stegun, Handbook of
 * Mathematical Functions, 26.2.17; coefficients from memory, held to the handbook's table in tests).
 */
export function upperTail(z: number): number {
  const t = 1 / (1 + 0.2316419 * z);
  const sum =
    t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * sum;
}
