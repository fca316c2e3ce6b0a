/**
 * Single UTF-16 units that look or mean the same as an ASCII character.
 * Sources: Unicode Standard 15, general categories Nd (decimal digits), Zs (spaces), Pd (dashes) and Cf (format).
 */

/** Code points of the zero digit of decimal digit sets in the Basic Multilingual Plane (category Nd). */
const ZERO_DIGITS = [
  0x0660, 0x06f0, 0x07c0, 0x0966, 0x09e6, 0x0a66, 0x0ae6, 0x0b66, 0x0be6, 0x0c66, 0x0ce6, 0x0d66, 0x0de6,
  0x0e50, 0x0ed0, 0x0f20, 0x1040, 0x1090, 0x17e0, 0x1810, 0x1946, 0x19d0, 0x1a80, 0x1a90, 0x1b50, 0x1bb0,
  0x1c40, 0x1c50, 0xa620, 0xa8d0, 0xa900, 0xa9d0, 0xa9f0, 0xaa50, 0xabf0, 0xff10,
];

const SPACES = [0x00a0, 0x1680, 0x202f, 0x205f, 0x3000];
const DASHES = [0x058a, 0x05be, 0x2043, 0x2212, 0xfe58, 0xfe63, 0xff0d];

/** Characters that take no room on the page and are dropped before searching. */
const INVISIBLE = [0x00ad, 0x034f, 0x061c, 0x180e, 0x2060, 0x2061, 0x2062, 0x2063, 0x2064, 0xfeff];

/** Marks a character that is dropped. */
export const DROPPED = 0;

const table = new Map<number, number>();

function fillRange(from: number, to: number, target: (code: number) => number): void {
  for (let code = from; code <= to; code += 1) table.set(code, target(code));
}

fillRange(0xff01, 0xff5e, (code) => code - 0xfee0);
for (const zero of ZERO_DIGITS) fillRange(zero, zero + 9, (code) => 0x30 + code - zero);
fillRange(0x2000, 0x200a, () => 0x20);
for (const code of SPACES) table.set(code, 0x20);
fillRange(0x2010, 0x2015, () => 0x2d);
for (const code of DASHES) table.set(code, 0x2d);
fillRange(0x200b, 0x200f, () => DROPPED);
fillRange(0x202a, 0x202e, () => DROPPED);
fillRange(0x2066, 0x206f, () => DROPPED);
for (const code of INVISIBLE) table.set(code, DROPPED);

/** The unit to search for in place of `code`: itself, an ASCII stand-in, or {@link DROPPED}. */
export function foldUnit(code: number): number {
  return table.get(code) ?? code;
}
