import type { CheckStep, DateOrder } from './step.js';
import { type Values, valuesOf } from './values.js';
import type { Check } from './weighted.js';

const DAYS = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
/** Years that a date in a number may have: nobody alive was born before, and documents do not run longer. */
const YEARS = { least: 1880, most: 2099 };

/** Places of year, month and day within a date as it is written. */
const FIELDS: Readonly<
  Record<
    DateOrder,
    { readonly year: readonly [number, number]; readonly month?: number; readonly day?: number }
  >
> = {
  yymmdd: { year: [0, 2], month: 2, day: 4 },
  ddmmyy: { year: [4, 6], month: 2, day: 0 },
  mmddyy: { year: [4, 6], month: 0, day: 2 },
  yyyymmdd: { year: [0, 4], month: 4, day: 6 },
  ddmmyyyy: { year: [4, 8], month: 2, day: 0 },
  ddmmyyy: { year: [4, 7], month: 2, day: 0 },
  yymm: { year: [0, 2], month: 2 },
  yyddd: { year: [0, 2] },
};

function numberAt(values: Values, from: number, to: number): number {
  let number = 0;
  for (let index = from; index < to; index += 1) {
    const value = values[index]!;
    if (value > 9) return -1;
    number = number * 10 + value;
  }
  return number;
}

/** A date of the calendar at a place of the value. */
export function dateCheck(step: Extract<CheckStep, { check: 'date' }>): Check {
  const fields = FIELDS[step.order];
  const days = step.dayOffsets ?? [0];
  const months = step.monthOffsets ?? [0];
  return (values, length) => {
    const at = step.at < 0 ? length + step.at : step.at;
    const year = numberAt(values, at + fields.year[0], at + fields.year[1]);
    if (year < 0 || at + fields.year[1] > length) return false;
    if (step.order === 'yyddd') {
      const day = numberAt(values, at + 2, at + 5);
      return day >= 1 && day <= 366;
    }
    const fullYear = fields.year[1] - fields.year[0] === 4;
    if (fullYear && (year < YEARS.least || year > YEARS.most)) return false;
    const month = numberAt(values, at + fields.month!, at + fields.month! + 2);
    const day = fields.day === undefined ? 1 : numberAt(values, at + fields.day, at + fields.day + 2);
    for (const monthOffset of months) {
      const plainMonth = month - monthOffset;
      if (plainMonth < 1 || plainMonth > 12) continue;
      for (const dayOffset of days) {
        const plainDay = day - dayOffset;
        if (plainDay < 1 || plainDay > DAYS[plainMonth - 1]!) continue;
        // A year of two digits may be a leap year of either century; one of four is known.
        const leap = fullYear ? isLeap(year) : year % 4 === 0;
        if (plainMonth !== 2 || plainDay < 29 || leap || fields.year[1] - fields.year[0] === 3) return true;
      }
    }
    return false;
  };
}

function isLeap(year: number): boolean {
  return (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
}

/** Start and end of a range in a value of `length` characters. */
export function bounds(range: readonly [number, number], length: number): [number, number] {
  const [from, to] = range;
  return [from < 0 ? Math.max(0, length + from) : from, Math.min(length, to <= 0 ? length + to : to)];
}

export function withinCheck(step: Extract<CheckStep, { check: 'within' }>): Check {
  return (values, length) => {
    const [from, to] = bounds(step.of, length);
    const number = numberAt(values, from, to);
    return number >= step.least && number <= step.most;
  };
}

/** Characters at a range are among listed ones. */
export function listedCheck(
  range: readonly [number, number],
  listed: readonly string[],
  wanted: boolean,
): Check {
  const known = new Set(listed.map((value) => keyOf(valuesOf(value), 0, value.length)));
  return (values, length) => {
    const [from, to] = bounds(range, length);
    return known.has(keyOf(values, from, to)) === wanted;
  };
}

/** Up to nine characters in base 37 fit a number exactly; longer ones become a string. */
function keyOf(values: Values, from: number, to: number): number | string {
  if (to - from > 9) return Array.from(values.subarray(from, to)).join(' ');
  let key = to - from;
  for (let index = from; index < to; index += 1) key = key * 37 + Math.min(values[index]!, 36);
  return key;
}

export function madeOfCheck(step: Extract<CheckStep, { check: 'made-of' }>): Check {
  const allowed = new Uint8Array(256);
  for (const value of valuesOf(step.characters)) allowed[value] = 1;
  return (values, length) => {
    const [from, to] = bounds(step.of, length);
    for (let index = from; index < to; index += 1) if (allowed[values[index]!] === 0) return false;
    return to > from;
  };
}

/** Not the same character all over. */
export function notRepeated(values: Values, length: number): boolean {
  for (let index = 1; index < length; index += 1) if (values[index] !== values[0]) return true;
  return false;
}

/** Among the first ten digits exactly one stands two or three times, the others once (Identifikationsnummer). */
export function oneDigitRepeats(values: Values): boolean {
  const counts = new Uint8Array(10);
  for (let index = 0; index < 10; index += 1) {
    if (values[index]! > 9) return false;
    counts[values[index]!]! += 1;
  }
  let repeated = 0;
  for (const count of counts) {
    if (count > 3) return false;
    if (count > 1) repeated += 1;
  }
  return repeated === 1;
}

export function lettersAndDigits(values: Values, length: number): boolean {
  let digits = 0;
  let letters = 0;
  for (let index = 0; index < length; index += 1) {
    if (values[index]! < 10) digits += 1;
    else if (values[index]! < 36) letters += 1;
  }
  return digits > 0 && letters > 0;
}
