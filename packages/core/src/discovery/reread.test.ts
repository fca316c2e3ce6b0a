import { type LookedFacts, rereadOf } from './reread.js';

const facts = (over: Partial<LookedFacts> = {}): LookedFacts => ({
  ...{ patterns: { berths: 'd1', crew: 'd2' }, wanted: ['date'], labels: 'l1', ...over },
});
const having = (now: Partial<LookedFacts>): readonly string[] | 'all' => {
  const reread = rereadOf(facts(), facts(now));
  return reread.kind === 'all' ? 'all' : [...reread.patterns];
};

describe('rereadOf', () => {
  it('reads nothing again where nothing changed', () => expect(having({})).toEqual([]));

  it.each([
    ['a new pattern', { patterns: { berths: 'd1', crew: 'd2', fares: 'd3' } }],
    ['a pattern that is another now', { patterns: { berths: 'd1', crew: 'd9' } }],
    ['a pattern that a rule asks for now', { wanted: ['date', 'telephone'] }],
    ['other labels', { labels: 'l2' }],
    ['one gone and one new', { patterns: { berths: 'd1', fares: 'd3' } }],
  ])('reads everything again for %s', (_what, now) => expect(having(now)).toBe('all'));

  it('reads again what had a pattern that is gone, or that no rule asks for any more', () => {
    expect(having({ patterns: { berths: 'd1' } })).toEqual(['crew']);
    expect(having({ wanted: [] })).toEqual(['date']);
    expect(having({ patterns: {}, wanted: [] })).toEqual(['berths', 'crew', 'date']);
  });

  it('is not misled by names that every object has', () => {
    const before = facts({ patterns: { berths: 'd1', constructor: 'd5' } });
    expect(rereadOf(before, facts({ patterns: { berths: 'd1' } }))).toEqual({
      kind: 'having',
      patterns: new Set(['constructor']),
    });
  });
});
