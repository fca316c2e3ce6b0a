/**
 * One step of checking a number: data, read by `compile.ts`. Offsets count characters of the value without separators,
 * from 0; negative ones count from its end. A range is `[from, to]`, end exclusive; 0 as its end means the value's end.
 */
export type Range = readonly [from: number, to: number];

/** How the digits of a date stand in a number. `yyy` is the year without its first digit. */
export type DateOrder =
  'yymmdd' | 'ddmmyy' | 'mmddyy' | 'yyyymmdd' | 'ddmmyyyy' | 'ddmmyyy' | 'yymm' | 'yyddd';

export type CheckStep =
  /** ISO/IEC 7812-1 Annex B. With letters: each counts as its two digits (A = 10), or in base 36 as one (`base: 36`). */
  | { readonly check: 'luhn'; readonly of?: Range; readonly plus?: number; readonly base?: 10 | 36 }
  /** J. Verhoeff, Error Detecting Decimal Codes, 1969. */
  | { readonly check: 'verhoeff'; readonly parts?: readonly Range[] }
  /** H. M. Damm, Total anti-symmetrische Quasigruppen, 2004. */
  | { readonly check: 'damm' }
  /** ISO/IEC 7064, the systems by their designations. */
  | {
      readonly check: 'iso-7064';
      readonly system: 'mod 11-2' | 'mod 37-2' | 'mod 97-10' | 'mod 11-10' | 'mod 27-26' | 'mod 37-36';
      readonly of?: Range;
      /** First characters that move to the end before the check, as ISO 13616 does with four. */
      readonly rotate?: number;
    }
  | WeightedStep
  /** The weighted sum, check digit included, leaves one of these remainders. */
  | {
      readonly check: 'total';
      readonly weights: readonly number[];
      readonly modulus: number;
      readonly equals: readonly number[];
      readonly crossSum?: boolean;
      readonly from?: number;
      readonly expand?: string;
      readonly letterValues?: Readonly<Record<string, number>>;
    }
  | RemainderStep
  /** Letters and digits have values of their own at odd and at even places (counted from 1); the sum names a letter. */
  | {
      readonly check: 'place-values';
      readonly odd: readonly number[];
      readonly even: readonly number[];
      readonly modulus: number;
      readonly from?: number;
    }
  /** ICAO Doc 9303-3, section 4.9: weights 7, 3, 1 over these parts, check digit at `at`; a filler may stand for 0. */
  | {
      readonly check: 'icao';
      readonly parts: readonly Range[];
      readonly at: number;
      readonly fillerForZero?: boolean;
    }
  /** A calendar date. Offsets are added to the day or month in some cases (sex, century, kind of holder). */
  | {
      readonly check: 'date';
      readonly order: DateOrder;
      readonly at: number;
      readonly dayOffsets?: readonly number[];
      readonly monthOffsets?: readonly number[];
    }
  /** The number at this range lies within bounds, ends included. */
  | { readonly check: 'within'; readonly of: Range; readonly least: number; readonly most: number }
  /** The characters at this range are one of these, written with capitals. */
  | { readonly check: 'one-of'; readonly of: Range; readonly values: readonly string[] }
  | { readonly check: 'none-of'; readonly of: Range; readonly values: readonly string[] }
  /** Only characters out of this set stand at this range. */
  | { readonly check: 'made-of'; readonly of: Range; readonly characters: string }
  /** Not one digit all over. */
  | { readonly check: 'not-repeated' }
  /** German tax identifier: among the first ten digits exactly one stands two or three times. */
  | { readonly check: 'one-digit-repeats' }
  /** Letters and digits both occur. */
  | { readonly check: 'letters-and-digits' }
  /** As many characters as this. */
  | { readonly check: 'length'; readonly of: readonly number[] }
  /** At least one of these rows of steps holds. */
  | { readonly check: 'any'; readonly of: readonly (readonly CheckStep[])[] }
  /** A method that fits no other form, by name; each is described where it is written. */
  | { readonly check: 'special'; readonly method: SpecialMethod };

/** The weighted sum of characters before the check character names the check character. */
export interface WeightedStep {
  readonly check: 'weighted';
  /** Without `from`, the last weight stands beside the check character and shorter values lose the first weights. */
  readonly weights: readonly number[];
  readonly modulus: number;
  readonly from?: number;
  /** Place of the check character; the last one where it is left out. */
  readonly at?: number;
  /** The check is what is missing to the next multiple of the modulus. */
  readonly complement?: boolean;
  /** What a result of 10 becomes; a value that would need it is not given out where this is left out. */
  readonly ten?: 'X' | '0' | '1' | '9';
  /** Weights for a second try when the first gave 10. */
  readonly again?: readonly number[];
  /** Check characters by result; takes the place of `ten`. */
  readonly results?: string;
  /** Products count by the sum of their digits. */
  readonly crossSum?: boolean;
  readonly plus?: number;
  readonly times?: number;
  /** Letters stand for two digits: the place in this row of letters plus `expandFrom`. */
  readonly expand?: string;
  readonly expandFrom?: number;
  readonly letterValues?: Readonly<Record<string, number>>;
  /** Characters in the order of their values, for systems with letters of their own. */
  readonly alphabet?: string;
}

/** A long number divided by a modulus names the check number or letter. */
export interface RemainderStep {
  readonly check: 'remainder';
  readonly parts: readonly Range[];
  readonly modulus: number;
  /** Place and width of the check number; -1 and 1 where left out. */
  readonly at?: number;
  readonly width?: number;
  readonly complement?: boolean;
  readonly results?: string;
  readonly prefix?: string;
  readonly suffix?: string;
  /** The first letter counts as its place in this row: X0, Y1, Z2. */
  readonly leading?: string;
  /** Remainders from here on count modulo this: 10 becomes 0 in a single digit. */
  readonly then?: number;
  /** What a remainder of 0 is written as. */
  readonly zeroAs?: number;
}

export type SpecialMethod =
  'french-insee' | 'spanish-company' | 'singapore-nric' | 'turkish-tax' | 'portuguese-card' | 'bech32';
