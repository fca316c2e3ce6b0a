import type { PatternId } from '../../shared/brand.js';
import { isEverywhere, patternSet } from './own-patterns.js';
import { compileScanner } from './scanner.js';

describe('patternSet', () => {
  it('replaces the weights of a ready pattern and leaves the others', () => {
    const id = 'payment-card' as PatternId;
    const set = patternSet([{ origin: 'adjusted', id, name: '', weights: { shape: -15 } }]);
    const card = set.find((pattern) => pattern.id === id);
    expect(card?.origin === 'ready' && card.weights.shape).toBe(-15);
    expect(card?.origin === 'ready' && card.weights.check).toBeCloseTo(Math.log(10), 1);
    const text = 'card 4539 1488 0343 6467';
    expect(compileScanner(patternSet([])).scan(text).findings).toHaveLength(1);
    expect(
      compileScanner(set)
        .scan(text)
        .findings.filter((finding) => finding.pattern === id),
    ).toEqual([]);
  });

  it('knows what stands in every mail', () => {
    expect(isEverywhere('mail-address')).toBe(true);
    expect(isEverywhere('payment-card')).toBe(false);
  });
});
