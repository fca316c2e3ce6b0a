import { whatMoves } from './moved';

const CARD = 'card 4539 1488 0343 6467';

describe('whatMoves', () => {
  it('gives the certainty of each text before and after', () => {
    const [card, nothing] = whatMoves('payment-card', { namingWord: 0 }, [CARD, 'good morning']);
    expect(card?.before).toBeGreaterThanOrEqual(80);
    expect(card?.after).toBeLessThan(80);
    expect(nothing).toEqual({ text: 'good morning', before: null, after: null });
  });

  it('moves nothing without a change, and knows only ready patterns', () => {
    expect(whatMoves('payment-card', {}, [CARD]).every((each) => each.before === each.after)).toBe(true);
    expect(whatMoves('no-such', {}, [CARD])).toEqual([]);
  });
});
