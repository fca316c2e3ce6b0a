import type { PatternId } from '../../shared/brand.js';
import { ibanCheck } from '../check-methods.js';
import type { CheckResult, ReadyPattern } from '../pattern.js';

/** Account part after country and check digits: n digits, a capital letters, c either. Source: ISO 13616 IBAN registry (from memory). */
export const IBAN_STRUCTURES: Readonly<Record<string, string>> = {
  AD: '8n12c', AE: '19n', AL: '8n16c', AT: '16n', AZ: '4a20c', BA: '16n', BE: '12n', BG: '4a6n8c', BH: '4a14c',
  BI: '23n', BR: '23n1a1c', BY: '4c4n16c', CH: '5n12c', CR: '18n', CY: '8n16c', CZ: '20n', DE: '18n', DJ: '23n',
  DK: '14n', DO: '4c20n', EE: '16n', EG: '25n', ES: '20n', FI: '14n', FK: '2a12n', FO: '14n', FR: '10n11c2n',
  GB: '4a14n', GE: '2a16n', GI: '4a15c', GL: '14n', GR: '7n16c', GT: '24c', HR: '17n', HU: '24n', IE: '4a14n',
  IL: '19n', IQ: '4a15n', IS: '22n', IT: '1a10n12c', JO: '4a4n18c', KW: '4a22c', KZ: '3n13c', LB: '4n20c',
  LC: '4a24c', LI: '5n12c', LT: '16n', LU: '3n13c', LV: '4a13c', LY: '21n', MC: '10n11c2n', MD: '20c', ME: '18n',
  MK: '3n10c2n', MN: '16n', MR: '23n', MT: '4a5n18c', MU: '4a19n3a', NI: '4a20n', NL: '4a10n', NO: '11n',
  OM: '3n16c', PK: '4a16c', PL: '24n', PS: '4a21c', PT: '21n', QA: '4a21c', RO: '4a16c', RS: '18n', RU: '14n15c',
  SA: '2n18c', SC: '4a20n3a', SD: '14n', SE: '20n', SI: '15n', SK: '20n', SM: '1a10n12c', SO: '19n', ST: '21n',
  SV: '4a20n', TL: '19n', TN: '20n', TR: '6n16c', UA: '6n19c', VA: '18n', VG: '4a16n', XK: '16n', YE: '4a4n18c',
};

const CLASSES: Readonly<Record<string, string>> = { n: '\\d', a: '[A-Z]', c: '[0-9A-Z]' };

function structureExpression(structure: string): string {
  return structure.replace(/(\d+)([nac])/g, (_all, count: string, kind: string) => {
    return `(?: ?${CLASSES[kind] ?? ''}){${count}}`;
  });
}

const alternatives = Object.entries(IBAN_STRUCTURES).map(
  ([country, structure]) => `${country}\\d{2}${structureExpression(structure)}`,
);

function checkIban(written: string): CheckResult {
  const canonical = written.replace(/ /g, '');
  return { canonical, passes: ibanCheck(canonical), grouped: written[4] === ' ' };
}

export const iban: ReadyPattern = {
  origin: 'ready',
  id: 'iban' as PatternId,
  name: 'International bank account number (IBAN)',
  kind: 'bank',
  countries: Object.keys(IBAN_STRUCTURES),
  about: 'A bank account number with country, two check digits and the account part of that country.',
  expression: `(?<![0-9A-Za-z])(?=[A-Z]{2}\\d{2})(?:${alternatives.join('|')})(?![0-9A-Za-z])`,
  checkName: 'ISO/IEC 7064 MOD 97-10',
  accidentalShare: 1 / 97,
  check: checkIban,
  weights: {
    shape: -4,
    structure: 2.2,
    check: Math.log(97),
    grouping: 0.8,
    supportingWord: 2,
    heading: 2,
    counterWord: -2,
    testValue: -0.8,
  },
  supportingWords: [
    'iban', 'account', 'bank', 'bic', 'swift', 'transfer', 'konto', 'kontonummer', 'bankverbindung', 'compte', 'virement',
    'cuenta', 'conto', 'bonifico', 'rekening', 'rekeningnummer', 'tilinumero', 'konto bankowe', 'conta',
  ],
  counterWords: ['serial', 'licence key', 'product key', 'tracking', 'part number'],
  // Examples printed in the IBAN registry (from memory).
  testValues: ['GB29NWBK60161331926819', 'DE89370400440532013000', 'FR1420041010050500013M02606', 'GB82WEST12345698765432'],
  source: 'ISO 13616-1:2020, IBAN registry',
  examples: {
    passing: ['IBAN GB29 NWBK 6016 1331 9268 19', 'account DE89370400440532013000', 'compte FR14 2004 1010 0505 0001 3M02 606'],
    nearMisses: ['IBAN GB29 NWBK 6016 1331 9268 18', 'IBAN DE8937040044053201300', 'account ZZ89370400440532013000'],
  },
};
