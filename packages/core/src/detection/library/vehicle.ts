import { define } from './entry/define.js';

/** Letters of the vehicle number by value (ISO 3779 leaves out I, O and Q; values as 49 CFR 565.15 gives them). */
const VEHICLE_VALUES = { A: 1, B: 2, C: 3, D: 4, E: 5, F: 6, G: 7, H: 8, J: 1, K: 2, L: 3, M: 4, N: 5, P: 7, R: 9, S: 2, T: 3, U: 4, V: 5, W: 6, X: 7, Y: 8, Z: 9 };
/** Weights of seventeen places; the check digit itself, in the middle, has none and is compared with the remainder. */
const VEHICLE_WEIGHTS = [8, 7, 6, 5, 4, 3, 2, 10, 0, 9, 8, 7, 6, 5, 4, 3, 2];

/** Cars and lorries. */
export const VEHICLE = [
  define({
    id: 'vehicle-number',
    name: 'Vehicle identification number (VIN)',
    also: ['VIN', 'Fahrgestellnummer', 'numéro de châssis'],
    kind: 'vehicle',
    about: 'Seventeen characters; a check digit in the middle where North American rules hold.',
    shapes: ['X{17}', 'x{17}'],
    steps: [{ check: 'made-of', of: [0, 17], characters: '0123456789ABCDEFGHJKLMNPRSTUVWXYZ' }, { check: 'made-of', of: [13, 17], characters: '0123456789' }, { check: 'letters-and-digits' }],
    usual: [{ check: 'weighted', weights: VEHICLE_WEIGHTS, from: 0, at: 8, modulus: 11, results: '0123456789X', letterValues: VEHICLE_VALUES }],
    weights: { shape: -4.2, structure: 0.4, namingWord: 5.5 },
    words: ['vin', 'vehicle identification', 'vehicle identification number', 'chassis number', 'chassis no', 'chassis', 'fahrgestellnummer', 'fahrzeug-identifizierungsnummer', 'fin', 'numéro de châssis', 'número de bastidor', 'telaio', 'chassisnummer'],
    languages: ['de', 'fr', 'es', 'it', 'nl'],
    tests: ['1M8GDM9AXKP042788', '11111111111111111'],
    source: 'ISO 3779:2009; check digit 49 CFR 565.15',
    passing: ['vin LH5SM7WWSPG4F3054', 'vehicle identification: 36WFPRFTRUA9V6679', 'vehicle identification number F96T3SPRJ79F12202'],
    nearMisses: ['order number XG6GCEF8FBSL77518', 'vin F1EX6Y90NUWAU55537734', 'F1EX6Y90NUWAU5553'],
  }),
  define({
    id: 'gb-number-plate',
    name: 'Number plate, United Kingdom',
    also: ['registration', 'VRM'],
    kind: 'vehicle',
    countries: ['GB'],
    about: 'Two letters, two digits, three letters.',
    shapes: ['AA99 AAA', 'AA99AAA'],
    steps: [
      { check: 'made-of', of: [0, 2], characters: 'ABCDEFGHJKLMNOPRSTUVWXY' },
      { check: 'made-of', of: [4, 7], characters: 'ABCDEFGHJKLMNOPRSTUVWXYZ' },
    ],
    weights: { shape: -4 },
    words: ['number plate', 'registration', 'registration number', 'vehicle registration', 'reg', 'vrm', 'licence plate'],
    source: 'DVLA, INF104 current style number plates',
    passing: ['number plate LK49 HUH', 'registration: VA25 VFH', 'registration number SU28 CRJ'],
    nearMisses: ['order number WR79 FJR', 'number plate YF41CGP7734', 'YF41CGP'],
  }),
  define({
    id: 'de-number-plate',
    name: 'Number plate, Germany',
    also: ['Kfz-Kennzeichen'],
    kind: 'vehicle',
    countries: ['DE'],
    about: 'District, letters and up to four digits.',
    shapes: ['A-A 9{1,4}', 'A-AA 9{1,4}', 'AA-A 9{1,4}', 'AA-AA 9{1,4}', 'AAA-A 9{1,4}', 'AAA-AA 9{1,4}'],
    weights: { shape: -4.5 },
    words: ['kennzeichen', 'kfz-kennzeichen', 'nummernschild', 'amtliches kennzeichen', 'number plate'],
    source: 'Fahrzeug-Zulassungsverordnung, annex 1',
    passing: ['kennzeichen OMK-LY 7374', 'kfz-kennzeichen: L-HB 6213', 'nummernschild N-Y 3'],
    nearMisses: ['order number RP-LO 277', 'kennzeichen CEP-C 2977734', 'CEP-C 297'],
  }),
  define({ id: 'fr-number-plate', name: 'Number plate, France', also: ["plaque d'immatriculation"], kind: 'vehicle', countries: ['FR'], about: 'Two letters, three digits, two letters.', shapes: ['AA-999-AA', 'AA 999 AA'], weights: { shape: -3.8 }, words: ['immatriculation', "plaque d'immatriculation", 'plaque', 'number plate'], source: 'Arrêté du 9 février 2009, système d’immatriculation des véhicules', passing: ['immatriculation CY 693 OJ', "plaque d'immatriculation: QL-781-QU", 'plaque BG-186-YX'], nearMisses: ['order number VE 775 FJ', 'immatriculation UH-961-OC7734', 'UH-961-OC'] }),
  define({
    id: 'railway-vehicle',
    name: 'Railway vehicle number',
    also: ['UIC number', 'EVN', 'Wagennummer'],
    kind: 'vehicle',
    about: 'Twelve digits of a wagon or engine.',
    shapes: ['99 99 9999 999-9', '9{12}', '99 99 9 999 999-9'],
    steps: [{ check: 'luhn' }],
    words: ['wagon number', 'railway vehicle', 'uic', 'evn', 'wagennummer', 'wagon'],
    source: 'UIC leaflet 438; European vehicle number, Decision 2012/757/EU appendix 6',
    passing: ['wagon number 50 42 0 339 511-7', 'railway vehicle: 77 19 3 364 322-9', 'uic 504335172095'],
    nearMisses: ['wagon number 47 53 1413 877-2', 'wagon number 624245559926', 'order number 19 42 1 056 772-4'],
  }),
];
