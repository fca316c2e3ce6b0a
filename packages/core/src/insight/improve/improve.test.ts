import type { Policy } from '../../policy/model/rule.js';
import { newPolicy, newRule } from '../../policy/model/new-rule.js';
import type { RuleFigures } from '../rules/rule-cost.js';
import { improvementKey, improvements, type StateFacts } from './improve.js';

const NOW = Date.UTC(2026, 10, 30, 9);
const DAY = 86_400_000;
const rule = newRule('r', 'payment-card');
const policy: Policy = { ...newPolicy(rule), id: 'p' as never, name: 'Cards' };
const figures = (over: Partial<RuleFigures>): RuleFigures => ({
  ...{ matches: 10, people: 4, advised: 0, asked: 0, held: 0, blocked: 0 },
  ...{ forWork: 0, turnedBack: 0, noReply: 0, overridesAsked: 0, approved: 0, judgedWrong: 0 },
  ...{ decided: 0, falsePositives: 0, allowed: 0, harm: 0, harmStopped: 0 },
  ...{ advicesKnown: 0, repeatedAfterAdvice: 0, reduced: 0, tests: 0 },
  ...over,
});
const fine: StateFacts = {
  ...{
    now: NOW,
    policies: [policy],
    labels: [],
    offers: [],
    publishedAt: NOW - 60 * DAY,
    coverage: [],
    movements: {},
  },
  ...{
    lateRequests: [],
    overdue: 0,
    agents: [],
    machineGaps: [],
    lateCleanUps: [],
    failingSpecimens: new Map(),
    draft: null,
  },
  rules: new Map([['r', figures({})]]),
  differently: { groups: 0, numbers: [] },
};
const codes = (over: Partial<StateFacts>): string[] =>
  improvements({ ...fine, ...over }).map(({ code }) => code);
const share = (answer: 'block' | null) => ({
  ...{ answer, people: 9, from: 1, policy: null, rule: null, written: answer, at: null },
});
const cell = (channel: 'mail' | 'chat', answer: 'block' | null) => ({
  ...{ pattern: 'payment-card', channel, side: 'outside' as const, shares: [share(answer)] },
});

it('has nothing to say where everything is as it should be', () => expect(codes({})).toEqual([]));

it.each<[string, Partial<StateFacts>, string[]]>([
  [
    'a noisy rule',
    { rules: new Map([['r', figures({ decided: 50, falsePositives: 45 })]]) },
    ['rule-mostly-false'],
  ],
  ['three of four', { rules: new Map([['r', figures({ decided: 4, falsePositives: 3 })]]) }, []],
  [
    'approved requests',
    { rules: new Map([['r', figures({ overridesAsked: 40, approved: 36 })]]) },
    ['rule-against-work'],
  ],
  ['a rule without a match', { rules: new Map() }, ['rule-never-fired']],
  ['a rule that is young', { rules: new Map(), publishedAt: NOW - 3 * DAY }, []],
  [
    'a silent rule without a match',
    {
      rules: new Map(),
      policies: [{ ...policy, rules: [{ ...rule, silence: { until: '2027-01-01', why: '' } }] }],
    },
    [],
  ],
  [
    'a channel that others guard',
    { coverage: [cell('mail', 'block'), cell('chat', null)], movements: { chat: 7 } },
    ['unguarded'],
  ],
  ['a channel that nobody uses', { coverage: [cell('mail', 'block'), cell('chat', null)] }, []],
  [
    'a ceiling that ended',
    {
      policies: [
        { ...policy, ceilings: [{ people: { with: [], without: [] }, answer: 'note', until: '2026-11-29' }] },
      ],
    },
    ['ceiling-over'],
  ],
  [
    'a ceiling on its last day',
    {
      policies: [
        { ...policy, ceilings: [{ people: { with: [], without: [] }, answer: 'note', until: '2026-11-30' }] },
      ],
    },
    [],
  ],
  ['late requests', { lateRequests: [NOW - DAY, NOW - 3 * DAY] }, ['requests-late']],
  ['overdue incidents', { overdue: 3 }, ['incidents-overdue']],
  [
    'an agent that never spoke',
    { agents: [{ id: 'a', name: 'A', created: NOW - 2 * DAY, lastSeen: null }] },
    ['agent-silent'],
  ],
  ['a new agent', { agents: [{ id: 'a', name: 'A', created: NOW, lastSeen: null }] }, []],
  [
    'a machine with two gaps, and one that is silent',
    {
      machineGaps: [
        { name: 'quay-07', code: 'older-rules', paths: [], lastSeen: NOW },
        { name: 'quay-07', code: 'cannot-watch', paths: ['/mnt'], lastSeen: NOW },
        { name: 'quay-08', code: 'silent', paths: [], lastSeen: null },
      ],
    },
    ['machine-gap', 'machine-gap'],
  ],
  [
    'a place that was to be cleaned up',
    { lateCleanUps: [{ place: 'p', name: 'Claims', left: 4, dueOn: '2026-11-01' }] },
    ['clean-up-overdue'],
  ],
  ['failing specimens', { failingSpecimens: new Map([['x', 2]]) }, ['specimens-failing']],
  ['a forgotten draft', { draft: { changes: 2, since: NOW - 9 * DAY } }, ['draft-forgotten']],
  ['a fresh draft', { draft: { changes: 2, since: NOW - DAY } }, []],
  ['people who disagree', { differently: { groups: 1, numbers: [4, 5] } }, ['decided-differently']],
])('%s', (_what, facts, expected) => expect(codes(facts)).toEqual(expected));

it('names each by a key of its own', () => {
  const all = improvements({
    ...fine,
    rules: new Map([['r', figures({ decided: 50, falsePositives: 45, overridesAsked: 40, approved: 36 })]]),
    overdue: 1,
    lateRequests: [NOW],
    failingSpecimens: new Map([
      ['x', 1],
      ['y', 1],
    ]),
  });
  const keys = all.map(improvementKey);
  expect(new Set(keys).size).toBe(keys.length);
  expect(improvements({ ...fine, lateRequests: [NOW - DAY, NOW - 3 * DAY] })[0]).toMatchObject({
    count: 2,
    oldest: NOW - 3 * DAY,
  });
});
