/**
 * The ready patterns held to general-purpose libraries of the registry: ibantools (ISO 13616), validator (Luhn) and
 * mrz (ICAO Doc 9303). Where they and we disagree, the standard decides, and the reason stands beside the case.
 */
import { cardNumber, chance, ibanNumber, passportLines as passportOf } from '@lantern/testkit';
import { countrySpecs, isValidIBAN } from 'ibantools';
import { computeWithoutCheck } from 'iso-7064';
import { parse } from 'mrz';
import validator from 'validator';
import { damm, hybridSystem, luhn as luhnOf, pureSystem, remainder97, verhoeff } from '../checks/methods.js';
import { valuesOf } from '../checks/values.js';
import { IBAN_STRUCTURES } from '../library/bank-international.js';
import { READY_PATTERNS } from '../library/index.js';
import { compileScanner } from '../scan/scanner.js';

const SEED = 20261123;
const luhn = (digits: string): boolean => luhnOf(valuesOf(digits), 0, digits.length);
const mod97 = (text: string): number => remainder97(valuesOf(text), 0, text.length);
const ibanCheck = (number: string): boolean => remainder97(valuesOf(number), 0, number.length, 4) === 1;
const scanner = compileScanner(READY_PATTERNS);
const findsOf = (text: string, pattern: string) =>
  scanner.scan(text).findings.filter((finding) => finding.pattern === pattern);

/** Account part of a structure, with digits and letters drawn at random. */
function accountPart(structure: string, random: ReturnType<typeof chance>): string {
  return structure.replace(/(\d+)([nac])/g, (_all, count: string, kind: string) =>
    Array.from({ length: Number(count) }, () => {
      const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';
      const digits = '0123456789';
      return random.pick([...(kind === 'n' ? digits : kind === 'a' ? letters : digits + letters)]);
    }).join(''),
  );
}

/** Check digits by the rule of ISO 13616: 98 minus the remainder with `00` in their place. */
function withCheckDigits(country: string, account: string): string {
  const remainder = mod97(`${account}${country}00`);
  return `${country}${String(98 - remainder).padStart(2, '0')}${account}`;
}

describe(`IBAN beside ibantools, seed ${SEED}`, () => {
  const countries = Object.entries(IBAN_STRUCTURES);

  it('knows every country of the registry that the library knows', () => {
    const registered = Object.entries(countrySpecs)
      .filter(([, spec]) => spec.IBANRegistry)
      .map(([country]) => country);
    // The registry lists these territories under FR and FI, whose prefix their accounts carry: no account begins with
    // a code of their own, so the library is wider than ISO 13616 here.
    const territories = ['AX', 'GF', 'GP', 'MF', 'MQ', 'NC', 'PF', 'PM', 'RE', 'TF', 'WF', 'YT', 'BL'];
    const missing = registered.filter((country) => !Object.hasOwn(IBAN_STRUCTURES, country));
    expect(missing.filter((country) => !territories.includes(country))).toEqual([]);
  });

  it.each(countries)(
    '%s: generated numbers of the structure %s are accepted by both',
    (country, structure) => {
      const random = chance(SEED);
      for (let round = 0; round < 5; round += 1) {
        const number = withCheckDigits(country, accountPart(structure, random));
        const [finding] = findsOf(`IBAN ${number} `, 'iban');
        expect({ number, certain: (finding?.certainty ?? 0) >= 80 }).toEqual({ number, certain: true });
        expect(finding?.canonical).toBe(number);
        // The library also checks national check digits inside the account part, which the standard does not ask for.
        const length = countrySpecs[country]?.chars;
        if (length !== undefined && length !== null) expect(number).toHaveLength(length);
      }
    },
  );

  it.each(countries)('%s: a changed digit is refused by both', (country, structure) => {
    const random = chance(SEED + 1);
    const number = withCheckDigits(country, accountPart(structure, random));
    for (const at of [2, 3, number.length - 1]) {
      const digit = number[at] ?? '';
      if (!/\d/.test(digit)) continue;
      const wrong = `${number.slice(0, at)}${(Number(digit) + 1) % 10}${number.slice(at + 1)}`;
      expect({ wrong, ours: ibanCheck(wrong), theirs: isValidIBAN(wrong) }).toEqual({
        wrong,
        ours: false,
        theirs: false,
      });
      expect(findsOf(`IBAN ${wrong} `, 'iban')).toEqual([]);
    }
  });

  it('agrees on numbers of the generator, written in groups or not', () => {
    const random = chance(SEED + 2);
    for (let round = 0; round < 50; round += 1) {
      const number = ibanNumber(random);
      const written = random.happens(0.5) ? number.replace(/(.{4})(?=.)/g, '$1 ') : number;
      expect(isValidIBAN(number)).toBe(true);
      expect(findsOf(`account ${written}, thank you`, 'iban').map((finding) => finding.canonical)).toEqual([
        number,
      ]);
    }
  });
});

describe(`Luhn beside validator, seed ${SEED}`, () => {
  it('agrees on random numbers, valid or not', () => {
    const random = chance(SEED + 3);
    for (let round = 0; round < 3000; round += 1) {
      const digits = Array.from({ length: random.whole(2, 19) }, () => random.whole(0, 9)).join('');
      expect({ digits, valid: luhn(digits) }).toEqual({ digits, valid: validator.isLuhnNumber(digits) });
    }
  });

  it('refuses one digit off and most neighbours exchanged, as the standard says it can', () => {
    const random = chance(SEED + 4);
    for (let round = 0; round < 300; round += 1) {
      const number = cardNumber(random);
      expect(luhn(number)).toBe(true);
      const at = random.whole(0, 15);
      const off = `${number.slice(0, at)}${(Number(number[at]) + random.whole(1, 9)) % 10}${number.slice(at + 1)}`;
      expect({ off, valid: luhn(off) }).toEqual({ off, valid: false });
      const [first = '', second = ''] = [number[8], number[9]];
      const exchanged = `${number.slice(0, 8)}${second}${first}${number.slice(10)}`;
      // ISO/IEC 7812-1 Annex B: the exchange of 0 and 9 goes unnoticed.
      const unnoticed = first === second || [first, second].sort().join('') === '09';
      expect({ exchanged, valid: luhn(exchanged) }).toEqual({ exchanged, valid: unnoticed });
    }
  });
});

describe(`machine-readable lines beside mrz, seed ${SEED}`, () => {
  const CHECKED = [
    'documentNumberCheckDigit',
    'birthDateCheckDigit',
    'expirationDateCheckDigit',
    'compositeCheckDigit',
  ];
  const digitsHold = (lines: string) => {
    const { details } = parse(lines.split('\n'));
    return CHECKED.every((field) => details.some((detail) => detail.field === field && detail.valid));
  };

  it('accepts generated documents as the library does', () => {
    const random = chance(SEED + 5);
    for (let round = 0; round < 100; round += 1) {
      const lines = passportOf(random, 'Eriksson', 'Anna Maria');
      expect({
        lines,
        theirs: digitsHold(lines),
        ours: findsOf(lines, 'passport-machine-readable').length,
      }).toEqual({ lines, theirs: true, ours: 1 });
    }
  });

  it('refuses a changed digit as the library does', () => {
    const random = chance(SEED + 6);
    for (let round = 0; round < 100; round += 1) {
      const lines = passportOf(random, 'Brandt', 'Lars');
      const at = 45 + random.pick([1, 5, 9, 13, 19, 21, 27, 43]);
      const digit = Number(lines[at]);
      const changed = `${lines.slice(0, at)}${(digit + 1) % 10}${lines.slice(at + 1)}`;
      expect({
        changed,
        theirs: digitsHold(changed),
        ours: findsOf(changed, 'passport-machine-readable').length,
      }).toEqual({ changed, theirs: false, ours: 0 });
    }
  });
});

describe(`ISO/IEC 7064 beside iso-7064, seed ${SEED}`, () => {
  it('agrees on MOD 97-10 of random letters and digits', () => {
    const random = chance(SEED + 7);
    for (let round = 0; round < 500; round += 1) {
      const body = Array.from({ length: random.whole(4, 24) }, () =>
        random.pick([...'0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ']),
      ).join('');
      expect({ body, remainder: mod97(body) }).toEqual({ body, remainder: computeWithoutCheck(body) });
    }
  });

  // Worked examples printed in the standard and in those that apply it; the names of systems are the standard's.
  it.each([
    [
      'MOD 11-2, annex example',
      '079X',
      (text: string) => pureSystem(valuesOf(text), 0, text.length, 11),
      true,
    ],
    [
      'MOD 11-2, one digit off',
      '078X',
      (text: string) => pureSystem(valuesOf(text), 0, text.length, 11),
      false,
    ],
    [
      'MOD 37-2, blood donation G123498654321H',
      'G123498654321H',
      (text: string) => pureSystem(valuesOf(text), 0, text.length, 37),
      true,
    ],
    ['MOD 97-10, 794 with its check 44', '79444', (text: string) => mod97(text) === 1, true],
    [
      'MOD 11,10, 0794 with its check 5',
      '07945',
      (text: string) => hybridSystem(valuesOf(text), 0, text.length, 10),
      true,
    ],
    [
      'MOD 11,10, one digit off',
      '07946',
      (text: string) => hybridSystem(valuesOf(text), 0, text.length, 10),
      false,
    ],
    [
      'MOD 37,36, A12425GABC1234002 with its check M',
      'A12425GABC1234002M',
      (text: string) => hybridSystem(valuesOf(text), 0, text.length, 36),
      true,
    ],
  ])('%s', (_name, text, check, holds) => expect({ text, holds: check(text) }).toEqual({ text, holds }));
});

describe('dihedral and quasigroup checks, the worked examples of their papers as commonly printed', () => {
  it('accepts 2363 by Verhoeff and 5724 by Damm, and no number one digit off', () => {
    expect(verhoeff([2, 3, 6, 3])).toBe(true);
    expect(damm(valuesOf('5724'), 0, 4)).toBe(true);
    for (let digit = 0; digit < 10; digit += 1) {
      if (digit !== 3) expect(verhoeff([2, 3, 6, digit])).toBe(false);
      if (digit !== 4) expect(damm(valuesOf(`572${digit}`), 0, 4)).toBe(false);
    }
  });
});
