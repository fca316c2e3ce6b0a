import type { CheckStep, RemainderStep, WeightedStep } from './step.js';
import { type Values, valuesOf } from './values.js';

/** Whether a value of `length` characters passes. */
export type Check = (values: Values, length: number) => boolean;

const crossSumOf = (product: number): number => Math.floor(product / 10) + (product % 10);

/** What each of the values 0 to 35 counts: letters may have values of their own. */
function worthTable(step: {
  letterValues?: Readonly<Record<string, number>>;
  alphabet?: string;
}): Int16Array | null {
  if (!step.letterValues && step.alphabet === undefined) return null;
  const table = new Int16Array(256).fill(-1);
  if (step.alphabet !== undefined) {
    for (const [index, unit] of [...step.alphabet].entries()) {
      const [value] = valuesOf(unit);
      if (value !== undefined && value < 36) table[value] = index;
    }
    return table;
  }
  for (let digit = 0; digit < 10; digit += 1) table[digit] = digit;
  for (const [letter, worth] of Object.entries(step.letterValues ?? {})) table[valuesOf(letter)[0]!] = worth;
  return table;
}

/** Replaces letters by two digits each: their place in `letters` plus `expandFrom`. Reused between calls. */
function expander(
  letters: string,
  from: number,
): (values: Values, length: number) => { values: Values; length: number } {
  const table = new Int16Array(256).fill(-1);
  for (const [index, letter] of [...letters].entries()) table[valuesOf(letter)[0]!] = index + from;
  const out = new Uint8Array(64);
  return (values, length) => {
    let to = 0;
    for (let index = 0; index < length && to < 62; index += 1) {
      const value = values[index]!;
      if (value < 10) out[to++] = value;
      else {
        const worth = table[value]!;
        out[to++] = worth < 0 ? 255 : Math.floor(worth / 10);
        out[to++] = worth < 0 ? 255 : worth % 10;
      }
    }
    return { values: out, length: to };
  };
}

/** Value that the check character must have, by result; 255 where none is given out. */
function resultTable(step: WeightedStep): Uint8Array {
  const table = new Uint8Array(256).fill(255);
  const { results, alphabet } = step;
  for (let result = 0; result < step.modulus; result += 1) {
    if (results !== undefined) table[result] = valuesOf(results[result] ?? '?')[0]!;
    else if (alphabet !== undefined) table[result] = valuesOf(alphabet[result] ?? '?')[0]!;
    else if (result < 10) table[result] = result;
    else if (result === 10 && step.ten !== undefined) table[result] = valuesOf(step.ten)[0]!;
  }
  return table;
}

/** Room for one value in a table of products: values go to 36, and what is none ends at the last place. */
const PLACES = 64;
/** Stands for a character that counts nothing here: no sum gets above it again. */
const NONE = -1_000_000;

/** What each character adds at each place, so that a sum asks one table instead of working it out. */
function products(weights: readonly number[], worth: Int16Array | null, crossSum: boolean): Int32Array {
  const table = new Int32Array(weights.length * PLACES).fill(NONE);
  for (const [index, weight] of weights.entries()) {
    for (let value = 0; value < PLACES - 1; value += 1) {
      const counted = worth ? worth[value]! : value;
      if (counted < 0 || (!worth && value > 35)) continue;
      table[index * PLACES + value] = crossSum ? crossSumOf(counted * weight) : counted * weight;
    }
  }
  return table;
}

/** The weighted sum of the characters before the check character; null where one has no value. */
export function weightedCheck(step: WeightedStep): Check {
  const worth = worthTable(step);
  const expected = resultTable(step);
  const expand = step.expand === undefined ? null : expander(step.expand, step.expandFrom ?? 1);
  const { modulus, complement = false, crossSum = false, plus = 0, times = 1 } = step;

  const table = products(step.weights, worth, crossSum);
  const again = step.again ? products(step.again, worth, crossSum) : null;
  const places = step.weights.length;

  const resultOf = (values: Values, sums: Int32Array, from: number, count: number): number => {
    let sum = plus;
    let row = (step.from === undefined ? places - count : 0) * PLACES;
    for (let index = from; index < from + count; index += 1) {
      sum += sums[row + (values[index]! & (PLACES - 1))]!;
      row += PLACES;
    }
    if (sum < NONE / 2) return -1;
    const remainder = (((sum * times) % modulus) + modulus) % modulus;
    return complement ? (modulus - remainder) % modulus : remainder;
  };

  return (given, givenLength) => {
    let values = given;
    let length = givenLength;
    if (expand) ({ values, length } = expand(given, givenLength));
    const at = step.at === undefined ? length - 1 : step.at < 0 ? length + step.at : step.at;
    const count = step.from === undefined ? Math.min(places, at) : places;
    const from = step.from === undefined ? at - count : step.from < 0 ? length + step.from : step.from;
    let result = resultOf(values, table, from, count);
    if (result === 10 && again) result = resultOf(values, again, from, count);
    return result >= 0 && expected[result] !== 255 && expected[result] === values[at];
  };
}

/** The weighted sum with the check digit in it. */
export function totalCheck(step: Extract<CheckStep, { check: 'total' }>): Check {
  const worth = worthTable(step);
  const expand = step.expand === undefined ? null : expander(step.expand, 10);
  const { weights, modulus, equals, crossSum = false, from = 0 } = step;
  const table = products(weights, worth, crossSum);
  return (given, givenLength) => {
    let values = given;
    let length = givenLength;
    if (expand) ({ values, length } = expand(given, givenLength));
    if (length - from < weights.length) return false;
    let sum = 0;
    for (let index = 0; index < weights.length; index += 1)
      sum += table[index * PLACES + (values[from + index]! & (PLACES - 1))]!;
    if (sum < NONE / 2) return false;
    return equals.includes(((sum % modulus) + modulus) % modulus);
  };
}

function remainderOf(digits: string, modulus: number, start: number): number {
  let remainder = start;
  for (const digit of digits) remainder = (remainder * 10 + Number(digit)) % modulus;
  return remainder;
}

/** A long number modulo something names the check number or letter. */
export function remainderCheck(step: RemainderStep): Check {
  const { parts, modulus, complement = false, width = 1, results, leading } = step;
  const before = remainderOf(step.prefix ?? '', modulus, 0);
  const lead = leading === undefined ? -1 : 1;
  return (values, length) => {
    let remainder = before;
    let first = true;
    for (const [from, to] of parts) {
      const end = to <= 0 ? length + to : to;
      for (let index = from < 0 ? length + from : from; index < end; index += 1) {
        let value = values[index]!;
        if (first && lead > 0 && value > 9) value = leadingWorth(leading ?? '', value);
        first = false;
        if (value > 9) return false;
        remainder = (remainder * 10 + value) % modulus;
      }
    }
    if (step.suffix !== undefined) remainder = remainderOf(step.suffix, modulus, remainder);
    let expected = complement ? modulus - remainder : remainder;
    if (step.then !== undefined) expected %= step.then;
    if (step.zeroAs !== undefined && remainder === 0) expected = step.zeroAs;
    const at = (step.at ?? -1) < 0 ? length + (step.at ?? -1) : (step.at ?? 0);
    if (results !== undefined) return values[at] === valuesOf(results[expected] ?? '?')[0];
    let written = 0;
    for (let index = at; index < at + width; index += 1) {
      if (index >= length || values[index]! > 9) return false;
      written = written * 10 + values[index]!;
    }
    return written === expected;
  };
}

function leadingWorth(letters: string, value: number): number {
  for (let index = 0; index < letters.length; index += 1)
    if (valuesOf(letters[index]!)[0] === value) return index;
  return 255;
}
