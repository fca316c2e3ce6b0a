/**
 * National numbers held to `stdnum` of the registry over generated valid, one-digit-off and transposed numbers. Where
 * the two disagree, the published rule decides, and the reason stands beside the pattern.
 */
import { chance, oneDigitOff, transposed, valueOf } from '@lantern/testkit';
import { stdnum } from 'stdnum';
import { READY_PATTERNS } from '../library/index.js';
import { checkOf } from '../model/prepared.js';

const SEED = 5;
const ROUNDS = 40;
type Library = Record<string, Record<string, { validate(value: string): { isValid: boolean } }>>;
const library = stdnum as unknown as Library;

/** Patterns that must agree with the library on every number. */
const AGREE: Readonly<Record<string, string>> = {
  'ar-tax': 'AR.cuit', 'au-acn': 'AU.acn', 'br-cpf': 'BR.cpf', 'br-cnpj': 'BR.cnpj', 'by-tax': 'BY.unp',
  'ca-business': 'CA.bn', 'ch-ahv': 'CH.ssn', 'de-tax-id': 'DE.idnr', 'de-vat': 'DE.vat', 'dk-cvr': 'DK.cvr',
  'do-cedula': 'DO.cedula', 'do-company': 'DO.rnc', 'ee-vat': 'EE.kmkr', 'es-nie': 'ES.nie', 'es-company': 'ES.cif',
  'fi-business': 'FI.ytunnus', 'gb-national-insurance': 'GB.nino', 'gb-utr': 'GB.utr', 'gr-tax': 'GR.vat',
  'gt-tax': 'GT.nit', 'hr-oib': 'HR.oib', 'il-identity': 'IL.idnr', 'in-aadhaar': 'IN.aadhaar', 'in-pan': 'IN.pan',
  'in-voter': 'IN.epic', 'it-tax-code': 'IT.codicefiscale', 'jp-corporate': 'JP.cn', 'lu-vat': 'LU.tva', 'ma-company': 'MA.ice',
  'nl-citizen': 'NL.bsn', 'nl-vat': 'NL.btw', 'no-account': 'NO.kontonr', 'nz-ird': 'NZ.ird', 'pe-tax': 'PE.ruc',
  'pl-tax': 'PL.nip', 'pl-regon': 'PL.regon', 'pt-tax': 'PT.nif', 'rs-tax': 'RS.pib', 'ru-tax': 'RU.inn', 'sg-uen': 'SG.uen',
  'si-tax': 'SI.ddv', 'th-identity': 'TH.idnr', 'tr-identity': 'TR.tckimlik', 'tr-tax': 'TR.vkn', 'tw-identity': 'TW.natid',
  'ua-tax': 'UA.rntrc', 'ua-company': 'UA.edrpou', 'us-social': 'US.ssn', 've-tax': 'VE.rif', 'za-tax': 'ZA.tin', 'fr-tax': 'FR.nif',
  'cy-tax': 'CY.vat', 'mt-vat': 'MT.vat',
}; // prettier-ignore

/**
 * Patterns that accept more than the library, on purpose. What the library accepts they accept too, so that its narrower
 * lists cost no recall.
 */
const WIDER: Readonly<Record<string, readonly [path: string, reason: string]>> = {
  'au-abn': ['AU.abn', 'the published rule takes check digits from 10 on, the library from 11 on'],
  'id-tax': ['ID.npwp', 'the library keeps a list of tax offices'],
  'at-social': ['AT.vnr', 'months 13 to 15 are given out where a day has run out of numbers'],
  'be-national': ['BE.nn', 'numbers of people in the other register add 20 or 40 to the month; the library counts dates by today'],
  'bg-company': ['BG.vat', 'a second row of weights applies where the first gives 10, for numbers without prefix too'],
  'cn-resident': ['CN.ric', 'the check character X is written for ten; the library keeps a list of counties of one year'],
  'cn-company': ['CN.uscc', 'the library keeps a list of registering bodies'],
  'ch-uid': ['CH.uid', 'MWST may stand behind the number'],
  'de-pension': ['DE.svnr', 'the library keeps a list of areas; new ones are given out'],
  'ee-personal': ['EE.ik', 'the library counts dates by today'],
  'es-dni': ['ES.dni', 'full stops and blanks between digits are common in writing'],
  'gr-amka': ['GR.amka', 'the library counts dates by today'],
  'hk-identity': ['HK.hkid', 'the library takes brackets only'],
  'hu-company': ['HU.anum', 'the library refuses the county behind the number'],
  'it-vat': ['IT.iva', 'provinces given out after the list of the library'],
  'lt-personal': ['LT.asmens', 'the library counts dates by today'],
  'my-nric': ['MY.nric', 'the library keeps a list of places of birth'],
  'no-birth-number': ['NO.fodselsnummer', 'temporary and synthetic numbers add 40 or 80 to the day or month'],
  'no-organisation': ['NO.orgnr', 'MVA may stand behind the number'],
  'pl-pesel': ['PL.pesel', 'the month carries the century up to 2299; the library counts dates by today'],
  'pt-citizen-card': ['PT.cc', 'blanks and hyphens between its parts'],
  'se-organisation': ['SE.orgnr', 'the number for value added tax has SE before it and 01 behind'],
  'sk-vat': ['SK.dph', 'the library asks for the first digit of a birth number too'],
  'uy-identity': ['UY.cedula', 'full stops between digits'],
  'uy-tax': ['UY.rut', 'departments up to 22'],
  'mx-clabe': ['MX.clabe', 'the library keeps a list of banks'],
}; // prettier-ignore

/**
 * Left out: PY.ruc names 1 as the check digit where the sum is a multiple of eleven; the rule of the tax office names 0.
 */
const canonical = (written: string): string => written.replace(/[^0-9A-Za-z]/g, '').toUpperCase();

function samples(id: string): { written: string; ours: boolean }[] {
  const pattern = READY_PATTERNS.find((each) => each.id === id);
  if (!pattern) throw new Error(`no pattern ${id}`);
  const passes = checkOf(pattern);
  const random = chance(SEED);
  return Array.from({ length: ROUNDS }, () => valueOf(pattern, random)).flatMap((value) =>
    [value, oneDigitOff(value, random), transposed(value, random)]
      .filter((written) => written !== undefined)
      .map((written) => ({ written, ours: passes(canonical(written)) })),
  );
}

function theirs(path: string, written: string): boolean {
  const [country = '', name = ''] = path.split('.');
  const validator = library[country]?.[name];
  if (!validator) throw new Error(`the library has no ${path}`);
  return validator.validate(canonical(written)).isValid;
}

describe(`national numbers beside stdnum, seed ${SEED}`, () => {
  it.each(Object.entries(AGREE))('%s agrees with %s', (id, path) => {
    for (const { written, ours } of samples(id))
      expect({ written, ours }).toEqual({ written, ours: theirs(path, written) });
  });

  it.each(Object.entries(WIDER))('%s accepts whatever its counterpart accepts (%p)', (id, [path]) => {
    const accepted = samples(id).filter(({ written }) => theirs(path, written));
    expect(accepted.length).toBeGreaterThan(0);
    for (const { written, ours } of accepted) expect({ written, ours }).toEqual({ written, ours: true });
  });
});
