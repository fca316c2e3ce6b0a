import type { PatternId } from '../../shared/brand.js';
import type { ExpressionPattern } from '../model/pattern.js';
import { patternSet } from '../scan/own-patterns.js';
import { compilePlainScanner, compileScanner } from '../scan/scanner.js';

const pattern = (changes: Partial<ExpressionPattern> = {}): ExpressionPattern => ({
  origin: 'expression',
  id: 'own-booking' as PatternId,
  name: 'Booking',
  kind: 'own-expression',
  about: '',
  expression: '\\bMS-?\\d{6}\\b',
  caseMatters: false,
  check: 'none',
  namingWords: ['booking'],
  supportingWords: ['crossing'],
  counterWords: ['template'],
  wordDistance: 30,
  exclusions: { values: [], words: [], ranges: [] },
  weights: { shape: 0, namingWord: 3, supportingWord: 1, counterWord: -4 },
  ...changes,
});

const scan = (own: ExpressionPattern, text: string) => {
  const fast = compileScanner(patternSet([own])).scan(text).findings;
  const plain = compilePlainScanner(patternSet([own])).scan(text).findings;
  expect(fast).toEqual(plain);
  return fast.filter((finding) => finding.pattern === own.id);
};

describe('an own expression as a pattern', () => {
  it('says by itself, by words and against them how certain it is', () => {
    const text = 'MS-104233. '.padEnd(120) + 'booking MS-104234 '.padEnd(120) + 'template MS104235';
    const certainties = scan(pattern(), text).map(({ canonical, certainty }) => [canonical, certainty]);
    expect(certainties).toEqual([
      ['MS104233', 50],
      ['MS104234', 95],
    ]);
  });

  it('counts words within its own distance only', () => {
    const text = `booking ${'x '.repeat(20)}MS-104233`;
    expect(scan(pattern(), text)[0]?.certainty).toBe(50);
    expect(scan(pattern({ wordDistance: 60 }), text)[0]?.certainty).toBeGreaterThan(80);
  });

  it('leaves out excluded values, words and ranges', () => {
    const exclusions = {
      values: ['ms 100000'],
      words: ['test'],
      ranges: [{ from: '900000', to: '999999' }],
    };
    const own = pattern({ expression: '\\b(?:MS|TESTMS)-?\\d{6}\\b', exclusions });
    const text = 'MS-100000 MS100000 TESTMS-123456 MS-899999 MS-900000 MS-999999 MS-000123';
    expect(scan(own, text).map((finding) => finding.canonical)).toEqual(['MS899999', 'MS000123']);
  });

  it('drops what fails its check and weighs what passes', () => {
    const own = pattern({ expression: '\\bK\\d{8}\\b', check: 'luhn', namingWords: [] });
    // Luhn with K counting as its two digits, 20 (ISO/IEC 7812-1 Annex B as used with letters).
    const passing = Array.from({ length: 10 }, (_unused, digit) => `K1234567${digit}`);
    const found = passing.flatMap((value) => scan(own, value));
    expect(found).toHaveLength(1);
    expect(found[0]?.evidence.map(({ code }) => code)).toContain('check-digits');
  });

  it('stands beside the ready patterns that claim the same characters', () => {
    const own = pattern({ expression: '\\b4\\d{15}\\b', namingWords: [] });
    const found = compileScanner(patternSet([own])).scan('Card number 4539148803436467').findings;
    expect(found.map((finding) => finding.pattern).sort()).toEqual(['own-booking', 'payment-card']);
  });
});
