/** A share and where the true one lies with 95 % confidence, all 0 to 1. */
export interface Share {
  readonly of: number;
  readonly share: number;
  readonly least: number;
  readonly most: number;
}

/** Quantile of the normal distribution for 95 % on both sides. */
const Z = 1.959964;

/**
 * Wilson's score interval for `hits` of `of` (E. B. Wilson, Journal of the American Statistical Association 22, 1927);
 * 0 to 1 where there is nothing to count.
 */
export function wilson(hits: number, of: number): Share {
  if (of === 0) return { of, share: 0, least: 0, most: 1 };
  const share = hits / of;
  const spread = Z * Math.sqrt((share * (1 - share) + (Z * Z) / (4 * of)) / of);
  const middle = share + (Z * Z) / (2 * of);
  const whole = 1 + (Z * Z) / of;
  return {
    of,
    share,
    least: Math.max(0, (middle - spread) / whole),
    most: Math.min(1, (middle + spread) / whole),
  };
}
