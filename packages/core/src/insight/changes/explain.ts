/** How often one value of a field stood in a bucket, and how often in the same stretch of earlier weeks, on average. */
export interface ValueCount<Field extends string> {
  readonly field: Field;
  readonly value: string | null;
  readonly count: number;
  readonly usual: number;
}

/** A value that makes up much of a difference. */
export interface Explanation<Field extends string> extends ValueCount<Field> {
  /** Part of the difference that it makes up; above 1 where others went the other way. */
  readonly share: number;
}

/** Part of a difference below which a value explains nothing. */
const LEAST_SHARE = 0.4;

/**
 * For each field the value that makes up most of the difference between a count and the usual one, if it makes up two fifths
 * or more; in the order in which the fields first stand in `values`.
 */
export function explain<Field extends string>(
  values: readonly ValueCount<Field>[],
  difference: number,
): Explanation<Field>[] {
  if (difference === 0) return [];
  const best = new Map<Field, Explanation<Field>>();
  for (const value of values) {
    const share = (value.count - value.usual) / difference;
    if (share >= LEAST_SHARE && share > (best.get(value.field)?.share ?? 0))
      best.set(value.field, { ...value, share });
  }
  const order = [...new Set(values.map(({ field }) => field))];
  return order.flatMap((field) => best.get(field) ?? []);
}
