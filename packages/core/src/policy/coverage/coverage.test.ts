import { bandOf, findingsAsked, policyOf, ruleOf, setOf, SOME_TIME, TO_OUTSIDE } from '@lantern/testkit';
import { coverage } from './coverage.js';
import type { Policy, Rule } from '../model/rule.js';
import type { SpotGroup, SpotGroupId } from '../model/spots.js';
import type { SpotTerm } from '../model/spots.js';

const GROUP: SpotGroup = {
  id: 's1' as SpotGroupId,
  name: 'Sites',
  why: '',
  spots: [{ kind: 'host', host: 'up.example', under: true }],
};

const PEOPLE = [
  { address: 'a@merrowstrait.example', department: 'Fleet' },
  { address: 'b@merrowstrait.example', department: 'Fleet' },
  { address: 'c@merrowstrait.example', department: 'Crewing' },
];
const cell = (policies: readonly Policy[], side: 'outside' | 'inside' = 'outside') =>
  coverage({
    set: setOf(policies),
    patterns: ['payment-card'],
    channels: ['mail'],
    people: PEOPLE,
    at: SOME_TIME,
  }).find((each) => each.side === side)?.shares;

describe('coverage', () => {
  it('shows an empty cell as nothing for everybody', () =>
    expect(cell([policyOf('p', [ruleOf('1')])], 'inside')).toEqual([
      { answer: null, people: 3, from: 1, policy: null, rule: null, written: null, at: null },
    ]));

  it('finds the strongest answer of a graduated rule and from how many values it is given', () => {
    const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1);
    const graded = ruleOf('1', {
      when: TO_OUTSIDE,
      measure,
      bands: [bandOf('note', { to: 24 }), bandOf('block', { from: 25 })],
    });
    expect(cell([policyOf('p', [graded])])).toMatchObject([
      { answer: 'block', from: 25, people: 3, rule: '1' },
    ]);
  });

  it('counts ceilings, for whom', () => {
    const policy = policyOf('p', [ruleOf('1')], {
      ceilings: [
        {
          people: { with: [{ kind: 'department', department: 'Crewing' }], without: [] },
          answer: 'as-written',
          until: null,
        },
        { people: { with: [], without: [] }, answer: 'note', until: null },
      ],
    });
    expect(cell([policy])).toMatchObject([
      { answer: 'block', people: 1, written: 'block' },
      { answer: 'note', people: 2, written: 'block' },
    ]);
  });

  it('tells people apart that a policy names one by one', () => {
    const policy = policyOf('p', [ruleOf('1')], {
      people: { with: [], without: [{ kind: 'person', address: 'A@merrowstrait.example' }] },
    });
    expect(cell([policy])).toMatchObject([
      { answer: 'block', people: 2 },
      { answer: null, people: 1 },
    ]);
  });

  it('tries as many records in business applications as rules ask about, with the pattern in a column', () => {
    const fields = { kind: 'fields', pattern: 'payment-card', certainty: 80, atLeast: 1 } as const;
    const policy = policyOf(
      'p',
      [
        ruleOf('1', {
          when: { kind: 'all', of: [{ kind: 'rows', atLeast: 20_000 }, fields] },
          answer: 'hold',
        }),
        ruleOf('2', { when: { kind: 'rows', atLeast: 5_001 }, answer: 'note' }),
      ],
      { channels: ['business'] },
    );
    const shares = (pattern: string, rules = policy.rules) =>
      coverage({
        set: setOf([{ ...policy, rules }]),
        patterns: [pattern],
        channels: ['business'],
        people: PEOPLE,
        at: SOME_TIME,
      })[0]?.shares;
    expect(shares('payment-card')).toMatchObject([{ answer: 'hold', from: 20_000, people: 3, rule: '1' }]);
    expect(shares('iban')).toMatchObject([{ answer: 'note', from: 5_001, rule: '2' }]);
  });

  it('takes the strongest over all policies', () => {
    const weak = policyOf('weak', [ruleOf('1', { answer: 'note' })]);
    expect(cell([weak, policyOf('strong', [ruleOf('2', { answer: 'ask' })])])).toMatchObject([
      { answer: 'ask', policy: 'strong' },
    ]);
  });

  it('finds what is answered at some sites and devices alone, and says where', () => {
    const put = (spots: readonly SpotTerm[]) =>
      ruleOf('1', { when: { kind: 'all', of: [findingsAsked(1), { kind: 'put-into', spots }] } });
    const at = (rule: Rule, channel: 'browser' | 'endpoint', side: 'inside' | 'outside') =>
      coverage({
        set: setOf([policyOf('p', [rule], { channels: ['browser', 'endpoint'] })], { spots: [GROUP] }),
        patterns: ['payment-card'],
        channels: [channel],
        people: PEOPLE,
        at: SOME_TIME,
      }).find((each) => each.side === side)?.shares;
    const grouped = put([{ kind: 'spots', called: GROUP.id }]);
    expect(at(grouped, 'browser', 'outside')).toMatchObject([{ answer: 'block', at: 'up.example' }]);
    expect(at(grouped, 'browser', 'inside')).toMatchObject([{ answer: null }]);
    const strange = put([{ kind: 'device', device: 'plugged-in', name: '', trusted: false }]);
    expect(at(strange, 'endpoint', 'outside')).toMatchObject([
      { answer: 'block', at: 'any strange plugged-in' },
    ]);
    expect(at(strange, 'endpoint', 'inside')).toMatchObject([{ answer: null }]);
  });
});
