import fc from 'fast-check';
import type { PatternId } from '../../shared/brand.js';
import { READY_PATTERNS } from '../library/index.js';
import { certaintyFor } from '../model/finding.js';
import type { WordListPattern } from '../model/pattern.js';
import { compileScanner } from './scanner.js';

const slackwater: WordListPattern = {
  origin: 'own',
  id: 'slackwater' as PatternId,
  name: 'Ship purchase',
  kind: 'own-words',
  about: '',
  words: [{ text: 'Slackwater', weight: 3 }],
};
const scanner = compileScanner([...READY_PATTERNS, slackwater]);
const found = (text: string, pattern: string) =>
  scanner.scan(text).findings.filter((finding) => finding.pattern === pattern);
const best = (text: string, pattern: string) =>
  Math.max(0, ...scanner.scan(text).findings.map((finding) => certaintyFor(finding, pattern)));

describe.each(READY_PATTERNS)('the ready pattern $id', (pattern) => {
  it.each(pattern.examples.passing)('is certain of %j', (text) => {
    expect(best(text, pattern.id)).toBeGreaterThanOrEqual(80);
  });

  it.each(pattern.examples.nearMisses)('is not certain of %j', (text) => {
    expect(best(text, pattern.id)).toBeLessThan(50);
  });

  it('names its source and carries examples both ways', () => {
    expect(pattern.source).not.toBe('');
    expect(pattern.examples.passing.length).toBeGreaterThanOrEqual(3);
    expect(pattern.examples.nearMisses.length).toBeGreaterThanOrEqual(3);
  });
});

describe('certainty of a payment card', () => {
  it('is high near the word card and low in a tracking number', () => {
    expect(best('card 4539 1488 0343 6467', 'payment-card')).toBeGreaterThanOrEqual(90);
    expect(best('tracking number 4539148803436467', 'payment-card')).toBeLessThan(20);
  });

  it('stays below 60 without any context', () => {
    expect(best('4539 1488 0343 6467', 'payment-card')).toBeLessThan(60);
    expect(best('4539148803436467', 'payment-card')).toBeLessThan(60);
  });

  it('counts the heading of its column, and not the words of other rows', () => {
    const sheet =
      'Booking\tCard number\tRefund\nMS-1\t4539148803436467\t84.00\nMS-2\t6011000990139424\t12.50';
    const findings = found(sheet, 'payment-card');
    expect(findings).toHaveLength(2);
    for (const finding of findings) {
      expect(finding.certainty).toBeGreaterThanOrEqual(90);
      expect(finding.evidence.map((item) => item.code)).toContain('column-heading');
      expect(finding.evidence.map((item) => item.code)).not.toContain('counter-word');
    }
  });

  it('falls among many numbers of the same shape that fail the check', () => {
    const numbers = Array.from(
      { length: 40 },
      (_unused, index) => `45391488034364${String(index).padStart(2, '0')}`,
    );
    expect(best(`visa\n${numbers.join('\n')}`, 'payment-card')).toBeLessThan(80);
  });

  it.each([
    ['in a link', 'see https://shop.example/card/4539148803436467/edit'],
    ['inside a longer run of digits', 'card 14539148803436467123456'],
    ['inside a word', 'card A4539148803436467'],
  ])('does not rest on digits %s', (_name, text) => expect(best(text, 'payment-card')).toBeLessThan(80));

  it('tells published test numbers apart', () => {
    const [finding] = found('card 4111111111111111', 'payment-card');
    expect(finding?.evidence.some((item) => item.code === 'test-value' && item.weight < 0)).toBe(true);
  });

  it('gives equal values one canonical form however they are written', () => {
    const text = 'card 4539 1488 0343 6467, card 4539-1488-0343-6467, card ４５３９１４８８０３４３６４６７';
    const findings = found(text, 'payment-card');
    expect(findings).toHaveLength(3);
    expect(new Set(findings.map((finding) => finding.canonical)).size).toBe(1);
    expect(findings.map((finding) => text.slice(finding.start, finding.end))).toEqual([
      '4539 1488 0343 6467',
      '4539-1488-0343-6467',
      '４５３９１４８８０３４３６４６７',
    ]);
  });
});

describe('compileScanner', () => {
  it('finds own words beside and inside other findings, in the order of the text', () => {
    const { findings } = scanner.scan('Slackwater card 4539 1488 0343 6467 for slackwater');
    expect(findings.map((finding) => finding.pattern)).toEqual(['slackwater', 'payment-card', 'slackwater']);
  });

  it('gives offsets inside the text, sorted, for anything at all', () => {
    const pieces = fc.constantFrom(
      '4539 1488 0343 6467',
      'card',
      '\u200b',
      'GB29NWBK60161331926819',
      '\ud800',
      '\n',
      ',',
      'Slackwater',
    );
    fc.assert(
      fc.property(fc.array(fc.oneof(pieces, fc.string({ unit: 'binary' }))), (texts) => {
        const text = texts.join(' ');
        let previous = 0;
        for (const finding of scanner.scan(text).findings) {
          expect(finding.start).toBeGreaterThanOrEqual(previous);
          expect(finding.end).toBeGreaterThan(finding.start);
          expect(finding.end).toBeLessThanOrEqual(text.length);
          previous = finding.start;
        }
      }),
    );
  });

  it('answers a megabyte of digits without spaces, and one of nothing but separators', () => {
    expect(scanner.scan('4'.repeat(1_000_000)).findings).toEqual([]);
    expect(scanner.scan('4 -'.repeat(400_000)).findings).toEqual([]);
  });
});
