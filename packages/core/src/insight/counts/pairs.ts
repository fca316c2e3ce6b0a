import { type Axis, NOTHING } from './axis.js';
import type { Selection } from './select.js';

/** Numbers of values stay below this, so that two of them make one exact number. */
export const PAIR = 2 ** 26;
/** Most different pairs that are counted in one array: 16 MB. */
export const DENSE = 2 ** 22;

/** Adds the rows of a selection to the counts of pairs of values. */
export function addPairs(selection: Selection, first: Axis, second: Axis, dense: Dense): void {
  const { counts, width } = dense;
  if (first.codes && second.one) countCodes(selection, first.codes, second, dense);
  else if (first.each && second === NOTHING) first.each(selection.rows, counts);
  else if (first.one && second.one) countOnes(selection, first.one, second.one, dense);
  else
    everyPair(selection, first, second, (one, other) => {
      const place = one * width + other;
      counts[place] = (counts[place] ?? 0) + 1;
    });
}

/** Calls `pair` with every pair of values of every row. */
export function everyPair(
  { rows, matches }: Selection,
  first: Axis,
  second: Axis,
  pair: (one: number, other: number, row: number) => void,
): void {
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    first.visit(row, match, (one) => second.visit(row, match, (other) => pair(one, other, row)));
  }
}

/** Counts of pairs in one array, those of one first value side by side. */
export interface Dense {
  readonly counts: Uint32Array;
  readonly width: number;
}

function countCodes(
  { rows, matches }: Selection,
  codes: ArrayLike<number>,
  { one, size }: Axis,
  { counts, width }: Dense,
): void {
  if (size === 1 || !one)
    for (let at = 0; at < rows.length; at += 1) {
      const code = codes[rows[at] ?? 0] ?? 0;
      counts[code] = (counts[code] ?? 0) + 1;
    }
  else
    for (let at = 0; at < rows.length; at += 1) {
      const row = rows[at] ?? 0;
      const place = (codes[row] ?? 0) * width + one(row, matches?.[at] ?? 0);
      counts[place] = (counts[place] ?? 0) + 1;
    }
}

function countOnes(
  { rows, matches }: Selection,
  first: NonNullable<Axis['one']>,
  second: NonNullable<Axis['one']>,
  { counts, width }: Dense,
): void {
  for (let at = 0; at < rows.length; at += 1) {
    const row = rows[at] ?? 0;
    const match = matches?.[at] ?? 0;
    const place = first(row, match) * width + second(row, match);
    counts[place] = (counts[place] ?? 0) + 1;
  }
}
