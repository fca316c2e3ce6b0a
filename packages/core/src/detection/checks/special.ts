import type { SpecialMethod } from './step.js';
import { type Values, valuesOf } from './values.js';
import type { Check } from './weighted.js';

const textOf = (values: Values, from: number, to: number): string =>
  Array.from(values.subarray(from, to), (value) =>
    value < 36 ? value.toString(36).toUpperCase() : '?',
  ).join('');

/** 97 less the number modulo 97; Corsican departments 2A and 2B count as 19 and 18. */
function frenchInsee(values: Values, length: number): boolean {
  if (length !== 15) return false;
  const body = textOf(values, 0, 13).replace('2A', '19').replace('2B', '18');
  const key = Number(textOf(values, 13, 15));
  return /^\d{13}$/.test(body) && 97 - Number(BigInt(body) % 97n) === key;
}

const COMPANY_LETTERS = 'JABCDEFGHI';

/** Luhn sum over the seven digits; certain kinds carry a letter, others a digit. */
function spanishCompany(values: Values, length: number): boolean {
  if (length !== 9) return false;
  let sum = 0;
  for (let index = 1; index < 8; index += 1) {
    const value = values[index]!;
    if (value > 9) return false;
    const product = index % 2 === 1 ? value * 2 : value;
    sum += Math.floor(product / 10) + (product % 10);
  }
  const expected = (10 - (sum % 10)) % 10;
  const kind = textOf(values, 0, 1);
  const last = values[8]!;
  if ('PQRSNW'.includes(kind)) return last === valuesOf(COMPANY_LETTERS[expected]!)[0];
  if ('ABEH'.includes(kind)) return last === expected;
  return last === expected || last === valuesOf(COMPANY_LETTERS[expected]!)[0];
}

const NRIC_WEIGHTS = [2, 7, 6, 5, 4, 3, 2];
const NRIC_LETTERS: Readonly<Record<string, readonly [plus: number, letters: string]>> = {
  S: [0, 'JZIHGFEDCBA'],
  T: [4, 'JZIHGFEDCBA'],
  F: [0, 'XWUTRQPNMLK'],
  G: [4, 'XWUTRQPNMLK'],
  M: [3, 'XWUTRQPNJLK'],
};

function singaporeNric(values: Values, length: number): boolean {
  const kind = NRIC_LETTERS[textOf(values, 0, 1)];
  if (!kind || length !== 9) return false;
  let sum = kind[0];
  for (let index = 0; index < 7; index += 1) sum += values[index + 1]! * NRIC_WEIGHTS[index]!;
  return values[8] === valuesOf(kind[1][sum % 11] ?? '?')[0];
}

/** Each digit plus its place, modulo ten, times a power of two, modulo nine. */
function turkishTax(values: Values, length: number): boolean {
  if (length !== 10) return false;
  let sum = 0;
  for (let index = 0; index < 9; index += 1) {
    const shifted = (values[index]! + 9 - index) % 10;
    if (shifted === 0) continue;
    sum += (shifted * 2 ** (9 - index)) % 9 || 9;
  }
  return (10 - (sum % 10)) % 10 === values[9];
}

/** Luhn with letters as one value each: every second character from the right doubled, nine taken off above nine. */
function portugueseCard(values: Values, length: number): boolean {
  let sum = 0;
  for (let index = length - 1, place = 0; index >= 0; index -= 1, place += 1) {
    const doubled = values[index]! * (place % 2 === 1 ? 2 : 1);
    sum += place % 2 === 1 && doubled > 9 ? doubled - 9 : doubled;
  }
  return length === 12 && sum % 10 === 0;
}

const BECH32 = 'qpzry9x8gf2tvdw0s3jn54khce6mua7l';
const BECH32_GENERATOR = [0x3b6a57b2, 0x26508e6d, 0x1ea119fa, 0x3d4233dd, 0x2a1462b3];

/** BIP 173 and BIP 350: a BCH code over 5-bit groups; the human-readable part is `bc`. */
function bech32(values: Values, length: number): boolean {
  let checksum = 1;
  const step = (value: number) => {
    const top = checksum >>> 25;
    checksum = ((checksum & 0x1ffffff) << 5) ^ value;
    for (let bit = 0; bit < 5; bit += 1) if ((top >>> bit) & 1) checksum ^= BECH32_GENERATOR[bit]!;
  };
  const head = 'bc';
  for (const unit of head) step(unit.charCodeAt(0) >> 5);
  step(0);
  for (const unit of head) step(unit.charCodeAt(0) & 31);
  for (let index = 3; index < length; index += 1) {
    const value = BECH32.indexOf(textOf(values, index, index + 1).toLowerCase());
    if (value < 0) return false;
    step(value);
  }
  const rest = checksum >>> 0;
  return length > 13 && (rest === 1 || rest === 0x2bc830a3);
}

const METHODS: Readonly<Record<SpecialMethod, Check>> = {
  'french-insee': frenchInsee,
  'spanish-company': spanishCompany,
  'singapore-nric': singaporeNric,
  'turkish-tax': turkishTax,
  'portuguese-card': portugueseCard,
  bech32,
};

/** The method of this name. */
export function specialCheck(method: SpecialMethod): Check {
  return METHODS[method];
}
