import { Columns } from '../text/columns.js';
import { certaintyOf, type EvidenceCode, WORD_WINDOW } from './evidence.js';
import { evidenceFor } from './candidate.js';
import { paymentCard } from './library/payment.js';

const NUMBER = '4539148803436467';

/** Evidence for the number where it stands in `text`. */
function weigh(text: string, around = { shaped: 0, passing: 0 }) {
  const start = text.indexOf(NUMBER);
  const candidate = { start, end: start + NUMBER.length, result: paymentCard.check(NUMBER) };
  return evidenceFor(candidate, paymentCard, { text, columns: new Columns(text), around });
}

const codes = (text: string): EvidenceCode[] => weigh(text).map((item) => item.code);
const weightOf = (text: string, code: EvidenceCode) =>
  weigh(text).find((item) => item.code === code)?.weight ?? 0;

describe('words near a value', () => {
  it.each([
    ['before it', `card ${NUMBER}`],
    ['after it', `${NUMBER} (card)`],
    ['in capitals', `CARD ${NUMBER}`],
    ['on the line above', `your card\n${NUMBER}`],
    ['of two words', `carte bancaire: ${NUMBER}`],
    ['in another language', `Kreditkarte ${NUMBER}`],
  ])('count %s', (_name, text) => expect(codes(text)).toContain('supporting-word'));

  it.each([
    ['inside a longer word', `discard ${NUMBER}`],
    ['with letters behind', `cardiology ${NUMBER}`],
    ['beyond the window', `card${' '.repeat(WORD_WINDOW + 2)}${NUMBER}`],
    ['cut by the edge of the window', `placard${'x'.repeat(0)}${' '.repeat(WORD_WINDOW - 3)}${NUMBER}`],
  ])('do not count %s', (_name, text) => expect(codes(text)).not.toContain('supporting-word'));

  it('weigh less with distance, and the nearest one counts', () => {
    const near = weightOf(`card ${NUMBER}`, 'supporting-word');
    const far = weightOf(`card${' '.repeat(50)}${NUMBER}`, 'supporting-word');
    expect(near).toBe(paymentCard.weights.supportingWord);
    expect(far).toBeGreaterThan(0);
    expect(far).toBeLessThan(near);
    expect(weightOf(`card${' '.repeat(40)}card ${NUMBER}`, 'supporting-word')).toBe(near);
  });

  it('speak against a value as well', () => {
    expect(weightOf(`tracking ${NUMBER}`, 'counter-word')).toBe(paymentCard.weights.counterWord);
    expect(weightOf(`tracking of the card ${NUMBER}`, 'counter-word')).toBeGreaterThan(
      paymentCard.weights.counterWord,
    );
  });
});

describe('the heading of a column', () => {
  const sheet = (heading: string) => `Booking;${heading};Refund\nMS-1;4111111111111112;1\nMS-2;${NUMBER};2`;

  it.each(['Card number', 'CARD', 'Kartennummer', 'credit card no.'])('counts when it says %p', (heading) => {
    expect(codes(sheet(heading))).toContain('column-heading');
  });

  it('speaks against the value when it names something else', () => {
    expect(weightOf(sheet('Tracking'), 'counter-word')).toBe(paymentCard.weights.counterWord);
    expect(certaintyOf(weigh(sheet('Tracking')))).toBeLessThan(20);
  });

  it('counts once, not again as a word near the first row', () => {
    const found = codes(`Card number;x\n${NUMBER};1`);
    expect(found.filter((code) => code === 'column-heading' || code === 'supporting-word')).toEqual([
      'column-heading',
    ]);
  });

  it('leaves the words of other rows alone', () => {
    expect(codes(`Booking;Number\ncard;1\nx;${NUMBER}`)).not.toContain('supporting-word');
  });
});

describe('what surrounds the digits', () => {
  it.each([
    ['a path', `https://shop.example/a/${NUMBER}/b`],
    ['an address', `x@${NUMBER}`],
    ['a hyphenated code', `AB-${NUMBER}`],
    ['a code that goes on', `${NUMBER}-77`],
    ['a decimal', `${NUMBER}.5`],
  ])('speaks against a part of %s', (_name, text) => expect(codes(text)).toContain('inside-longer-code'));

  it.each([
    ['the end of a sentence', `card ${NUMBER}.`],
    ['brackets', `(${NUMBER})`],
    ['a colon', `card: ${NUMBER}`],
    ['quotation marks', `"${NUMBER}"`],
  ])('does not speak against %s', (_name, text) => expect(codes(text)).not.toContain('inside-longer-code'));

  it('takes neighbours of the same shape as a sample', () => {
    const all = weigh(NUMBER, { shaped: 20, passing: 20 }).find((item) => item.code === 'neighbours');
    const few = weigh(NUMBER, { shaped: 20, passing: 2 }).find((item) => item.code === 'neighbours');
    expect(all?.weight).toBeGreaterThan(0);
    expect(few?.weight).toBeLessThan(0);
  });
});

describe('the check of a card', () => {
  it.each([
    ['an issued range and length', '4539148803436467', true],
    ['fifteen digits of a range of fifteen', '378282246310005', true],
    ['spaces in groups', '4539 1488 0343 6467', true],
    ['a range nobody issues', '1234567890123452', false],
    ['a length that range does not have', '55555555555544', false],
    ['the same digit throughout', '8888888888888888', false],
    ['all zeros', '0000000000000000', false],
  ])('reads %s', (_name, written, passes) => expect(paymentCard.check(written).passes).toBe(passes));
});
