import { medianOf } from '../../incidents/usual/rate.js';

/** Weeks below which nothing is called usual. */
export const LEAST_WEEKS = 4;
/**
 * Modified z-score from which a count is an outlier: 3.5, as B. Iglewicz and D. C. Hoaglin recommend (How to Detect and
 * Handle Outliers, ASQC Quality Press 1993; from memory).
 */
export const SPIKE_SCORE = 3.5;
/** Makes the median absolute deviation the standard deviation of normal values: 1 / Φ⁻¹(3/4). */
const TO_DEVIATION = 1.4826;
/** A difference that nobody would look into, however regular the weeks before were. */
const LEAST_DIFFERENCE = 5;

/** A count that the same stretch of earlier weeks does not explain. */
export interface Spike {
  readonly direction: 'more' | 'less';
  readonly count: number;
  /** Median of the weeks before. */
  readonly usual: number;
  /** Counts within which it would be ordinary. */
  readonly least: number;
  readonly most: number;
  /** How many deviations away, on the scale of square roots. */
  readonly score: number;
}

/**
 * Whether a count is a spike beside the counts of the same stretch in earlier weeks; null if it is ordinary or fewer than
 * {@link LEAST_WEEKS} weeks are known.
 *
 * Counts are put on a scale where their scatter is the same for many and for few: 2√(x + 3/8) (F. J. Anscombe, Biometrika
 * 35, 1948). There the median and the median absolute deviation say what is usual (F. R. Hampel, Journal of the American
 * Statistical Association 69, 1974): up to half of the weeks may be spikes themselves. The deviation is at least 1, which is
 * what chance alone gives to counts.
 */
export function spikeOf(count: number, earlier: readonly number[]): Spike | null {
  if (earlier.length < LEAST_WEEKS) return null;
  const scaled = earlier.map(onScale);
  const middle = medianOf(scaled) ?? 0;
  const spread = TO_DEVIATION * (medianOf(scaled.map((value) => Math.abs(value - middle))) ?? 0);
  const deviation = Math.max(1, spread);
  const score = (onScale(count) - middle) / deviation;
  const usual = medianOf(earlier) ?? 0;
  if (Math.abs(score) <= SPIKE_SCORE || Math.abs(count - usual) < LEAST_DIFFERENCE) return null;
  return {
    direction: score > 0 ? 'more' : 'less',
    count,
    usual,
    least: Math.max(0, Math.ceil(offScale(middle - SPIKE_SCORE * deviation))),
    most: Math.floor(offScale(middle + SPIKE_SCORE * deviation)),
    score,
  };
}

const onScale = (count: number): number => 2 * Math.sqrt(count + 3 / 8);
const offScale = (value: number): number => (Math.max(0, value) / 2) ** 2 - 3 / 8;
