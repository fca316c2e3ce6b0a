import type { ExpressionPattern, WordListPattern } from '../../detection/index.js';
import type { Condition } from '../../policy/model/conditions.js';
import type { Policy, PolicySet, Rule } from '../../policy/model/rule.js';
import { newPolicy, newRule } from '../../policy/model/new-rule.js';
import {
  isPatternChange,
  type PreventingChange,
  type RuleChange,
  shownChange,
  withPatternChange,
  withRuleChange,
} from './change.js';
import { chanceOfAtLeast, isInForce, promiseState } from './kept.js';
import { type CaseFacts, propose } from './propose.js';
import { byEffect, effectOf, type WeighedCase } from './weigh.js';

const OUTSIDE: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };
const HOLDS: Condition = {
  ...{ kind: 'findings', pattern: 'words', distinct: true, certainty: 80, where: [], atLeast: 1 },
};
const rule: Rule = {
  ...newRule('r', 'words'),
  when: { kind: 'all', of: [HOLDS, OUTSIDE] },
  measure: null,
};
const policy: Policy = { ...newPolicy(rule), id: 'p' as never };
const set: PolicySet = { policies: [policy], texts: [], exchanges: [], spots: [] };
const words: WordListPattern = {
  ...{ origin: 'own', id: 'words' as never, name: 'Ship', kind: 'own-words', about: '' },
  words: ['Slackwater', 'Corrigan Bay'].map((text) => ({ text, weight: 3 })),
};
const numbers: ExpressionPattern = {
  ...{ origin: 'expression', id: 'words' as never, name: 'Numbers', kind: 'own-expression', about: '' },
  ...{
    expression: 'N[0-9]{6}',
    caseMatters: false,
    check: 'none',
    namingWords: ['booking'],
    supportingWords: [],
  },
  ...{ counterWords: [], wordDistance: 60, exclusions: { values: [], words: [], ranges: [] } },
  weights: { shape: 0, namingWord: 2, supportingWord: 1, counterWord: -2 },
};

const one = (
  over: Partial<CaseFacts> & { certainty?: number; values?: string[]; beside?: string[] } = {},
): CaseFacts => {
  const { certainty = 90, values = ['slackwater'], beside = [], ...facts } = over;
  return {
    ...{ id: 'x', outcome: 'false-positive', domains: ['authority.example'], department: 'Ports' },
    ...{ groups: [], from: [], into: [] },
    found: { words: { certainty, distinct: values.length, values, beside } },
    ...facts,
  };
};
const real = one({
  outcome: 'harm',
  domains: ['broker.example'],
  department: 'Treasury',
  values: ['Corrigan Bay'],
  certainty: 99,
});
const kinds = (changes: readonly PreventingChange[]) => changes.map(({ kind }) => kind);

describe('propose', () => {
  it('offers what false positives share and real cases do not, the narrow exchange first', () => {
    const changes = propose([one(), one(), real], rule, [words]);
    expect(kinds(changes)).toEqual([
      ...[
        'enter-exchange',
        'except-domain',
        'except-department',
        'raise-certainty',
        'raise-count',
        'remove-word',
      ],
    ]);
    expect(changes).toContainEqual({ kind: 'remove-word', pattern: 'words', word: 'Slackwater' });
    expect(changes).toContainEqual({
      kind: 'raise-certainty',
      rule: 'r',
      pattern: 'words',
      from: 80,
      to: 91,
    });
  });
  it('offers the programs that things were taken from and put into', () => {
    const spot = { kind: 'application' as const, name: 'Notes' };
    expect(kinds(propose([one({ from: [spot], into: [spot] })], rule, []))).toEqual(
      expect.arrayContaining(['except-source', 'except-target']),
    );
  });
  it('offers counter words and values of an own expression, and no word that it knows', () => {
    const changes = propose([one({ beside: ['tracking', 'booking'], values: ['N123456'] })], rule, [numbers]);
    expect(changes.filter(isPatternChange)).toEqual([
      { kind: 'add-counter-word', pattern: 'words', word: 'tracking' },
      { kind: 'leave-out-value', pattern: 'words', value: 'N123456' },
    ]);
  });
  it('never empties a list of words, and offers no count where bands count', () => {
    const single = { ...words, words: words.words.slice(0, 1) };
    const banded = { ...rule, measure: { pattern: 'words', distinct: true, certainty: 80, where: [] } };
    expect(kinds(propose([one()], banded, [single]))).not.toEqual(expect.arrayContaining(['remove-word']));
    expect(kinds(propose([one()], banded, [single]))).not.toContain('raise-count');
  });
  it('has nothing to offer without a false positive', () =>
    expect(propose([real], rule, [words])).toEqual([]));
});

describe('changes', () => {
  const all: readonly RuleChange[] = [
    { kind: 'except-domain', rule: 'r', domain: 'authority.example' },
    { kind: 'except-department', rule: 'r', department: 'Ports' },
    { kind: 'except-group', rule: 'r', group: 'Pilots' },
    { kind: 'except-source', rule: 'r', spot: { kind: 'application', name: 'Notes' } },
    { kind: 'except-target', rule: 'r', spot: { kind: 'host', host: 'harbour.example' } },
    { kind: 'enter-exchange', rule: 'r', department: 'Ports', domain: 'authority.example', pattern: 'words' },
    { kind: 'raise-certainty', rule: 'r', pattern: 'words', from: 80, to: 91 },
    { kind: 'raise-count', rule: 'r', pattern: 'words', from: 1, to: 3 },
  ];
  it.each(all)('$kind stands in the set it made, and not in the one before', (change) => {
    const changed = withRuleChange(set, change, 'e' as never);
    expect(isInForce({ ...set, patterns: [] }, change)).toBe(false);
    expect(isInForce({ ...changed, patterns: [] }, change)).toBe(true);
  });
  it('keep the exceptions that a rule has', () => {
    const first = withRuleChange(set, all[0]!, '' as never);
    const both = withRuleChange(first, all[1]!, '' as never);
    expect(both.policies[0]?.rules[0]?.unless).toMatchObject({
      kind: 'any',
      of: [{ kind: 'domain' }, { kind: 'sender' }],
    });
    for (const change of all.slice(0, 2)) expect(isInForce({ ...both, patterns: [] }, change)).toBe(true);
  });
  it.each([
    [words, { kind: 'remove-word', pattern: 'words', word: 'SLACKWATER' }],
    [numbers, { kind: 'leave-out-value', pattern: 'words', value: 'N123456' }],
    [numbers, { kind: 'add-counter-word', pattern: 'words', word: 'tracking' }],
  ] as const)('of a pattern stand in it', (pattern, change) => {
    const changed = withPatternChange(pattern, change)!;
    expect(isInForce({ ...set, patterns: [pattern] }, shownChange(change))).toBe(false);
    expect(isInForce({ ...set, patterns: [changed] }, shownChange(change))).toBe(true);
  });
  it('show no value that somebody moved', () => {
    const shown = shownChange({ kind: 'leave-out-value', pattern: 'words', value: 'N123456' });
    expect(JSON.stringify(shown)).not.toContain('N123456');
  });
  it('leave a pattern of another kind alone', () =>
    expect(withPatternChange(numbers, { kind: 'remove-word', pattern: 'words', word: 'a' })).toBeNull());
});

describe('effectOf', () => {
  const weighed = (over: Partial<WeighedCase>): WeighedCase => ({
    ...{ id: 'a', outcome: null, person: 'p', day: '2026-11-01' },
    before: { answer: 'block', rules: ['r'] },
    after: { answer: null, rules: [] },
    ...over,
  });
  const kept = { answer: 'block' as const, rules: ['r'] };
  it('counts what a change prevents, misses and lets through', () => {
    const effect = effectOf('r', [
      weighed({ outcome: 'false-positive' }),
      weighed({ outcome: 'false-positive', after: kept }),
      weighed({ id: 'h', outcome: 'harm' }),
      weighed({ id: 'o', outcome: 'allowed', person: 'q', after: kept }),
      weighed({ id: 'u', day: '2026-11-02' }),
      weighed({ after: null }),
      weighed({ before: { answer: 'note', rules: ['other'] }, after: { answer: 'note', rules: ['other'] } }),
    ]);
    expect(effect).toEqual({
      ...{ judged: 6, notJudged: 1, letThrough: ['h', 'u'] },
      falsePositives: { gone: 1, of: 2 },
      allowed: { missed: 0, of: 1 },
      harm: { missed: 1, of: 1 },
      undecided: { missed: 1, of: 1 },
      // p and q on the first day, p on the second; without the one on the second.
      interrupted: { before: 1.5, after: 1 },
    });
  });
  it('orders choices that miss harm last, however much they prevent', () => {
    const prevents = effectOf('r', [weighed({ outcome: 'false-positive' }), weighed({ outcome: 'harm' })]);
    const careful = effectOf('r', [weighed({ outcome: 'false-positive', after: kept })]);
    const confirmed = effectOf('r', [weighed({ outcome: 'allowed' })]);
    expect([prevents, confirmed, careful].sort(byEffect)).toEqual([careful, confirmed, prevents]);
  });
});

describe('promiseState', () => {
  // P(X ≥ 3 | mean 1) = 1 − e⁻¹(1 + 1 + ½) = 0.0803; table of the Poisson distribution in any handbook.
  it('knows the Poisson distribution', () => expect(chanceOfAtLeast(3, 1)).toBeCloseTo(0.0803, 4));
  it.each([
    ['says nothing after a day', { count: 28, days: 28 }, 1, { count: 0, days: 1 }, 'too-early'],
    ['is kept where none came', { count: 56, days: 28 }, 1, { count: 0, days: 7 }, 'kept'],
    ['is kept where the rest came', { count: 56, days: 28 }, 0.5, { count: 7, days: 7 }, 'kept'],
    ['is broken where as many came', { count: 56, days: 28 }, 0.9, { count: 14, days: 7 }, 'not-kept'],
  ] as const)('%s', (_what, before, gone, since, state) =>
    expect(promiseState(before, gone, since)).toBe(state),
  );
});
