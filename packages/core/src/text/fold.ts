/**
 * Single UTF-16 units that look or mean the same as an ASCII character, and what kind of unit each one is.
 * Sources: Unicode Standard 15, general categories Nd (decimal digits), Zs (spaces), Pd (dashes), Cf (format), L and M;
 * Unicode Technical Standard 39 (confusable letters).
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

/** Letters of other scripts that print as Latin ones, pair by pair. */
const LOOK_ALIKES =
  'АAВBЕEЅSІIЈJКKМMНHОOРPСCТTУYХXаaеeѕsіiјjоoрpсcуyхxԁdԛqԝwҮYһh' + 'ΑAΒBΕEΖZΗHΙIΚKΜMΝNΟOΡPΤTΥYΧXοo';

/** Marks a character that is dropped. */
export const DROPPED = 0;

/** What a unit is to the scanner. */
export const SEPARATOR = 0;
export const DIGIT_UNIT = 1;
export const CAPITAL_UNIT = 2;
export const SMALL_UNIT = 3;
/** A letter or mark of a script that is written with spaces between words, other than ASCII. */
export const OTHER_LETTER = 4;
/** A letter of a script written without spaces or with endings attached: each one is a word of its own. */
export const LONE_LETTER = 5;

const table = new Uint16Array(65_536);
for (let code = 0; code < 65_536; code += 1) table[code] = code;

function fillRange(from: number, to: number, target: (code: number) => number): void {
  for (let code = from; code <= to; code += 1) table[code] = target(code);
}

fillRange(0xff01, 0xff5e, (code) => code - 0xfee0);
for (const zero of ZERO_DIGITS) fillRange(zero, zero + 9, (code) => 0x30 + code - zero);
fillRange(0x2000, 0x200a, () => 0x20);
for (const code of SPACES) table[code] = 0x20;
fillRange(0x2010, 0x2015, () => 0x2d);
for (const code of DASHES) table[code] = 0x2d;
fillRange(0x200b, 0x200f, () => DROPPED);
fillRange(0x202a, 0x202e, () => DROPPED);
fillRange(0x2066, 0x206f, () => DROPPED);
fillRange(0xfe00, 0xfe0f, () => DROPPED);
for (const code of INVISIBLE) table[code] = DROPPED;
for (let index = 0; index < LOOK_ALIKES.length; index += 2) {
  table[LOOK_ALIKES.charCodeAt(index)] = LOOK_ALIKES.charCodeAt(index + 1);
}
// A zero unit is a character of the text, not the mark for a dropped one.
table[0] = 0x20;

/** The unit to search for in place of `code`: itself, an ASCII stand-in, or {@link DROPPED}. */
export function foldUnit(code: number): number {
  return table[code] ?? code;
}

/** {@link foldUnit} as a table of 65,536 entries, for loops over long texts. */
export const FOLDED_UNITS: Readonly<Uint16Array> = table;

/** Ranges of scripts without spaces between words, or with endings attached: Thai to Khmer, Hangul, kana, ideographs. */
const LONE_RANGES: readonly (readonly [number, number])[] = [
  [0x0e00, 0x0eff],
  [0x1000, 0x109f],
  [0x1100, 0x11ff],
  [0x1780, 0x17ff],
  [0x2e80, 0x2fff],
  [0x3005, 0x3007],
  [0x3040, 0x31ff],
  [0x3400, 0x4dbf],
  [0x4e00, 0x9fff],
  [0xac00, 0xd7af],
  [0xf900, 0xfaff],
];

const WORD_UNIT = /[\p{L}\p{M}\p{N}]/u;

function classify(): Uint8Array {
  const classes = new Uint8Array(65_536);
  for (let code = 0; code < 65_536; code += 1) {
    if (code >= 48 && code <= 57) classes[code] = DIGIT_UNIT;
    else if (code >= 65 && code <= 90) classes[code] = CAPITAL_UNIT;
    else if (code >= 97 && code <= 122) classes[code] = SMALL_UNIT;
    else if (code >= 0xaa && (code < 0xd800 || code > 0xdfff) && WORD_UNIT.test(String.fromCharCode(code))) {
      classes[code] = LONE_RANGES.some(([from, to]) => code >= from && code <= to)
        ? LONE_LETTER
        : OTHER_LETTER;
    }
  }
  return classes;
}

/** Class of every unit of a folded text. */
export const UNIT_CLASSES: Readonly<Uint8Array> = classify();

/** Inside of a character class for units of {@link OTHER_LETTER}, for plain expressions that must agree with the scanner. */
export function otherLetterRanges(): string {
  let ranges = '';
  const hex = (code: number): string => `\\u${code.toString(16).padStart(4, '0')}`;
  for (let code = 0; code < 65_536; code += 1) {
    if (UNIT_CLASSES[code] !== OTHER_LETTER) continue;
    const from = code;
    while (UNIT_CLASSES[code + 1] === OTHER_LETTER) code += 1;
    ranges += from === code ? hex(from) : `${hex(from)}-${hex(code)}`;
  }
  return ranges;
}

/** Combining marks are left out of words: accents, vowel signs. */
export const NO_LETTER = 0;

function wordTable(): Uint16Array {
  const words = new Uint16Array(65_536);
  const mark = /\p{M}/u;
  for (let code = 0; code < 65_536; code += 1) {
    const unitClass = UNIT_CLASSES[code];
    if (unitClass === SEPARATOR) continue;
    const letter = String.fromCharCode(code);
    if (unitClass !== LONE_LETTER && mark.test(letter)) continue;
    const base = unitClass === LONE_LETTER ? letter : (letter.normalize('NFD')[0] ?? letter);
    // By way of the capital, so that a letter whose capital alone looks Latin folds the same in both cases.
    const upper = base.toUpperCase();
    const capital = upper.length === 1 ? upper : base;
    words[code] = String.fromCharCode(foldUnit(capital.charCodeAt(0)))
      .toLowerCase()
      .charCodeAt(0);
  }
  return words;
}

/** Units of words without case, accents and look-alikes; {@link NO_LETTER} for separators and for marks to be left out. */
export const WORD_UNITS: Readonly<Uint16Array> = wordTable();

/** Bit of a class in {@link UNIT_FACTS}, above the sixteen bits of the folded unit. */
export const classBit = (unitClass: number): number => 1 << (16 + unitClass);

/** Set beside the class where a run ends or the unit is left out of words, so that one look tells an ordinary letter. */
const NOT_ORDINARY = 1 << 31;

/**
 * Class and folded word unit of every unit in one number, so that the pass over a text asks one table: the folded unit
 * in the lowest sixteen bits, above them one bit for the class; below zero where a run ends or goes on without the unit.
 */
export const UNIT_FACTS: Readonly<Int32Array> = Int32Array.from({ length: 65_536 }, (_unused, unit) => {
  const unitClass = UNIT_CLASSES[unit] ?? SEPARATOR;
  const letter = WORD_UNITS[unit] ?? NO_LETTER;
  const ordinary = unitClass !== SEPARATOR && unitClass !== LONE_LETTER && letter !== NO_LETTER;
  return (ordinary ? 0 : NOT_ORDINARY) | classBit(unitClass) | letter;
});
