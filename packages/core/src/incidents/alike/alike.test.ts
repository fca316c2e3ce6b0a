/** Estimates against the exact Jaccard index; bounds from Broder 1997 and the binomial distribution of equal places. */
import { chance } from '@lantern/testkit';
import { caseOf, type EarlierAttempt } from './attempts.js';
import { BANDS, bandsOf, estimateAlike, SIGNATURE_LENGTH, signatureOf } from './minhash.js';
import { templateOf } from './template.js';

const random = chance(11);
const setOf = (from: number, to: number) =>
  Array.from({ length: to - from }, (_, at) => `member ${from + at}`);

describe('MinHash', () => {
  it.each([0, 0.1, 0.25, 0.5, 0.75, 0.9, 1])('estimates a Jaccard index of %d without bias', (index) => {
    // Two sets of n members that share s: s / (2n - s) is the index.
    const size = 400;
    const shared = Math.round((2 * size * index) / (1 + index));
    const exact = shared / (2 * size - shared);
    const errors = Array.from({ length: 40 }, () => {
      const start = random.whole(0, 1e6);
      const one = signatureOf(setOf(start, start + size));
      const other = signatureOf(setOf(start + size - shared, start + 2 * size - shared));
      return estimateAlike(one!, other!) - exact;
    });
    const mean = errors.reduce((sum, error) => sum + error, 0) / errors.length;
    const spread = Math.sqrt((exact * (1 - exact)) / SIGNATURE_LENGTH);
    // Four standard errors of a mean of 40, and of a single estimate.
    expect(Math.abs(mean)).toBeLessThanOrEqual((4 * spread) / Math.sqrt(40) + 1e-9);
    for (const error of errors) expect(Math.abs(error)).toBeLessThanOrEqual(4.5 * spread + 1e-9);
  });

  it('does not depend on order or repetition, and an empty set has none', () => {
    expect(signatureOf(['a', 'b', 'b'])).toEqual(signatureOf(['b', 'a']));
    expect(signatureOf([])).toBeNull();
  });

  it('shares bands when sets are alike, and never across keys', () => {
    const one = signatureOf(setOf(0, 400))!;
    const alike = signatureOf(setOf(10, 410))!;
    const shared = bandsOf(one, 'k').filter((band) => bandsOf(alike, 'k').includes(band));
    expect(shared.length).toBeGreaterThan(BANDS / 2);
    expect(bandsOf(one, 'k').filter((band) => bandsOf(one, 'other').includes(band))).toEqual([]);
  });
});

describe('templateOf', () => {
  const mail = (number: string, booking: number, words = 'asks for a refund to the card') => {
    const text = `Good morning, the passenger of booking ${booking} ${words} ${number} by noon`;
    const start = text.indexOf(number);
    return templateOf([{ text, findings: [{ start, end: start + number.length, pattern: 'card' }] }]);
  };
  it('is the same for two fills of one form', () => {
    expect(mail('4111 1111 1111 1111', 417)).toEqual(mail('5500005555555559', 9));
  });
  it('differs where other words stand', () => {
    expect(mail('4111 1111 1111 1111', 417, 'sends this')).not.toEqual(mail('4111 1111 1111 1111', 417));
  });
  it('does not count how many rows a table has, or who stands in them', () => {
    const column = (count: number) => {
      const rows = Array.from({ length: count }, (_, at) => `P. Name${'abcdefghij'[at % 10]} XXXX ${at}`);
      const text = ['Passenger and card', ...rows, 'Best regards'].join('\n');
      const findings = [...text.matchAll(/XXXX/gu)].map(({ index }) => ({
        start: index,
        end: index + 4,
        pattern: 'p',
      }));
      return templateOf([{ text, findings }]);
    };
    expect(column(40)).toEqual(column(3));
  });
});

describe('caseOf', () => {
  const earlier = (number: number, more: Partial<EarlierAttempt>): EarlierAttempt => ({
    ...{ number, case: null, values: 12, shared: 0, textLikeness: null },
    ...more,
  });
  it.each<[string, number, EarlierAttempt[], number | null]>([
    ['12 cards, then 9 of them', 9, [earlier(1, { shared: 9 })], 1],
    ['the case of an earlier attempt', 9, [earlier(5, { case: 2, shared: 9 })], 2],
    ['half of the smaller set', 12, [earlier(1, { values: 4, shared: 2 })], 1],
    ['less than half', 12, [earlier(1, { shared: 5 })], null],
    ['the same text without values', 0, [earlier(1, { values: 0, textLikeness: 0.9 })], 1],
    ['the same form with other values', 3, [earlier(1, { values: 3, textLikeness: 1 })], null],
    ['another text', 0, [earlier(1, { values: 0, textLikeness: 0.4 })], null],
    ['the larger share wins', 10, [earlier(1, { shared: 6 }), earlier(2, { shared: 9 })], 2],
    ['nothing before', 10, [], null],
  ])('%s', (_name, values, before, expected) => expect(caseOf(values, before)?.case ?? null).toBe(expected));
});
