import type { PatternId } from '../../shared/brand.js';
import { icaoCheckDigit } from '../check-methods.js';
import type { CheckResult, ReadyPattern } from '../pattern.js';

/** Fields of the second line with the position of their check digit. Source: ICAO Doc 9303-4, section 4.2.2. */
const CHECKED_FIELDS: readonly { readonly from: number; readonly to: number; readonly digitAt: number }[] = [
  { from: 0, to: 9, digitAt: 9 },
  { from: 13, to: 19, digitAt: 19 },
  { from: 21, to: 27, digitAt: 27 },
  { from: 28, to: 42, digitAt: 42 },
];

function digitMatches(written: string | undefined, expected: number): boolean {
  // An empty optional field may carry the filler in place of a zero (Doc 9303-4, note j).
  return written === String(expected) || (written === '<' && expected === 0);
}

function checkTravelDocument(written: string): CheckResult {
  const canonical = written.replace(/\s/g, '');
  const line = canonical.slice(44);
  const fields = CHECKED_FIELDS.every(({ from, to, digitAt }) =>
    digitMatches(line[digitAt], icaoCheckDigit(line.slice(from, to))),
  );
  const composite = icaoCheckDigit(line.slice(0, 10) + line.slice(13, 20) + line.slice(21, 43));
  return { canonical, passes: fields && line[43] === String(composite), grouped: false };
}

export const passportLines: ReadyPattern = {
  origin: 'ready',
  id: 'passport-machine-readable' as PatternId,
  name: 'Passport machine-readable lines (TD3)',
  kind: 'travel',
  countries: [],
  about: 'The two lines of 44 characters at the foot of a passport data page.',
  expression:
    '(?<![0-9A-Za-z<])P[A-Z<][A-Z<]{3}[A-Z<]{39}[ \\t]*\\r?\\n[ \\t]*[A-Z0-9<]{9}\\d[A-Z<]{3}\\d{6}\\d[MFX<]\\d{6}\\d[A-Z0-9<]{14}[0-9<]\\d(?![0-9A-Za-z<])',
  checkName: 'ICAO Doc 9303 check digits (five)',
  accidentalShare: 0.0001,
  check: checkTravelDocument,
  weights: {
    shape: -1,
    structure: 3,
    check: Math.log(10_000),
    grouping: 0,
    supportingWord: 1,
    heading: 1,
    counterWord: -1,
    testValue: -2,
  },
  supportingWords: [
    'passport',
    'passeport',
    'reisepass',
    'pasaporte',
    'passaporto',
    'paspoort',
    'pass',
    'travel document',
    'mrz',
  ],
  counterWords: ['specimen', 'example', 'sample'],
  testValues: ['P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<L898902C36UTO7408122F1204159ZE184226B<<<<<10'],
  source: 'ICAO Doc 9303, parts 3 and 4, 8th edition',
  examples: {
    passing: [
      'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10',
      'P<UTOLINDQVIST<<BEA<<<<<<<<<<<<<<<<<<<<<<<<<\nAB2134<<<5UTO7408122F1204159<<<<<<<<<<<<<<<0',
      'passport\r\nP<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\r\nL898902C36UTO7408122F1204159ZE184226B<<<<<10',
    ],
    nearMisses: [
      'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C37UTO7408122F1204159ZE184226B<<<<<10',
      'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<11',
      'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10',
    ],
  },
};
