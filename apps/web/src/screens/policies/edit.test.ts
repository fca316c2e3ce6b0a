import type { Condition, Policy, PolicyId } from '@lantern/core';
import { addClause, changeClause, moveRule, newRule, problemPath, problemsAt, removeRule } from './edit';

const unreadable: Condition = { kind: 'unreadable' };
const outside: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };
const nested: Condition = { kind: 'all', of: [outside, { kind: 'any', of: [unreadable, outside] }] };
const policy: Policy = {
  id: 'p' as PolicyId,
  name: 'P',
  purpose: '',
  channels: ['mail'],
  rules: ['a', 'b', 'c'].map((id) => newRule(id, 'payment-card')),
};
const order = (changed: Policy) => changed.rules.map((rule) => rule.id).join('');

describe('changeClause', () => {
  it('changes a clause deep inside and leaves its neighbours', () => {
    const changed = changeClause(nested, [1, 0], () => ({
      kind: 'recipient',
      quantity: 'every',
      side: 'inside',
    }));
    expect(changed).toEqual({
      kind: 'all',
      of: [outside, { kind: 'any', of: [{ kind: 'recipient', quantity: 'every', side: 'inside' }, outside] }],
    });
    expect(nested).toMatchObject({ of: [outside, { of: [unreadable, outside] }] });
  });

  it('takes a clause out', () => {
    expect(changeClause(nested, [1, 1], () => null)).toEqual({
      kind: 'all',
      of: [outside, { kind: 'any', of: [unreadable] }],
    });
    expect(changeClause(outside, [], () => null)).toBeNull();
  });
});

describe('addClause', () => {
  it('adds to a group, and makes one of a lone clause', () => {
    expect(addClause(nested, [1], unreadable)).toMatchObject({ of: [{}, { of: [{}, {}, unreadable] }] });
    expect(addClause(outside, [], unreadable)).toEqual({ kind: 'all', of: [outside, unreadable] });
  });
});

describe('rules', () => {
  it.each([
    [0, -1, 'abc'],
    [0, 1, 'bac'],
    [2, -1, 'acb'],
    [2, 1, 'abc'],
  ] as const)('moving rule %d by %d gives %s', (index, by, expected) =>
    expect(order(moveRule(policy, index, by))).toBe(expected),
  );

  it('removes one', () => expect(order(removeRule(policy, 1))).toBe('ac'));
});

describe('problemsAt', () => {
  const problems = [
    { code: 'certainty-out-of-range' as const, path: ['rules', 0, 'when', 'of', 0, 'certainty'] },
    { code: 'no-name' as const, path: ['name'] },
  ];

  it('finds what stands at or below a clause, and nothing beside it', () => {
    expect(problemsAt(problems, problemPath(0, 'when', [0]))).toHaveLength(1);
    expect(problemsAt(problems, problemPath(0, 'when', [1]))).toHaveLength(0);
    expect(problemsAt(problems, ['rules', 1])).toHaveLength(0);
    expect(problemsAt(problems, ['name'])).toHaveLength(1);
  });
});
