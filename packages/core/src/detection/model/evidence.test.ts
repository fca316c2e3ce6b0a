import { certaintyOf, neighbourWeight, shareAtDistance, WORD_WINDOW } from './evidence.js';

describe('certaintyOf', () => {
  it.each([
    [[], 50],
    [[Math.log(9)], 90],
    [[Math.log(99)], 99],
    [[-Math.log(9)], 10],
    [[2, -2], 50],
    [[400], 100],
    [[-400], 0],
  ])('turns log-odds %p into %d', (weights, certainty) => {
    expect(certaintyOf(weights.map((weight) => ({ code: 'shape' as const, weight })))).toBe(certainty);
  });
});

describe('shareAtDistance', () => {
  it('never rises with distance and ends at the window', () => {
    for (let distance = 1; distance <= WORD_WINDOW + 5; distance += 1) {
      expect(shareAtDistance(distance)).toBeLessThanOrEqual(shareAtDistance(distance - 1));
    }
    expect(shareAtDistance(0)).toBe(1);
    expect(shareAtDistance(WORD_WINDOW)).toBeGreaterThan(0);
    expect(shareAtDistance(WORD_WINDOW + 1)).toBe(0);
  });
});

describe('neighbourWeight', () => {
  it('speaks for a column that passes throughout and against one that passes by chance', () => {
    expect(neighbourWeight(0, 0, 0.1)).toBe(0);
    expect(neighbourWeight(30, 30, 0.1)).toBeGreaterThan(1);
    expect(neighbourWeight(30, 3, 0.1)).toBeLessThan(-3);
  });
});
