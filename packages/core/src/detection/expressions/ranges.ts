/** Inclusive ranges of UTF-16 units, in order and apart from each other. */
export type Ranges = readonly (readonly [from: number, to: number])[];

export const LAST_UNIT = 0xffff;

/** Puts ranges in order and joins those that touch. */
export function tidy(ranges: Ranges): Ranges {
  const sorted = [...ranges].sort((left, right) => left[0] - right[0]);
  const joined: [number, number][] = [];
  for (const [from, to] of sorted) {
    const last = joined.at(-1);
    if (last && from <= last[1] + 1) last[1] = Math.max(last[1], to);
    else joined.push([from, to]);
  }
  return joined;
}

/** Every unit that is in none of the ranges. */
export function inverted(ranges: Ranges): Ranges {
  const gaps: [number, number][] = [];
  let next = 0;
  for (const [from, to] of tidy(ranges)) {
    if (from > next) gaps.push([next, from - 1]);
    next = to + 1;
  }
  if (next <= LAST_UNIT) gaps.push([next, LAST_UNIT]);
  return gaps;
}

/** Ranges of all units for which `holds` is true. */
export function rangesWhere(holds: (unit: number) => boolean): Ranges {
  const ranges: [number, number][] = [];
  for (let unit = 0; unit <= LAST_UNIT; unit += 1) {
    if (!holds(unit)) continue;
    const from = unit;
    while (unit < LAST_UNIT && holds(unit + 1)) unit += 1;
    ranges.push([from, unit]);
  }
  return ranges;
}

/** Number of units in the ranges. */
export function sizeOf(ranges: Ranges): number {
  return ranges.reduce((sum, [from, to]) => sum + to - from + 1, 0);
}

/** Calls `visit` for every unit in the ranges. */
export function eachUnit(ranges: Ranges, visit: (unit: number) => void): void {
  for (const [from, to] of ranges) for (let unit = from; unit <= to; unit += 1) visit(unit);
}
