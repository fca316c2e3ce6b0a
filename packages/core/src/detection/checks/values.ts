/**
 * A value as numbers, so that thousands of candidates are checked without making a string of each: 0 to 9 for digits,
 * 10 to 35 for the letters A to Z in either case.
 */
export type Values = Uint8Array;

/** The filler `<` of travel documents; it counts as zero (ICAO Doc 9303-3, section 4.9). */
export const FILLER = 36;
/** Anything that is neither letter, digit nor filler. */
export const NO_VALUE = 255;
/** Longest value that is checked; the longest standard one is a bank account or a travel document. */
export const MAX_VALUES = 160;

/** What one UTF-16 unit is worth. */
export function valueOfUnit(unit: number): number {
  if (unit >= 48 && unit <= 57) return unit - 48;
  if (unit >= 65 && unit <= 90) return unit - 55;
  if (unit >= 97 && unit <= 122) return unit - 87;
  return unit === 60 ? FILLER : NO_VALUE;
}

/** Values of a written number without its separators; for tests, tables and anchored patterns. */
export function valuesOf(canonical: string): Values {
  const values = new Uint8Array(canonical.length);
  for (let index = 0; index < canonical.length; index += 1)
    values[index] = valueOfUnit(canonical.charCodeAt(index));
  return values;
}
