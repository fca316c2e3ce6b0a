import { READY_PATTERNS } from '../../detection/library/index.js';
import { setOf } from '@lantern/testkit';
import { packDraft, PACKS, patternsFor } from './packs.js';
import { gravityOf } from '../checks/problem.js';
import { setProblems } from '../checks/set-problems.js';

const choices = (over: object = {}) => {
  let made = 0;
  return {
    countries: ['NO', 'DE'],
    channels: ['mail', 'chat'] as const,
    noteFirst: true,
    newId: () => `id ${(made += 1)}`,
    ...over,
  };
};

describe.each(PACKS)('the pack $id', (pack) => {
  it.each([[[]], [['NO', 'DE', 'US']]])(
    'is a draft without anything to mend, for the countries %j',
    (countries) => {
      const { policy, text } = packDraft(pack, choices({ countries }));
      const problems = setProblems(setOf([policy], { texts: [text] }), {
        patterns: new Set(READY_PATTERNS.map(({ id }) => String(id))),
        withoutSpecimens: new Set(),
        people: null,
        at: 0,
      });
      expect(problems.filter(({ problem }) => gravityOf(problem.code) === 'must')).toEqual([]);
      expect(policy.rules.length).toBeGreaterThan(0);
    },
  );

  it('looks for patterns of the chosen countries and of none, and names its source', () => {
    for (const rule of pack.rules)
      for (const { countries } of patternsFor(rule, pack, { countries: ['NO'] }))
        expect(!pack.byCountry || countries.length === 0 || countries.includes('NO')).toBe(true);
    expect(pack.source.length).toBeGreaterThan(10);
  });
});

it('begins with a ceiling of note where that is wanted', () => {
  const [pack] = PACKS;
  if (!pack) throw new Error('no pack');
  expect(packDraft(pack, choices()).policy.ceilings).toMatchObject([{ answer: 'note' }]);
  expect(packDraft(pack, choices({ noteFirst: false })).policy.ceilings).toEqual([]);
});
