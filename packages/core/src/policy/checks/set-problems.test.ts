import { bandOf, findingsAsked, policyOf, ruleOf, setOf, SOME_TIME, TO_OUTSIDE } from '@lantern/testkit';
import type { Policy, PolicySet } from '../model/rule.js';
import type { ExchangeId } from '../model/exchange.js';
import { patternsOfRule } from '../evaluate/patterns-of-rule.js';
import { setProblems } from './set-problems.js';

const said = (policies: readonly Policy[], over: Partial<PolicySet> = {}, without: readonly string[] = []) =>
  setProblems(setOf(policies, over), {
    patterns: new Set(['payment-card', 'own']),
    people: null,
    at: SOME_TIME,
    withoutSpecimens: new Set(without),
  }).map(
    ({ policy, problem }) =>
      `${policy ?? 'set'} ${problem.code} ${problem.path.join('.')} ${problem.value ?? ''}`,
  );
const away = policyOf('away', [ruleOf('a', { when: { kind: 'size', atLeastKilobytes: 9 } })], {
  channels: ['business', 'drive', 'browser', 'endpoint'],
});
const chat = policyOf('chat', [ruleOf('c', { when: findingsAsked(1) })], { channels: ['business', 'chat'] });

describe('setProblems', () => {
  it('has nothing to say about a set that covers its channels', () =>
    expect(said([policyOf('mail', [ruleOf('m')]), chat, away])).toEqual([]));

  it('names a channel that no policy covers, and a rule whose content a guest gets in a chat', () =>
    expect(said([policyOf('mail', [ruleOf('m')]), away])).toEqual([
      'mail guests-forgotten rules.0 payment-card',
      'set channel-uncovered  chat',
    ]));

  it('does not ask about guests for what is only noted', () =>
    expect(said([policyOf('mail', [ruleOf('m', { answer: 'note' })]), away])).toEqual([
      'set channel-uncovered  chat',
    ]));

  it('names rules of one id, over policies', () => {
    const other = policyOf('other', [
      ruleOf('m', { when: findingsAsked(3, { pattern: 'own' }), answer: 'note' }),
    ]);
    expect(said([policyOf('mail', [ruleOf('m')]), other, chat, away])).toEqual([
      'mail duplicate-rule rules.0.id m',
      'other duplicate-rule rules.0.id m',
    ]);
  });

  it('names a rule that another one always outdoes, over policies', () => {
    const wide = policyOf('wide', [ruleOf('w', { when: TO_OUTSIDE, answer: 'block' })]);
    const narrow = policyOf('narrow', [ruleOf('n', { answer: 'note' })]);
    expect(said([narrow, wide, chat, away])).toEqual(['narrow shadowed rules.0 wide, 1']);
  });

  it('does not call a rule outdone by one for other people, or by one that is weaker', () => {
    const wide = policyOf('wide', [ruleOf('w', { when: TO_OUTSIDE })], {
      people: { with: [{ kind: 'group', group: 'Leads' }], without: [] },
    });
    const narrow = policyOf('narrow', [ruleOf('n', { answer: 'note' })]);
    expect(said([narrow, wide, chat, away])).toEqual([]);
    const weak = policyOf('weak', [ruleOf('w', { when: TO_OUTSIDE, answer: 'note' })]);
    expect(said([policyOf('strong', [ruleOf('s')]), weak, chat, away])).toEqual([]);
  });

  it('names two rules that ask the same and answer otherwise', () => {
    const rules = [ruleOf('1', { answer: 'note' }), ruleOf('2', { answer: 'block' })];
    expect(said([policyOf('p', rules), chat, away])).toEqual(['p contradicting rules.0 p, 2']);
  });

  it('says nothing of a pair of which the first ends the policy', () => {
    const graded = [
      ruleOf('1', { when: { kind: 'all', of: [findingsAsked(25), TO_OUTSIDE] }, endsPolicy: true }),
      ruleOf('2', { answer: 'note' }),
    ];
    expect(said([policyOf('p', graded), chat, away])).toEqual([]);
  });

  it('names an own pattern for which no specimen is kept, once a policy', () => {
    const rules = [1, 2].map((index) =>
      ruleOf(String(index), { when: findingsAsked(index, { pattern: 'own' }), answer: 'note' }),
    );
    expect(said([policyOf('p', rules), chat, away], {}, ['own'])).toEqual([
      'p pattern-without-specimens rules.0 own',
      'p shadowed rules.1 p, 1',
    ]);
  });

  it('names an exchange whose time is over', () => {
    const exchange = {
      id: 'x' as ExchangeId,
      name: 'Old contract',
      from: { with: [], without: [] },
      to: ['a.example'],
      patterns: [],
      why: '',
      until: '2026-03-03',
    };
    expect(said([policyOf('mail', [ruleOf('m')]), chat, away], { exchanges: [exchange] })).toEqual([
      'set exchange-over  Old contract',
    ]);
  });
});

it('lists the patterns of a rule, its measure first', () => {
  const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1, { pattern: 'own' });
  const rule = ruleOf('1', {
    measure,
    bands: [bandOf('note')],
    unless: findingsAsked(1, { pattern: 'other' }),
  });
  expect(patternsOfRule(rule)).toEqual(['own', 'payment-card', 'other']);
});

it('names a place that every policy for drives leaves out', () => {
  const machines = {
    machines: new Set(['q-1']),
    groups: new Set<string>(),
    places: new Set(['/crewing', '/fleet']),
  };
  const only = (where: Policy['where']) =>
    setProblems(
      setOf([
        policyOf('d', [ruleOf('1', { when: { kind: 'size', atLeastKilobytes: 9 } })], {
          channels: ['drive'],
          where,
        }),
      ]),
      {
        patterns: new Set(['payment-card']),
        people: null,
        machines,
        at: SOME_TIME,
        withoutSpecimens: new Set(),
      },
    ).flatMap(({ problem }) => (problem.code === 'place-uncovered' ? [problem.value] : []));
  expect(only({ with: [{ kind: 'place', path: '/Fleet' }], without: [] })).toEqual(['/crewing']);
  expect(only({ with: [], without: [{ kind: 'place', path: '/Fleet' }] })).toEqual(['/fleet']);
  expect(only({ with: [{ kind: 'machine', machine: 'q-1' }], without: [] })).toEqual([]);
  expect(only({ with: [], without: [] })).toEqual([]);
});
