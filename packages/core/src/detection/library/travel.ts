import { define, type Entry } from './entry/define.js';
import { EXAMPLES } from './entry/examples.js';

const NONE = { passing: [], nearMisses: [] };

const TRAVEL_WORDS = ['passport', 'passeport', 'reisepass', 'pasaporte', 'passaporto', 'paspoort', 'passaporte', 'paszport', 'pass', 'mrz', 'machine readable', 'travel document', 'visa'];

/** Lines of a machine-readable document, with the end of line between them as it was read. */
const LINE_END = '[ \\t]*\\r?\\n[ \\t]*';
const EDGE = '(?![0-9A-Za-z<])';

function machineReadable(entry: Pick<Entry, 'id' | 'name' | 'also' | 'about' | 'steps' | 'tests' | 'source' | 'passing' | 'nearMisses'> & { expression: string }): Entry {
  const { expression, ...rest } = entry;
  return {
    ...rest,
    kind: 'travel',
    words: TRAVEL_WORDS,
    counter: ['specimen', 'example', 'sample'],
    // The first line of every size holds two fillers: between the names, or behind the number of a small card.
    found: { trigger: { by: 'text', texts: ['<<'] }, before: 'A-Z0-9<', longestBefore: 44, expression: `(?<![0-9A-Za-z<])(?=[A-Z0-9<]{0,43}<<)${expression}${EDGE}`, canonical: 'without-spaces' },
    weights: { shape: 1.5, check: Math.log(2000), namingWord: 1, heading: 1, supportingWord: 0.5, counterWord: -1, testValue: -2 },
  };
}

/** A passport number of one country: a shape and hardly ever a check digit, so that only words can tell. */
function passport(country: string, name: string, shapes: readonly string[], words: readonly string[], more: Partial<Entry> = {}): Entry {
  return { id: `${country.toLowerCase()}-passport`, name: `Passport number, ${name}`, also: words, kind: 'travel', countries: [country], about: 'The number in the upper right corner of the data page; only its surroundings tell it from others.', shapes, weights: { supportingWord: 1.6 }, words: [`passport ${name}`, `${name} passport`, ...words], supporting: ['passport', 'passport number', 'passport no'], source: 'Common practice, no source (shape of the number as printed)', ...(EXAMPLES[`${country.toLowerCase()}-passport`] ?? NONE), ...more };
}

function licence(country: string, name: string, shapes: readonly string[], words: readonly string[], more: Partial<Entry> = {}): Entry {
  return { id: `${country.toLowerCase()}-driving-licence`, name: `Driving licence number, ${name}`, also: words, kind: 'travel', countries: [country.slice(0, 2)], about: 'The number of a driving licence, field 5 of the European model or its like.', shapes, weights: { supportingWord: 1.6 }, words: ['driving licence', 'driving license', 'driver licence', "driver's license", 'drivers license', 'licence number', 'license number', ...words], source: 'Common practice, no source (shape of the number as printed)', ...(EXAMPLES[`${country.toLowerCase()}-driving-licence`] ?? NONE), ...more };
}

/** Machine-readable documents with all their check digits, passports and licences by country. */
export const TRAVEL = [
  define(
    machineReadable({
      id: 'passport-machine-readable',
      name: 'Passport machine-readable lines (TD3)',
      also: ['MRZ', 'TD3'],
      about: 'The two lines of 44 characters at the foot of a passport data page.',
      expression: `P[A-Z<][A-Z<]{3}[A-Z<]{39}${LINE_END}[A-Z0-9<]{9}\\d[A-Z<]{3}\\d{6}\\d[MFX<]\\d{6}\\d[A-Z0-9<]{14}[0-9<]\\d`,
      // Second line from 44: number, birth, expiry, personal number, and the composite over all of them.
      steps: [
        { check: 'icao', parts: [[44, 53]], at: 53 },
        { check: 'icao', parts: [[57, 63]], at: 63 },
        { check: 'icao', parts: [[65, 71]], at: 71 },
        { check: 'icao', parts: [[72, 86]], at: 86, fillerForZero: true },
        {
          check: 'icao',
          parts: [
            [44, 54],
            [57, 64],
            [65, 87],
          ],
          at: 87,
        },
      ],
      tests: ['P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<L898902C36UTO7408122F1204159ZE184226B<<<<<10'],
      source: 'ICAO Doc 9303, parts 3 and 4, 8th edition',
      passing: ['P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10', 'P<UTOLINDQVIST<<BEA<<<<<<<<<<<<<<<<<<<<<<<<<\nAB2134<<<5UTO7408122F1204159<<<<<<<<<<<<<<<0', 'passport\r\nP<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\r\nL898902C36UTO7408122F1204159ZE184226B<<<<<10'],
      nearMisses: ['P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C37UTO7408122F1204159ZE184226B<<<<<10', 'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<11', 'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10'],
    }),
  ),
  define(
    machineReadable({
      id: 'identity-card-machine-readable',
      name: 'Identity card machine-readable lines (TD1)',
      also: ['MRZ', 'TD1'],
      about: 'The three lines of 30 characters on the back of a card.',
      expression: `[IAC][A-Z<][A-Z<]{3}[A-Z0-9<]{9}[0-9<][A-Z0-9<]{15}${LINE_END}\\d{6}\\d[MFX<]\\d{6}\\d[A-Z<]{3}[A-Z0-9<]{11}\\d${LINE_END}[A-Z<]{30}`,
      steps: [
        { check: 'icao', parts: [[5, 14]], at: 14, fillerForZero: true },
        { check: 'icao', parts: [[30, 36]], at: 36 },
        { check: 'icao', parts: [[38, 44]], at: 44 },
        {
          check: 'icao',
          parts: [
            [5, 30],
            [30, 37],
            [38, 45],
            [48, 59],
          ],
          at: 59,
        },
      ],
      tests: ['I<UTOD231458907<<<<<<<<<<<<<<<7408122F1204159UTO<<<<<<<<<<<6ERIKSSON<<ANNA<MARIA<<<<<<<<<<'],
      source: 'ICAO Doc 9303, parts 3 and 5, 8th edition',
      passing: ['I<UTOD231458907<<<<<<<<<<<<<<<\n7408122F1204159UTO<<<<<<<<<<<6\nERIKSSON<<ANNA<MARIA<<<<<<<<<<', 'identity card\nI<UTOD231458907<<<<<<<<<<<<<<<\n7408122F1204159UTO<<<<<<<<<<<6\nERIKSSON<<ANNA<MARIA<<<<<<<<<<', 'I<UTOD231458907<<<<<<<<<<<<<<<\r\n7408122F1204159UTO<<<<<<<<<<<6\r\nERIKSSON<<ANNA<MARIA<<<<<<<<<<'],
      nearMisses: ['I<UTOD231458906<<<<<<<<<<<<<<<\n7408122F1204159UTO<<<<<<<<<<<6\nERIKSSON<<ANNA<MARIA<<<<<<<<<<', 'I<UTOD231458907<<<<<<<<<<<<<<<\n7408122F1204159UTO<<<<<<<<<<<7\nERIKSSON<<ANNA<MARIA<<<<<<<<<<', 'I<UTOD231458907<<<<<<<<<<<<<<\n7408122F1204159UTO<<<<<<<<<<<6\nERIKSSON<<ANNA<MARIA<<<<<<<<<<'],
    }),
  ),
  define(
    machineReadable({
      id: 'travel-card-machine-readable',
      name: 'Travel document machine-readable lines (TD2)',
      also: ['MRZ', 'TD2'],
      about: 'The two lines of 36 characters on documents of the middle size.',
      expression: `[IACP][A-Z<][A-Z<]{3}[A-Z<]{31}${LINE_END}[A-Z0-9<]{9}[0-9<][A-Z<]{3}\\d{6}\\d[MFX<]\\d{6}\\d[A-Z0-9<]{7}\\d`,
      steps: [
        { check: 'icao', parts: [[36, 45]], at: 45, fillerForZero: true },
        { check: 'icao', parts: [[49, 55]], at: 55 },
        { check: 'icao', parts: [[57, 63]], at: 63 },
        {
          check: 'icao',
          parts: [
            [36, 46],
            [49, 56],
            [57, 71],
          ],
          at: 71,
        },
      ],
      tests: ['I<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<D231458907UTO7408122F1204159<<<<<<<6'],
      source: 'ICAO Doc 9303, parts 3 and 6, 8th edition',
      passing: ['I<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nD231458907UTO7408122F1204159<<<<<<<6', 'travel document\nI<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nD231458907UTO7408122F1204159<<<<<<<6', 'I<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\r\nD231458907UTO7408122F1204159<<<<<<<6'],
      nearMisses: ['I<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nD231458908UTO7408122F1204159<<<<<<<6', 'I<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nD231458907UTO7408122F1204159<<<<<<<5', 'I<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<\nD231458907UTO7408122F1204159<<<<<<<6'],
    }),
  ),
  define(
    machineReadable({
      id: 'visa-machine-readable-a',
      name: 'Visa machine-readable lines (MRV-A)',
      also: ['MRZ', 'visa'],
      about: 'The two lines of 44 characters on a full-size visa.',
      expression: `V[A-Z<][A-Z<]{3}[A-Z<]{39}${LINE_END}[A-Z0-9<]{9}\\d[A-Z<]{3}\\d{6}\\d[MFX<]\\d{6}\\d[A-Z0-9<]{16}`,
      steps: [
        { check: 'icao', parts: [[44, 53]], at: 53 },
        { check: 'icao', parts: [[57, 63]], at: 63 },
        { check: 'icao', parts: [[65, 71]], at: 71 },
      ],
      tests: ['V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<L8988901C4XXX4009078F96121096ZE184226B<<<<<<'],
      source: 'ICAO Doc 9303, parts 3 and 7, 8th edition',
      passing: ['V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL8988901C4XXX4009078F96121096ZE184226B<<<<<<', 'visa\nV<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL8988901C4XXX4009078F96121096ZE184226B<<<<<<', 'V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\r\nL8988901C4XXX4009078F96121096ZE184226B<<<<<<'],
      nearMisses: ['V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL8988901C5XXX4009078F96121096ZE184226B<<<<<<', 'V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL8988901C4XXX4009079F96121096ZE184226B<<<<<<', 'V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<\nL8988901C4XXX4009078F96121096ZE184226B<<<<<<'],
    }),
  ),
  define(
    machineReadable({
      id: 'visa-machine-readable-b',
      name: 'Visa machine-readable lines (MRV-B)',
      also: ['MRZ', 'visa'],
      about: 'The two lines of 36 characters on a small visa.',
      expression: `V[A-Z<][A-Z<]{3}[A-Z<]{31}${LINE_END}[A-Z0-9<]{9}\\d[A-Z<]{3}\\d{6}\\d[MFX<]\\d{6}\\d[A-Z0-9<]{8}`,
      steps: [
        { check: 'icao', parts: [[36, 45]], at: 45 },
        { check: 'icao', parts: [[49, 55]], at: 55 },
        { check: 'icao', parts: [[57, 63]], at: 63 },
      ],
      tests: ['V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<L8988901C4XXX4009078F9612109<<<<<<<<'],
      source: 'ICAO Doc 9303, parts 3 and 7, 8th edition',
      passing: ['V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nL8988901C4XXX4009078F9612109<<<<<<<<', 'visa\nV<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nL8988901C4XXX4009078F9612109<<<<<<<<', 'V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\r\nL8988901C4XXX4009078F9612109<<<<<<<<'],
      nearMisses: ['V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nL8988901C5XXX4009078F9612109<<<<<<<<', 'V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<\nL8988901C4XXX4009079F9612109<<<<<<<<', 'V<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<\nL8988901C4XXX4009078F9612109<<<<<<<<'],
    }),
  ),
  define({
    id: 'passport-number',
    name: 'Passport number, any country',
    also: ['passport', 'Reisepass', 'passeport', 'pasaporte'],
    kind: 'travel',
    about: 'A number of the length that passports have, beside the word for one; which country it is of stays open.',
    shapes: ['9{9}', '9{8}', 'A9{7,8}', 'AA9{6,7}', 'AAA9{5,6}', '99AA99999', 'AX{7}9'],
    weights: { shape: -8, supportingWord: 1 },
    words: ['passport', 'passport number', 'passport no', 'passport #', 'passports', 'passeport', 'reisepass', 'passnummer', 'pasaporte', 'passaporto', 'passaporte', 'paspoort', 'paszport', 'pasnummer', 'passi', 'vegabréf', 'útlevél', 'putovnica', 'pasoš', 'pașaport', 'паспорт', 'διαβατήριο', 'pasaport', '护照', '護照', 'パスポート', '旅券', '여권', 'หนังสือเดินทาง', 'paspor', 'hộ chiếu', 'דרכון', 'جواز سفر', 'potni list', 'číslo pasu', 'cestovní pas', 'cestovný pas', 'pase nr', 'paso numeris'],
    source: 'ICAO Doc 9303-4, document numbers of up to nine characters',
    passing: ['passport UJ015659', 'passport number: 226823400', 'passport no 01AS84194'],
    nearMisses: ['order number 76164170', 'passport KDJD12ZS97734', 'KDJD12ZS9'],
  }),
  define(passport('US', 'United States', ['9{9}', 'A9{8}'], ['us passport', 'american passport', 'u.s. passport'])),
  define(passport('GB', 'United Kingdom', ['9{9}'], ['uk passport', 'british passport', 'hm passport'])),
  define(passport('DE', 'Germany', ['AX{8}', 'AX{8}9'], ['reisepass', 'passnummer', 'reisepassnummer', 'pass-nr'], { steps: [{ check: 'made-of', of: [0, 1], characters: 'CFGHJK' }, { check: 'made-of', of: [1, 9], characters: '0123456789CFGHJKLMNPRTVWXYZ' }, { check: 'letters-and-digits' }], usual: [{ check: 'icao', parts: [[0, 9]], at: 9 }], source: 'Passverordnung, serial number; check digit by ICAO Doc 9303-3' })),
  define(passport('FR', 'France', ['99AA99999'], ['passeport', 'numéro de passeport', 'n° de passeport'])),
  define(passport('IT', 'Italy', ['AA9{7}'], ['passaporto', 'numero di passaporto', 'passaporto n'])),
  define(passport('ES', 'Spain', ['AAA9{6}', 'AA9{6}'], ['pasaporte', 'número de pasaporte'])),
  define(passport('PT', 'Portugal', ['A9{6}', 'AA9{6}'], ['passaporte', 'número de passaporte'])),
  define(passport('NL', 'Netherlands', ['AAX{6}9'], ['paspoort', 'paspoortnummer'], { steps: [{ check: 'made-of', of: [2, 8], characters: '0123456789ABCDEFGHIJKLMNPQRSTUVWXYZ' }, { check: 'letters-and-digits' }] })),
  define(passport('SE', 'Sweden', ['9{8}', 'AA9{6}'], ['svenskt pass', 'passnummer', 'swedish passport'])),
  define(passport('NO', 'Norway', ['9{8}', 'AAA9{5}'], ['norsk pass', 'norwegian passport'])),
  define(passport('DK', 'Denmark', ['9{9}'], ['dansk pas', 'pasnummer', 'danish passport'])),
  define(passport('FI', 'Finland', ['AA9{7}'], ['passin numero', 'passinumero', 'passi', 'finnish passport'])),
  define(passport('PL', 'Poland', ['AA_9{7}'], ['paszport', 'paszportu', 'numer paszportu', 'nr paszportu'], { separators: ['', ' '], steps: [{ check: 'total', weights: [7, 3, 9, 1, 7, 3, 1, 7, 3], modulus: 10, equals: [0] }], source: 'Ministerstwo Spraw Wewnętrznych, numer paszportu; weights 7, 3, 1 (from memory)' })),
  define(passport('IN', 'India', ['A9{7}'], ['indian passport'])),
  define(passport('CN', 'China', ['AX9{7}'], ['护照', '护照号', '护照号码'], { steps: [{ check: 'made-of', of: [0, 1], characters: 'EGPDS' }] })),
  define(passport('JP', 'Japan', ['AA9{7}'], ['旅券', '旅券番号', 'パスポート', 'パスポート番号'])),
  define(passport('AU', 'Australia', ['A9{7}', 'AA9{7}'], ['australian passport'])),
  define(passport('CA', 'Canada', ['AA9{6}', 'A9{6}AA'], ['canadian passport', 'passeport canadien'])),
  define(
    licence('GB', 'Great Britain', ['AAAAA9{6}AAX{3}', 'AAAAA 9{6} AAX{3}', 'AAAAX9{6}AAX{3}'], ['dvla', 'driver number'], {
      steps: [
        { check: 'within', of: [6, 8], least: 1, most: 62 },
        { check: 'within', of: [8, 10], least: 1, most: 31 },
      ],
      weights: { shape: -3.5, namingWord: 7 },
      source: 'DVLA, INF18 driver number (from memory)',
    }),
  ),
  define(licence('FR', 'France', ['99AA99999', '9{12}'], ['permis de conduire', 'numéro de permis', 'permis n'])),
  define(licence('DE', 'Germany', ['X99X{6}9X'], ['führerschein', 'führerscheinnummer', 'führerschein-nr'], { steps: [{ check: 'letters-and-digits' }] })),
  define(licence('IT', 'Italy', ['AA9{7}A', "'U1'X{7}A"], ['patente', 'patente di guida', 'numero patente'])),
  define(licence('NL', 'Netherlands', ['9{10}'], ['rijbewijs', 'rijbewijsnummer'])),
  define(licence('US-CA', 'California', ['A9{7}'], ['california driver', 'dl number', 'dl no', 'ca dl'])),
  define(licence('US-NY', 'New York', ['999 999 999', '9{9}'], ['new york driver', 'client id', 'nys dl'])),
  define(licence('US-FL', 'Florida', ['A999-999-99-999-9', 'A9{12}'], ['florida driver', 'dl number', 'dl no'], { weights: { shape: -4.5, namingWord: 7 } })),
  define(
    licence('ES', 'Spain', ['9{8}A', '99/9{6}-9'], ['permiso de conducir', 'carné de conducir', 'número de permiso'], {
      steps: [
        {
          check: 'any',
          of: [
            [
              { check: 'length', of: [9] },
              { check: 'any', of: [[{ check: 'remainder', parts: [[0, 8]], modulus: 23, results: 'TRWAGMYFPDXBNJZSQVHLCKE' }], [{ check: 'made-of', of: [8, 9], characters: '0123456789' }]] },
            ],
          ],
        },
      ],
    }),
  ),
  define(licence('AU', 'Australia', ['9{8,9}', '9{6}AA'], ['licence no', 'driver licence number'])),
];
