/** Check digit methods shared by patterns. Each takes a canonical value: separators removed, letters upper case. */

/** ISO/IEC 7812-1:2017 Annex B: sum of digits with every second one from the right doubled is a multiple of ten. */
export function luhn(digits: string): boolean {
  let sum = 0;
  let doubled = false;
  for (let index = digits.length - 1; index >= 0; index -= 1) {
    const digit = digits.charCodeAt(index) - 48;
    if (digit < 0 || digit > 9) return false;
    const value = doubled ? digit * 2 : digit;
    sum += value > 9 ? value - 9 : value;
    doubled = !doubled;
  }
  return digits.length > 1 && sum % 10 === 0;
}

/** ISO/IEC 7064 MOD 97-10 as ISO 13616-1:2020 applies it: the first four characters move to the end. */
export function ibanCheck(value: string): boolean {
  if (value.length < 15) return false;
  return mod97(value.slice(4) + value.slice(0, 4)) === 1;
}

/** Remainder modulo 97 of a value whose letters count as A = 10 … Z = 35; NaN for other characters. */
export function mod97(value: string): number {
  let remainder = 0;
  for (let index = 0; index < value.length; index += 1) {
    const worth = alphanumericWorth(value.charCodeAt(index));
    if (worth < 0) return Number.NaN;
    remainder = (remainder * (worth > 9 ? 100 : 10) + worth) % 97;
  }
  return remainder;
}

/** ICAO Doc 9303-3 (8th edition) section 4.9: weights 7, 3, 1; filler `<` counts as zero; A = 10 … Z = 35. */
export function icaoCheckDigit(field: string): number {
  const weights = [7, 3, 1];
  let sum = 0;
  for (let index = 0; index < field.length; index += 1) {
    const worth = field[index] === '<' ? 0 : alphanumericWorth(field.charCodeAt(index));
    sum += Math.max(worth, 0) * (weights[index % 3] ?? 0);
  }
  return sum % 10;
}

function alphanumericWorth(code: number): number {
  if (code >= 48 && code <= 57) return code - 48;
  if (code >= 65 && code <= 90) return code - 55;
  return -1;
}
