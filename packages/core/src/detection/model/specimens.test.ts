import type { PatternId } from '../../shared/brand.js';
import { patternSet } from '../scan/own-patterns.js';
import { compileScanner } from '../scan/scanner.js';
import { isKept, judgeSpecimen, specimenFigures } from './specimens.js';

const scanner = compileScanner(patternSet([]));
const outcome = (text: string, values: readonly string[], pattern = 'payment-card') =>
  judgeSpecimen(scanner.scan(text).findings, { pattern: pattern as PatternId, values });

describe('specimens', () => {
  it('count what is found, missed and too much, whatever the way of writing', () => {
    const text = 'Card number 4539 1488 0343 6467 and card number 5500005555555559';
    expect(outcome(text, ['4539-1488-0343-6467', '4111111111111112'])).toEqual({
      found: 1,
      missed: ['4111111111111112'],
      extra: ['5500005555555559'],
    });
  });

  it('count a value once that stands twice', () => {
    const text = 'Card number 4539148803436467, again card 4539 1488 0343 6467';
    expect(outcome(text, ['4539148803436467'])).toEqual({ found: 1, missed: [], extra: [] });
  });

  it('hold a text that should give nothing to that', () => {
    expect(isKept(outcome('Order 1234567812345678', []))).toBe(true);
    expect(isKept(outcome('Card number 4539148803436467', []))).toBe(false);
  });

  it('give precision and recall, and none where there is nothing to divide by', () => {
    const kept = { found: 3, missed: [], extra: [] };
    const wrong = { found: 1, missed: ['a'], extra: ['b', 'c'] };
    expect(specimenFigures([kept, wrong])).toEqual({
      specimens: 2,
      kept: 1,
      precision: 4 / 6,
      recall: 4 / 5,
    });
    expect(specimenFigures([{ found: 0, missed: [], extra: [] }])).toMatchObject({
      precision: null,
      recall: null,
    });
  });
});
