import type { DeskColumns } from './desk-columns.js';

/** Where the matches of each incident begin among rows that stand side by side, in the order of their times, those at one time by number. */
export function beginsInOrder(columns: DeskColumns, rows: Uint32Array): Uint32Array {
  const begins = columns.room('begins', rows.length);
  let length = 0;
  for (let at = 0; at < rows.length; at += 1)
    if (at === 0 || rows[at] !== rows[at - 1]) begins[length++] = at;
  const time = columns.incidents.column('time').data;
  const number = columns.incidents.column('number').data;
  const isBefore = (one: number, other: number): boolean => {
    const [row, next] = [rows[one] ?? 0, rows[other] ?? 0];
    const [when, then] = [time[row] ?? 0, time[next] ?? 0];
    return when === then ? (number[row] ?? 0) <= (number[next] ?? 0) : when < then;
  };
  return sorted(begins.subarray(0, length), columns.room('begins-merged', length), isBefore);
}

/**
 * Sorts by merging the runs that are in order already (natural merge sort, Knuth, The Art of Computer Programming 3, 5.2.4):
 * rows stand almost in the order of their times, so that there are few.
 */
function sorted(
  values: Uint32Array,
  room: Uint32Array,
  isBefore: (one: number, other: number) => boolean,
): Uint32Array {
  let [from, to] = [values, room.subarray(0, values.length)];
  let ends = runsOf(from, isBefore);
  while (ends.length > 1) {
    const merged: number[] = [];
    for (let run = 0; run < ends.length; run += 2) {
      const begin = run === 0 ? 0 : (ends[run - 1] ?? 0);
      const middle = ends[run] ?? 0;
      const end = ends[run + 1] ?? middle;
      merge(from, to, { begin, middle, end }, isBefore);
      merged.push(end);
    }
    [from, to, ends] = [to, from, merged];
  }
  return from;
}

/** Where each run of values in order ends. */
function runsOf(values: Uint32Array, isBefore: (one: number, other: number) => boolean): number[] {
  const ends: number[] = [];
  for (let at = 1; at < values.length; at += 1)
    if (!isBefore(values[at - 1] ?? 0, values[at] ?? 0)) ends.push(at);
  if (values.length > 0) ends.push(values.length);
  return ends;
}

function merge(
  from: Uint32Array,
  to: Uint32Array,
  { begin, middle, end }: { readonly begin: number; readonly middle: number; readonly end: number },
  isBefore: (one: number, other: number) => boolean,
): void {
  let [left, right] = [begin, middle];
  for (let at = begin; at < end; at += 1) {
    const takesLeft = right >= end || (left < middle && isBefore(from[left] ?? 0, from[right] ?? 0));
    to[at] = from[takesLeft ? left++ : right++] ?? 0;
  }
}
