/** The few that make up half of everything. */
export interface Few {
  /** How many of the largest make up half or more. */
  readonly half: number;
  /** How many there are. */
  readonly of: number;
}

/** How many of the largest counts make up half of their sum. */
export function fewOf(counts: ArrayLike<number>): Few {
  const sorted = Array.from(counts)
    .filter((count) => count > 0)
    .sort((one, other) => other - one);
  const sum = sorted.reduce((total, count) => total + count, 0);
  let reached = 0;
  let half = 0;
  while (half < sorted.length && reached * 2 < sum) {
    reached += sorted[half] ?? 0;
    half += 1;
  }
  return { half, of: sorted.length };
}
