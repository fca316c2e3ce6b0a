/** Values of the library in the places where people keep them. The aims are those of the product, less what chance takes. */
import { chance, CONTAINERS } from '@lantern/testkit';
import { toSearchText } from '../../text/search-text.js';
import { Tables } from '../../text/tables.js';
import { READY_PATTERNS } from '../library/index.js';
import { compileScanner } from '../scan/scanner.js';

const SEED = 20261129;
const scanner = compileScanner(READY_PATTERNS);
const KINDS = ['identity', 'tax', 'bank', 'payment', 'health'];
const patterns = READY_PATTERNS.filter(
  ({ kind, recognition, namingWords }) =>
    KINDS.includes(kind) && recognition.by === 'shapes' && namingWords.length > 0,
);

/** Recall at 80 that each container must reach; the rest of the names and shapes is the business of the benchmark. */
const AIMS: readonly (readonly [string, number])[] = [
  ['a line of a form', 0.98],
  ['a mail in capitals', 0.98],
  ['rows of CSV', 0.97],
  ['columns aligned by spaces', 0.93],
  ['a message of a chat', 0.95],
  ['a sentence, name before', 0.95],
  ['a sentence, value first', 0.97],
  ['a sentence, name far before', 0.93],
  ['a break behind the name', 0.95],
  ['a log with another reference', 0.95],
];

describe('values stand in', () => {
  it.each(AIMS)('%s and are found, %d of them at 80 or more', (name, aim) => {
    const contain = CONTAINERS[name];
    if (!contain) throw new Error(`There is no container "${name}"`);
    const random = chance(SEED);
    let [found, all] = [0, 0];
    for (const pattern of patterns) {
      const { text, values } = contain(pattern, random);
      const { findings } = scanner.scan(text);
      for (const value of values) {
        all += 1;
        const at = text.indexOf(value);
        const hit = findings.some(
          ({ pattern: id, start, end, certainty, rivals }) =>
            start < at + value.length &&
            end > at &&
            certainty >= 80 &&
            (id === pattern.id ||
              rivals.some((rival) => rival.pattern === pattern.id && rival.certainty >= 80)),
        );
        if (hit) found += 1;
      }
    }
    expect(found / all).toBeGreaterThanOrEqual(aim);
  });
});

/** The certainty of a payment card in a text; 0 where it is not found. */
const CARD = '4539 1488 0343 6467';
const certaintyIn = (text: string): number =>
  scanner.scan(text).findings.find(({ pattern }) => pattern === 'payment-card')?.certainty ?? 0;

describe('a name far before its value', () => {
  const near = certaintyIn(`The card number, which you gave us at the counter on the first day, is ${CARD}.`);
  it.each([
    [
      'in another sentence',
      `The card number is with us. We saw you at the counter on the first day: ${CARD}.`,
    ],
    [
      'before another number',
      `The card number, of the 12 that you gave us at the counter that day, is ${CARD}.`,
    ],
    [
      'on another line',
      `The card number\nwhich you gave us at the counter on the very first day\nis ${CARD}.`,
    ],
  ])('says less %s', (_what, text) => expect(certaintyIn(text)).toBeLessThan(near));
});

describe('a counter word', () => {
  const alone = certaintyIn(`The card number ${CARD} of the guest`);
  it.each([
    ['that has a number of its own', `Ticket 993812: the card number ${CARD} of the guest`],
    ['that is farther off than the name', `On this ticket the card number ${CARD} of the guest`],
    ['of another sentence', `We closed the ticket. The card number ${CARD} of the guest`],
  ])('%s takes nothing away', (_what, text) => expect(certaintyIn(text)).toBe(alone));
});

/** Heading over a value, by the words of the text. */
function headingOf(text: string, value: string): string | undefined {
  const search = toSearchText(text);
  const cell = new Tables(search).cellAt(search.text.indexOf(value));
  return cell && search.text.slice(cell.headingStart, cell.headingEnd).trim();
}

describe('columns aligned by spaces', () => {
  it.each([
    [
      'with headings of several words',
      'No  Card number  Sum\n1   4111         7\n2   5500         8\n',
      '5500',
      'Card number',
    ],
    ['that are indented', '  No  Card   Sum\n  1   4111   7\n  2   5500   8\n', '4111', 'Card'],
    [
      'with amounts with commas',
      'No  Sum        Card\n1   1,200.00   4111\n2   3,400.00   5500',
      '5500',
      'Card',
    ],
  ])('%s are found', (_what, text, value, heading) => expect(headingOf(text, value)).toBe(heading));

  it.each([
    ['two lines alone', 'One  of them\nand  4111'],
    [
      'sentences set with two spaces',
      'We came.  Then it rained!\nYou left.  And they 4111\nAll went.  Nobody saw.',
    ],
    ['fields with their values', 'Name:  Anna\nCard:  4111\nTown:  Quay'],
    ['indented code', '{\n    "card": 4111,\n    "sum": 7\n}'],
  ])('are not seen in %s', (_what, text) => expect(headingOf(text, '4111')).toBeUndefined());
});
