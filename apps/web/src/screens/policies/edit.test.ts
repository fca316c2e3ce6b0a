import { newPolicy, newRule } from '@lantern/core/policy';
import type { Condition, Policy } from '@lantern/core/policy';
import { bandOf, findingsAsked, policyOf, ruleOf, TO_OUTSIDE } from '@lantern/testkit';
import {
  addBand,
  addClause,
  changeClause,
  changeFrom,
  flatten,
  graduate,
  placeClause,
  placeRule,
  problemPath,
  problemsAt,
  removeBand,
  removeRule,
  stepClause,
  stepsFrom,
} from './edit';

const unreadable: Condition = { kind: 'unreadable', reasons: [] };
const outside = TO_OUTSIDE;
const nested: Condition = { kind: 'all', of: [outside, { kind: 'any', of: [unreadable, outside] }] };
const policy = policyOf(
  'P',
  ['a', 'b', 'c'].map((id) => newRule(id, 'payment-card')),
);
const order = (changed: Policy) => changed.rules.map((rule) => rule.id).join('');

describe('changeClause', () => {
  it('changes a clause deep inside and leaves its neighbours', () => {
    const inside: Condition = { kind: 'recipient', quantity: 'every', side: 'inside' };
    expect(changeClause(nested, [1, 0], () => inside)).toEqual({
      kind: 'all',
      of: [outside, { kind: 'any', of: [inside, outside] }],
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

describe('moving clauses', () => {
  const size: Condition = { kind: 'size', atLeastKilobytes: 1 };
  const three: Condition = { kind: 'all', of: [outside, { kind: 'any', of: [unreadable] }, size] };

  it('puts a clause at a place among its neighbours', () =>
    expect(placeClause(three, [2], 0)).toEqual({
      kind: 'all',
      of: [size, outside, { kind: 'any', of: [unreadable] }],
    }));

  it.each([
    [[], []],
    [[0], ['down']],
    [[2], ['up', 'in']],
    [[1, 0], ['out']],
  ] as const)('knows the steps from %j', (path, steps) => expect(stepsFrom(three, path)).toEqual(steps));

  it('goes into the group before it, and out again', () => {
    const within = stepClause(three, [2], 'in');
    expect(within).toEqual({ kind: 'all', of: [outside, { kind: 'any', of: [unreadable, size] }] });
    expect(stepClause(within, [1, 1], 'out')).toEqual(three);
  });

  it('leaves no empty group behind', () =>
    expect(stepClause(three, [1, 0], 'out')).toEqual({ kind: 'all', of: [outside, unreadable, size] }));

  it('does nothing where a step leads nowhere', () => expect(stepClause(three, [0], 'up')).toEqual(three));
});

describe('rules', () => {
  it.each([
    [0, -1, 'abc'],
    [0, 1, 'bac'],
    [2, 0, 'cab'],
    [2, 3, 'abc'],
  ] as const)('placing rule %d at %d gives %s', (index, to, expected) =>
    expect(order(placeRule(policy, index, to))).toBe(expected),
  );

  it('removes one', () => expect(order(removeRule(policy, 1))).toBe('ac'));

  it('starts a policy with one', () =>
    expect(newPolicy(newRule('a', 'iban'), 'chat')).toMatchObject({ channels: ['chat'] }));
});

describe('bands', () => {
  const rule = ruleOf('r', { when: { kind: 'all', of: [findingsAsked(5), outside] } });
  const graded = graduate(rule, 'iban');

  it('takes the clause about findings as what it counts, and gives it back', () => {
    expect(graded).toMatchObject({
      when: { kind: 'all', of: [outside] },
      measure: { pattern: 'payment-card', distinct: true, certainty: 80 },
      bands: [{ from: 5, to: null, answer: 'block' }],
    });
    expect(flatten(graded)).toMatchObject({
      when: { kind: 'all', of: [outside, findingsAsked(5)] },
      measure: null,
      bands: [{ from: 1, to: null, answer: 'block' }],
    });
  });

  it('counts a pattern of its own where no clause names one', () =>
    expect(graduate(ruleOf('r', { when: outside }), 'iban').measure).toMatchObject({ pattern: 'iban' }));

  it('adds bands that meet, moves their border, and leaves no gap behind', () => {
    const two = addBand(graded);
    expect(two.bands.map(({ from, to }) => [from, to])).toEqual([
      [5, 24],
      [25, null],
    ]);
    const moved = changeFrom(two, 1, 10);
    expect(moved.bands.map(({ from, to }) => [from, to])).toEqual([
      [5, 9],
      [10, null],
    ]);
    expect(removeBand(moved, 1).bands.map(({ from, to }) => [from, to])).toEqual([[5, null]]);
    expect(removeBand(graded, 0)).toEqual(graded);
  });

  it('makes the strongest of bands the one outcome', () => {
    const bands = [bandOf('note', { to: 4 }), bandOf('block', { from: 5 })];
    expect(flatten({ ...graded, bands }).bands).toMatchObject([{ answer: 'block', from: 1, to: null }]);
  });
});

describe('problemsAt', () => {
  const problems = [
    { code: 'certainty-out-of-range' as const, path: ['rules', 0, 'when', 'of', 0, 'certainty'] },
    { code: 'no-name' as const, path: ['name'] },
  ];

  it('finds what stands at or below a clause, and nothing beside it', () => {
    expect(problemsAt(problems, problemPath(['rules', 0, 'when'], [0]))).toHaveLength(1);
    expect(problemsAt(problems, problemPath(['rules', 0, 'when'], [1]))).toHaveLength(0);
    expect(problemsAt(problems, problemPath(['shared'], []))).toHaveLength(0);
    expect(problemsAt(problems, ['rules', 1])).toHaveLength(0);
    expect(problemsAt(problems, ['name'])).toHaveLength(1);
  });
});
