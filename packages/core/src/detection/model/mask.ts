const MASK = '•';
const LETTER_OR_DIGIT = /[\p{L}\p{N}]/u;

/** How many of a value's last letters and digits stay readable: never more than a quarter, four at most. */
export function readableTail(lettersAndDigits: number): number {
  return Math.min(4, Math.floor(lettersAndDigits / 4));
}

/** Hides a value but for its last letters or digits; separators stay, so that the kind can be recognised. */
export function mask(value: string): string {
  const units = [...value];
  const total = units.filter((unit) => LETTER_OR_DIGIT.test(unit)).length;
  let toHide = total - readableTail(total);
  return units
    .map((unit) => {
      if (!LETTER_OR_DIGIT.test(unit)) return unit;
      toHide -= 1;
      return toHide >= 0 ? MASK : unit;
    })
    .join('');
}
