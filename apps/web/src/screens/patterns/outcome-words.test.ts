import { outcomeWords } from './outcome-words';

const clean = { kept: 3, blankLines: 0, duplicates: 0, tooLong: [], withoutLetters: [], overLimit: 0 };

describe('outcomeWords', () => {
  it('says only what happened', () => expect(outcomeWords(clean)).toBe('3 words are kept.'));

  it('says what was left out, where and why', () => {
    const words = outcomeWords({
      kept: 100000,
      blankLines: 2,
      duplicates: 1,
      tooLong: [7],
      withoutLetters: [1, 2, 3, 4, 5, 6, 7, 8, 9],
      overLimit: 12,
    });
    expect(words).toContain('100,000 words are kept.');
    expect(words).toContain('left out: line 7.');
    expect(words).toContain('lines 1, 2, 3, 4, 5, 6, 7, 8 and more');
    expect(words).toContain('12 more were left out');
  });
});
