import type { ExpressionProblem, OwnCheck } from '@lantern/core/detection';

/** Why an expression is not taken, without a full stop. */
export const FAULT_WORDS: Readonly<Record<ExpressionProblem, string>> = {
  empty: 'There is nothing written yet',
  'not-readable': 'It cannot be read',
  'refers-back': 'It refers back to a group, which no single pass over a text can do; write the ways out',
  'looks-around': 'It looks around further than one character; use words near it, or an exclusion',
  'too-large': 'It is too large, or its repetitions multiply to too many places; allow fewer of them',
  'finds-nothing': 'It also holds where there is nothing at all; something in it must be there',
  'finds-everything': 'It holds in most of any ordinary text; say more of what the value looks like',
};

export const CHECK_WORDS: Readonly<Record<OwnCheck, string>> = {
  none: 'no check digits',
  luhn: 'Luhn (ISO/IEC 7812-1)',
  verhoeff: 'Verhoeff',
  damm: 'Damm',
  'mod 11-2': 'ISO 7064 mod 11-2',
  'mod 37-2': 'ISO 7064 mod 37-2',
  'mod 97-10': 'ISO 7064 mod 97-10',
  'mod 11-10': 'ISO 7064 mod 11,10',
  'mod 37-36': 'ISO 7064 mod 37,36',
};
