import { figureWords, outcomeWords } from './words';

describe('sentences about specimens', () => {
  it('say what was missed and what was too much', () => {
    expect(outcomeWords({ found: 1, missed: ['a'], extra: ['b', 'c', 'd', 'e', 'f'] }, 2)).toBe(
      'Missed: "a". Found and should not be: "b", "c", "d", "e" and 1 more.',
    );
    expect(outcomeWords({ found: 0, missed: [], extra: [] }, 0)).toBe('Nothing is found, as it should be.');
    expect(outcomeWords({ found: 3, missed: [], extra: [] }, 3)).toBe('Finds all 3 values.');
    expect(outcomeWords({ found: 0, missed: ['x'.repeat(90)], extra: [] }, 1)).toHaveLength(
      'Missed: "".'.length + 41,
    );
  });

  it('give figures, and what they were where they changed', () => {
    const now = { specimens: 4, kept: 3, precision: 0.75, recall: 1 };
    expect(figureWords(now, null, 0)).toBe('3 of 4 kept · precision 75 % · recall 100 %');
    expect(figureWords(now, { ...now, kept: 4, precision: 1 }, 1)).toBe(
      '3 of 4 kept · precision 75 % (was 100 %) · recall 100 % · 1 specimen changes',
    );
    expect(figureWords({ ...now, precision: null }, null, 0)).toContain('precision none');
  });
});
