/** One case: features, what is added to their sum in any event, and whether it was real. */
export interface LabelledCase {
  readonly features: readonly number[];
  readonly offset: number;
  readonly real: boolean;
}

/** Where coefficients are before any case, and how firmly: the precision is 1 / variance. */
export interface Prior {
  readonly means: readonly number[];
  readonly precision: number;
}

const MOST_STEPS = 60;
/** Changes of coefficients below which nothing moves any more. */
const CLOSE = 1e-9;

/** Chance that a case is real, 0 to 1. */
export function chanceOf(
  { features, offset }: Omit<LabelledCase, 'real'>,
  weights: readonly number[],
): number {
  return logistic(features.reduce((sum, feature, at) => sum + feature * (weights[at] ?? 0), offset));
}

const logistic = (sum: number): number => 1 / (1 + Math.exp(-sum));

/**
 * Coefficients of a logistic regression with a normal prior around the present ones: the mode of the posterior, found by
 * Newton's method with halved steps (C. M. Bishop, Pattern Recognition and Machine Learning, 2006, sections 4.3.3 and 4.5.1).
 * With few cases they stay near the prior; with many they go where the cases are. Features that no case has stay as they are.
 */
export function fitLogistic(cases: readonly LabelledCase[], prior: Prior): number[] {
  let weights = [...prior.means];
  let loss = lossOf(cases, weights, prior);
  for (let step = 0; step < MOST_STEPS; step += 1) {
    const { gradient, hessian } = slopes(cases, weights, prior);
    const direction = solve(hessian, gradient);
    let size = 1;
    let next = moved(weights, direction, size);
    let nextLoss = lossOf(cases, next, prior);
    while (nextLoss > loss && size > 1e-6) {
      size /= 2;
      next = moved(weights, direction, size);
      nextLoss = lossOf(cases, next, prior);
    }
    const change = Math.max(0, ...next.map((weight, at) => Math.abs(weight - (weights[at] ?? 0))));
    weights = next;
    loss = nextLoss;
    if (change < CLOSE) break;
  }
  return weights;
}

const moved = (weights: readonly number[], direction: readonly number[], size: number): number[] =>
  weights.map((weight, at) => weight - size * (direction[at] ?? 0));

/** Negative logarithm of the posterior, up to a constant. */
function lossOf(
  cases: readonly LabelledCase[],
  weights: readonly number[],
  { means, precision }: Prior,
): number {
  const apart = weights.reduce((sum, weight, at) => sum + (weight - (means[at] ?? 0)) ** 2, 0);
  return cases.reduce(
    (sum, one) => {
      const total = one.features.reduce((all, feature, at) => all + feature * (weights[at] ?? 0), one.offset);
      // log(1 + e^x) without overflow.
      const soft = Math.max(total, 0) + Math.log1p(Math.exp(-Math.abs(total)));
      return sum + soft - (one.real ? total : 0);
    },
    (precision / 2) * apart,
  );
}

function slopes(cases: readonly LabelledCase[], weights: readonly number[], { means, precision }: Prior) {
  const size = weights.length;
  const gradient = weights.map((weight, at) => precision * (weight - (means[at] ?? 0)));
  const hessian = weights.map((_, row) => weights.map((__, column) => (row === column ? precision : 0)));
  for (const one of cases) {
    const chance = chanceOf(one, weights);
    const spread = chance * (1 - chance);
    for (let row = 0; row < size; row += 1) {
      const feature = one.features[row] ?? 0;
      if (feature === 0) continue;
      gradient[row] = (gradient[row] ?? 0) + feature * (chance - (one.real ? 1 : 0));
      const line = hessian[row] ?? [];
      for (let column = 0; column < size; column += 1)
        line[column] = (line[column] ?? 0) + spread * feature * (one.features[column] ?? 0);
    }
  }
  return { gradient, hessian };
}

/** Solves a system with a positive definite matrix by Gaussian elimination with pivots. */
export function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] {
  const size = right.length;
  const rows = matrix.map((row, at) => [...row, right[at] ?? 0]);
  for (let pivot = 0; pivot < size; pivot += 1) {
    let best = pivot;
    for (let row = pivot + 1; row < size; row += 1)
      if (Math.abs(rows[row]?.[pivot] ?? 0) > Math.abs(rows[best]?.[pivot] ?? 0)) best = row;
    [rows[pivot], rows[best]] = [rows[best] ?? [], rows[pivot] ?? []];
    const lead = rows[pivot] ?? [];
    for (let row = pivot + 1; row < size; row += 1) {
      const line = rows[row] ?? [];
      const factor = (line[pivot] ?? 0) / (lead[pivot] ?? 1);
      for (let column = pivot; column <= size; column += 1)
        line[column] = (line[column] ?? 0) - factor * (lead[column] ?? 0);
    }
  }
  const found = new Array<number>(size).fill(0);
  for (let row = size - 1; row >= 0; row -= 1) {
    const line = rows[row] ?? [];
    let sum = line[size] ?? 0;
    for (let column = row + 1; column < size; column += 1) sum -= (line[column] ?? 0) * (found[column] ?? 0);
    found[row] = sum / (line[row] ?? 1);
  }
  return found;
}
