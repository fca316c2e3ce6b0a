import { labelProblems, type Label, NO_LABELS } from '@lantern/core/labels';
import { type LabelId } from '@lantern/core/shared';
import { newLabel, nextRank } from '@lantern/core/labels';
import { moved, newAutomatic, newOffer, replaced, toggled, without } from './edit';

describe('nextRank', () => {
  it.each([
    [[], 100],
    [[100], 200],
    [[100, 340], 400],
    [[1000], 999],
    [[1000, 999, 998], 997],
  ])('above %j is %d', (ranks, rank) => {
    expect(nextRank(ranks.map((each) => ({ rank: each })))).toBe(rank);
  });
});

describe('what is begun anew', () => {
  const first = { id: 'a' as LabelId, ...newLabel([]) };
  const second: Label = { id: 'b' as LabelId, ...newLabel([first]) };

  it('has a name and a rank of its own, and only what must still be written is pointed out', () => {
    expect([second.name, second.rank]).toEqual(['New label 2', 200]);
    const set = {
      ...NO_LABELS,
      labels: [first, second],
      offers: [{ id: 'o' as never, ...newOffer([], [first, second]) }],
    };
    const codes = labelProblems(set, { people: null, patterns: null, places: null }).map(({ code }) => code);
    expect([...new Set(codes)].sort()).toEqual(['no-choosing-words', 'told-nothing', 'wider-than-read']);
  });

  it('is a rule that only suggests', () => {
    expect(newAutomatic([], [first])).toMatchObject({ label: 'a', does: 'suggest', lowersPeople: false });
  });
});

describe('lists', () => {
  it('change without touching the old one', () => {
    const list = [{ n: 1 }, { n: 2 }, { n: 3 }];
    expect(replaced(list, 1, { n: 9 })).toEqual([{ n: 1 }, { n: 9 }, { n: 3 }]);
    expect(without(list, 0)).toEqual([{ n: 2 }, { n: 3 }]);
    expect(moved([1, 2, 3], 2, -2)).toEqual([3, 1, 2]);
    expect(moved([1, 2, 3], 0, -1)).toEqual([1, 2, 3]);
    expect(toggled(['a'], 'b')).toEqual(['a', 'b']);
    expect(toggled(['a', 'b'], 'a')).toEqual(['b']);
    expect(list).toHaveLength(3);
  });
});
