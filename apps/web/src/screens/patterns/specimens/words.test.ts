import { figureWords, journalWords, outcomeWords } from './words';

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

describe('journalWords', () => {
  const figures = {
    looked: 800,
    withoutContent: 0,
    since: null,
    before: 10,
    now: 12,
    newly: 3,
    gone: 1,
    right: { total: 8, before: 8, now: 6 },
    wrong: { total: 4, before: 4, now: 2 },
    shifts: [],
    seconds: 1,
  };

  it('says what is new, what is gone, and what that does to what was decided', () => {
    expect(journalWords(figures)).toBe(
      'Newest 800 movements: found in 12 (was 10: 3 new, 1 gone). Of 8 that were right: 6 found (was 8). Of 4 false positives: 2 found (was 4). Precision 75 %, recall 75 %.',
    );
  });

  it('says what it cannot tell', () => {
    const none = { total: 0, before: 0, now: 0 };
    expect(
      journalWords({
        ...figures,
        newly: 0,
        gone: 0,
        before: 12,
        withoutContent: 5,
        right: none,
        wrong: none,
      }),
    ).toBe(
      'Newest 800 movements: found in 12. 5 were kept without text and cannot be checked. No incidents decided yet.',
    );
    expect(journalWords({ ...figures, looked: 0 })).toContain('no texts yet');
  });
});
