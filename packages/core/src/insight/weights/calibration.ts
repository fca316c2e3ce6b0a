/** What was said of a case, 0 to 1, and whether it was real. */
export interface Said {
  readonly chance: number;
  readonly real: boolean;
}

/** Cases of which about the same was said. */
export interface ReliabilityRow {
  readonly from: number;
  readonly to: number;
  readonly cases: number;
  /** Mean of what was said. */
  readonly said: number;
  /** Share that was real. */
  readonly real: number;
}

/** Mean squared distance between what was said and what was so: 0 is best (G. W. Brier, Monthly Weather Review 78, 1950). */
export function brierScore(said: readonly Said[]): number | null {
  if (said.length === 0) return null;
  return said.reduce((sum, { chance, real }) => sum + (chance - (real ? 1 : 0)) ** 2, 0) / said.length;
}

/** Whether what is said comes true as often as it is said, in `rows` stretches of the same length; empty ones are left out. */
export function reliability(said: readonly Said[], rows = 5): ReliabilityRow[] {
  return Array.from({ length: rows }, (_, index): ReliabilityRow | null => {
    const [from, to] = [index / rows, (index + 1) / rows];
    const own = said.filter(
      ({ chance }) => chance >= from && (chance < to || (index === rows - 1 && chance <= to)),
    );
    if (own.length === 0) return null;
    const mean = (value: (one: Said) => number) => own.reduce((sum, one) => sum + value(one), 0) / own.length;
    return {
      from,
      to,
      cases: own.length,
      said: mean(({ chance }) => chance),
      real: mean(({ real }) => (real ? 1 : 0)),
    };
  }).flatMap((row) => row ?? []);
}
