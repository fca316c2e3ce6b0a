import type { PolicyId, RuleId } from '../shared/brand.js';
import { MAX_NESTING, policyProblems } from './problems.js';
import type { Condition, Policy, Rule } from './rule.js';

const context = { patterns: new Set(['payment-card']), otherNames: ['Taken'] };
const findings = (over: object = {}): Condition => ({
  kind: 'findings',
  pattern: 'payment-card',
  atLeast: 1,
  distinct: true,
  certainty: 80,
  ...over,
});
const rule = (over: Partial<Rule> = {}): Rule => ({
  id: 'r' as RuleId,
  when: findings(),
  unless: null,
  answer: 'block',
  severity: 'low',
  notice: 'Why',
  endsPolicy: false,
  ...over,
});
const policy = (over: Partial<Policy> = {}): Policy => ({
  id: 'p' as PolicyId,
  name: 'Cards',
  purpose: '',
  channels: ['mail'],
  rules: [rule()],
  ...over,
});
const nested = (depth: number): Condition =>
  depth === 0 ? findings() : { kind: 'all', of: [nested(depth - 1)] };
const codes = (given: Policy) =>
  policyProblems(given, context).map((problem) => `${problem.code} ${problem.path.join('.')}`);

describe('policyProblems', () => {
  it('has nothing to say about a whole policy', () => expect(codes(policy())).toEqual([]));

  it.each<[string, Partial<Policy>, string]>([
    ['no name', { name: ' ' }, 'no-name name'],
    ['a name in use', { name: 'Taken' }, 'duplicate-name name'],
    ['no rules', { rules: [] }, 'no-rules rules'],
    ['no channel', { channels: [] }, 'no-channel channels'],
    [
      'a certainty of 140',
      { rules: [rule({ when: findings({ certainty: 140 }) })] },
      'certainty-out-of-range rules.0.when.certainty',
    ],
    [
      'a certainty that is no number',
      { rules: [rule({ when: findings({ certainty: Number.NaN }) })] },
      'certainty-out-of-range rules.0.when.certainty',
    ],
    [
      'a count of nothing',
      { rules: [rule({ when: findings({ atLeast: 0 }) })] },
      'count-out-of-range rules.0.when.atLeast',
    ],
    [
      'a pattern that is gone',
      { rules: [rule({ when: findings({ pattern: 'gone' }) })] },
      'unknown-pattern rules.0.when.pattern',
    ],
    ['an empty clause', { rules: [rule({ unless: { kind: 'any', of: [] } })] }, 'empty-group rules.0.unless'],
    [
      'a domain with a space',
      { rules: [rule({ unless: { kind: 'domain', quantity: 'any', domains: ['a b.example'] } })] },
      'not-a-domain rules.0.unless.domains.0',
    ],
    [
      'a list without domains',
      { rules: [rule({ unless: { kind: 'domain', quantity: 'any', domains: [] } })] },
      'no-domains rules.0.unless.domains',
    ],
    [
      'an answer mail cannot give',
      { rules: [rule({ answer: 'ask' })] },
      'answer-not-on-channel rules.0.answer',
    ],
    ['a refusal without words', { rules: [rule({ notice: '' })] }, 'answer-without-text rules.0.notice'],
  ])('names %s', (_name, over, expected) => expect(codes(policy(over))).toEqual([expected]));

  it('refuses clauses nested too deep to read', () => {
    expect(codes(policy({ rules: [rule({ when: nested(MAX_NESTING) })] }))).toEqual([]);
    expect(codes(policy({ rules: [rule({ when: nested(MAX_NESTING + 1) })] }))[0]).toMatch(
      /^nested-too-deep/,
    );
  });

  it('names a rule behind one that ends the policy for every movement', () => {
    const everything: Condition = {
      kind: 'any',
      of: [
        { kind: 'recipient', quantity: 'any', side: 'inside' },
        { kind: 'recipient', quantity: 'any', side: 'outside' },
      ],
    };
    expect(codes(policy({ rules: [rule({ when: everything, endsPolicy: true }), rule()] }))).toEqual([
      'never-reached rules.1',
    ]);
    expect(codes(policy({ rules: [rule({ endsPolicy: true }), rule()] }))).toEqual([]);
  });
});
