import { CAPITAL_UNIT, SMALL_UNIT, UNIT_CLASSES } from '../../text/fold.js';

/** Names of programs are shorter; what is longer or has more parts is data. */
export const LONGEST_NAME = 64;
export const MOST_HUMPS = 8;

/**
 * Places where the parts of a name in camel case begin, its start left out: a capital behind another kind of sign, or
 * the last capital of a row before a small letter. Written to `starts`; returns how many there are, 0 where the run is
 * one part or has too many.
 */
export function humpsOf(units: Uint16Array, start: number, end: number, starts: Int32Array): number {
  if (end - start > LONGEST_NAME) return 0;
  let count = 0;
  for (let at = start + 1; at < end; at += 1) {
    if (UNIT_CLASSES[units[at]!] !== CAPITAL_UNIT) continue;
    const begins =
      UNIT_CLASSES[units[at - 1]!] !== CAPITAL_UNIT ||
      (at + 1 < end && UNIT_CLASSES[units[at + 1]!] === SMALL_UNIT);
    if (!begins) continue;
    if (count === MOST_HUMPS - 1) return 0;
    starts[count] = at;
    count += 1;
  }
  return count;
}
