import type { Chance } from './random.js';

const digits = (random: Chance, count: number): string =>
  Array.from({ length: count }, () => random.whole(0, 9)).join('');

/** Leading digits set aside for the scenario: ranges of published sandbox numbers. */
const CARD_LEADS = ['411111', '424242', '555555', '510510', '222300', '601111'];

/** A 16-digit number that satisfies the Luhn check, in a range that networks use for sandboxes. */
export function cardNumber(random: Chance): string {
  const body = random.pick(CARD_LEADS) + digits(random, 9);
  return body + luhnDigit(body);
}

/** The digit that completes `body`, computed the way clerks do it by hand, apart from the check under test. */
export function luhnDigit(body: string): string {
  const sum = [...body].reverse().reduce((total, digit, index) => {
    const doubled = Number(digit) * (index % 2 === 0 ? 2 : 1);
    return total + Math.floor(doubled / 10) + (doubled % 10);
  }, 0);
  return String((10 - (sum % 10)) % 10);
}

/** Writes a card number in groups of four. */
export function grouped(number: string): string {
  return number.replace(/(\d{4})(?=\d)/g, '$1 ');
}

/** A German account number in IBAN form with correct check digits, at an invented bank. */
export function ibanNumber(random: Chance): string {
  const account = `10${digits(random, 16)}`;
  const remainder = BigInt(`${account}131400`) % 97n;
  return `DE${String(98n - remainder).padStart(2, '0')}${account}`;
}

const FILLER = '<';
const letterWorth = (unit: string): number => (unit === FILLER ? 0 : Number.parseInt(unit, 36));
const checkDigit = (field: string): string =>
  String(
    [...field].reduce((sum, unit, index) => sum + letterWorth(unit) * ([7, 3, 1][index % 3] ?? 0), 0) % 10,
  );

/** Two machine-readable lines of the state of Utopia, ICAO's own example state. */
export function passportLines(random: Chance, surname: string, given: string): string {
  const name = `P<UTO${surname}<<${given}`
    .toUpperCase()
    .replace(/[^A-Z<]/g, FILLER)
    .slice(0, 44)
    .padEnd(44, FILLER);
  const number = `L${digits(random, 8)}`;
  const birth = `${random.whole(50, 99)}0${random.whole(1, 9)}1${random.whole(0, 9)}`;
  const expiry = `3${random.whole(0, 5)}0${random.whole(1, 9)}1${random.whole(0, 9)}`;
  const personal = ''.padEnd(14, FILLER);
  const line = [
    number,
    checkDigit(number),
    'UTO',
    birth,
    checkDigit(birth),
    random.pick(['M', 'F']),
    expiry,
    checkDigit(expiry),
    personal,
    '0',
  ].join('');
  return `${name}\n${line}${checkDigit(line.slice(0, 10) + line.slice(13, 20) + line.slice(21, 43))}`;
}
