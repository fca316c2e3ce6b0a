/** Check methods shared by patterns, over values as `values.ts` describes them; `from` and `to` bound what is read. */
import { FILLER, type Values } from './values.js';

/** ISO/IEC 7812-1:2017 Annex B, counted from the right. `plus` is the sum of digits that stand before the value. */
export function luhn(values: Values, from: number, to: number, plus = 0): boolean {
  let sum = plus;
  let doubled = false;
  for (let index = to - 1; index >= from; index -= 1) {
    const value = values[index]!;
    if (value < 10) {
      sum += stepOf(value, doubled);
      doubled = !doubled;
      continue;
    }
    if (value > 35) return false;
    // A letter counts as two digits (ISO 6166: A = 10 … Z = 35).
    sum += stepOf(value % 10, doubled) + stepOf(Math.floor(value / 10), !doubled);
  }
  return to - from > 1 && sum % 10 === 0;
}

function stepOf(digit: number, doubled: boolean): number {
  if (!doubled) return digit;
  return digit > 4 ? digit * 2 - 9 : digit * 2;
}

/** The same idea in base 36: every second character doubled, quotient and remainder added. */
export function luhn36(values: Values, from: number, to: number): boolean {
  let sum = 0;
  let doubled = false;
  for (let index = to - 1; index >= from; index -= 1) {
    const product = values[index]! * (doubled ? 2 : 1);
    sum += Math.floor(product / 36) + (product % 36);
    doubled = !doubled;
  }
  return sum % 36 === 0;
}

const VERHOEFF_D = [
  '0123456789',
  '1234067895',
  '2340178956',
  '3401289567',
  '4012395678',
  '5987604321',
  '6598710432',
  '7659821043',
  '8765932104',
  '9876543210',
].map((row) => Array.from(row, Number));
const VERHOEFF_P = [
  '0123456789',
  '1576283094',
  '5803796142',
  '8916043527',
  '9453126870',
  '4286573901',
  '2793806415',
  '7046913258',
].map((row) => Array.from(row, Number));

/** Verhoeff's dihedral check, the check digit last. */
export function verhoeff(digits: readonly number[]): boolean {
  let state = 0;
  for (let place = 0; place < digits.length; place += 1) {
    const digit = digits[digits.length - 1 - place]!;
    if (digit > 9) return false;
    state = VERHOEFF_D[state]![VERHOEFF_P[place % 8]![digit]!]!;
  }
  return state === 0;
}

const DAMM = [
  '0317598642',
  '7092154863',
  '4206871359',
  '1750983426',
  '6123045978',
  '3674209581',
  '5869720134',
  '8945362017',
  '9438617205',
  '2581436790',
].map((row) => Array.from(row, Number));

/** Damm's quasigroup check, the check digit last. */
export function damm(values: Values, from: number, to: number): boolean {
  let state = 0;
  for (let index = from; index < to; index += 1) {
    const digit = values[index]!;
    if (digit > 9) return false;
    state = DAMM[state]![digit]!;
  }
  return state === 0;
}

/** ISO/IEC 7064 pure systems with one check character (MOD 11-2, MOD 37-2); the value `modulus - 1` is written X or *. */
export function pureSystem(values: Values, from: number, to: number, modulus: 11 | 37): boolean {
  let state = 0;
  for (let index = from; index < to; index += 1) {
    let value = values[index]!;
    if (modulus === 11 && index === to - 1 && value === 33) value = 10;
    if (modulus === 37 && value > 36) value = 36;
    if (value >= modulus) return false;
    state = (state * 2 + value) % modulus;
  }
  return state === 1;
}

/** Remainder modulo 97 with letters as A = 10 … Z = 35, the first `rotate` characters moved to the end. */
export function remainder97(values: Values, from: number, to: number, rotate = 0): number {
  let remainder = 0;
  const length = to - from;
  for (let step = 0; step < length; step += 1) {
    const value = values[from + ((step + rotate) % length)]!;
    if (value > 35) return -1;
    remainder = (remainder * (value > 9 ? 100 : 10) + value) % 97;
  }
  return remainder;
}

/** ISO/IEC 7064 hybrid systems (MOD 11,10, MOD 27,26, MOD 37,36), the check character last. */
export function hybridSystem(values: Values, from: number, to: number, modulus: 10 | 26 | 36): boolean {
  let product = modulus;
  for (let index = from; index < to; index += 1) {
    const value = modulus === 26 ? values[index]! - 10 : values[index]!;
    if (value < 0 || value >= modulus) return false;
    const sum = (product + value) % modulus;
    if (index === to - 1) return sum === 1;
    product = ((sum === 0 ? modulus : sum) * 2) % (modulus + 1);
  }
  return false;
}

const ICAO_WEIGHTS = [7, 3, 1];

/** ICAO Doc 9303-3 section 4.9 over several parts read as one. */
export function icaoSum(values: Values, parts: readonly (readonly [number, number])[]): number {
  let sum = 0;
  let place = 0;
  for (const [from, to] of parts) {
    for (let index = from; index < to; index += 1) {
      const value = values[index]!;
      sum += (value >= FILLER ? 0 : value) * ICAO_WEIGHTS[place % 3]!;
      place += 1;
    }
  }
  return sum % 10;
}
