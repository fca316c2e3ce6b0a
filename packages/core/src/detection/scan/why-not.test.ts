import { READY_PATTERNS } from '../library/index.js';
import { whyNotFound } from './why-not.js';

const why = (text: string, stretch: string) => {
  const from = text.indexOf(stretch);
  return whyNotFound(text, from, from + stretch.length, READY_PATTERNS);
};

describe('whyNotFound', () => {
  it('names the pattern whose check digit fails', () => {
    const [first] = why('card 4539 1488 0343 6468', '4539 1488 0343 6468');
    expect(first).toMatchObject({ missing: 'check', start: 5, end: 24 });
    expect(why('card 4539 1488 0343 6468', '4539 1488 0343 6468').map((near) => near.pattern)).toContain(
      'payment-card',
    );
  });

  it('gives the sum of one that passes and is not certain enough', () => {
    const nearest = why('the lot 44051401359 of the sale', '44051401359');
    const pesel = nearest.find((near) => near.missing === 'certainty');
    expect(pesel?.certainty).toBeLessThan(20);
    expect(pesel?.evidence.map((item) => item.code)).toContain('check-digits');
  });

  it('tells a value that touches other letters, and one that is a digit short', () => {
    expect(
      why('code X4539148803436467', '4539148803436467').some((near) => near.missing === 'boundary'),
    ).toBe(true);
    const short = why('pesel 4405140135', '4405140135');
    expect(short.length).toBeGreaterThan(0);
  });

  it('has nothing to say about words', () =>
    expect(why('good morning to you all', 'good morning')).toEqual([]));
});
