import type { ExpressionProblem, OwnCheck } from '@lantern/core/detection';

/** Why an expression is not taken, without a full stop. */
export const FAULT_WORDS: Readonly<Record<ExpressionProblem, string>> = {
  empty: 'The expression is empty',
  'not-readable': 'The expression is not valid',
  'refers-back': 'It refers back to a group, which is not supported. Write out the alternatives',
  'looks-around':
    'It looks ahead or behind by more than one character. Use words nearby or an exclusion instead',
  'too-large': 'It is too large, or its repetitions multiply too far. Allow fewer repetitions',
  'finds-nothing': 'It also matches empty text. At least one part must be required',
  'finds-everything': 'It matches most ordinary text. Be more specific',
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
