import { bandOf, findingsAsked, policyOf, ruleOf, SOME_TEXT, SOME_TIME, TO_OUTSIDE } from '@lantern/testkit';
import type { Condition } from '../model/conditions.js';
import { MAX_NESTING, type ProblemContext } from './problem.js';
import { policyProblems } from './problems.js';
import type { Ceiling, Policy, Rule, TextId } from '../model/rule.js';
import type { ExchangeId } from '../model/exchange.js';

const context: ProblemContext = {
  patterns: new Set(['payment-card']),
  texts: [SOME_TEXT, { ...SOME_TEXT, id: 'empty' as TextId, words: [{ language: 'en', text: ' ' }] }],
  spots: new Set(['s1']),
  exchanges: new Set(['x']),
  otherNames: ['Taken'],
  people: {
    addresses: new Set(['a@merrowstrait.example']),
    groups: new Set(['Leads']),
    departments: new Set(['Fleet']),
    offices: new Set(['Merrowhaven']),
  },
  at: SOME_TIME,
};
const codes = (given: Policy, within = context) =>
  policyProblems(given, within).map((problem) => `${problem.code} ${problem.path.join('.')}`);
const withRule = (over: Parameters<typeof ruleOf>[1], policy: Partial<Policy> = {}) =>
  codes(policyOf('p', [ruleOf('r', over)], policy));
const nested = (depth: number): Condition =>
  depth === 0 ? findingsAsked(1) : { kind: 'all', of: [nested(depth - 1)] };
const time = (over: object): Condition => ({
  kind: 'time',
  from: '08:00',
  to: '17:00',
  days: [],
  zone: 'UTC',
  ...over,
});
const everyone = { with: [], without: [] };
const ceiling = (over: Partial<Ceiling>): Ceiling => ({
  people: everyone,
  answer: 'note',
  until: null,
  ...over,
});

describe('policyProblems', () => {
  it('has nothing to say about a whole policy', () => expect(withRule({})).toEqual([]));

  it.each<[string, Partial<Policy>, string]>([
    ['no name', { name: ' ' }, 'no-name name'],
    ['a name in use', { name: 'Taken' }, 'duplicate-name name'],
    ['no rules', { rules: [] }, 'no-rules rules'],
    ['no channel', { channels: [] }, 'no-channel channels'],
    ['nobody who answers for it', { owner: '' }, 'no-owner owner'],
    [
      'a person who is not in the directory',
      { people: { with: [{ kind: 'person', address: 'b@merrowstrait.example' }], without: [] } },
      'unknown-person people.with.0',
    ],
    [
      'a group left out that does not exist',
      { people: { with: [], without: [{ kind: 'group', group: 'Nobody' }] } },
      'unknown-group people.without.0',
    ],
    ['a ceiling with no day', { ceilings: [ceiling({ until: '2026-02-30' })] }, 'not-a-day ceilings.0.until'],
    [
      'a ceiling that is over',
      { ceilings: [ceiling({ until: '2026-03-03' })] },
      'ceiling-over ceilings.0.until',
    ],
  ])('names %s', (_name, over, expected) => {
    expect(codes(policyOf('p', [ruleOf('r')], over))).toEqual([expected]);
  });

  it.each<[string, Parameters<typeof ruleOf>[1], string]>([
    [
      'a certainty of 140',
      { when: findingsAsked(1, { certainty: 140 }) },
      'certainty-out-of-range rules.0.when.certainty',
    ],
    [
      'a certainty that is no number',
      { when: findingsAsked(1, { certainty: Number.NaN }) },
      'certainty-out-of-range rules.0.when.certainty',
    ],
    ['a count of nothing', { when: findingsAsked(0) }, 'count-out-of-range rules.0.when.atLeast'],
    [
      'a pattern that is gone',
      { when: findingsAsked(1, { pattern: 'gone' }) },
      'unknown-pattern rules.0.when.pattern',
    ],
    ['an empty clause', { unless: { kind: 'any', of: [] } }, 'empty-group rules.0.unless'],
    [
      'a domain with a space',
      { unless: { kind: 'domain', quantity: 'any', domains: ['a b.example'] } },
      'not-a-domain rules.0.unless.domains.0',
    ],
    [
      'a list without domains',
      { unless: { kind: 'domain', quantity: 'any', domains: [] } },
      'no-domains rules.0.unless.domains',
    ],
    [
      'a country in words',
      { unless: { kind: 'country', quantity: 'any', countries: ['Norway'] } },
      'not-a-country rules.0.unless.countries.0',
    ],
    ['a time that is none', { unless: time({ to: '25:00' }) }, 'not-a-time rules.0.unless.to'],
    ['a zone that is none', { unless: time({ zone: 'Merrow/Strait' }) }, 'not-a-zone rules.0.unless.zone'],
    ['an eighth day', { unless: time({ days: [8] }) }, 'not-a-day rules.0.unless.days.0'],
    [
      'a look back over a month',
      { unless: { kind: 'rate', of: 'all', atLeast: 1, minutes: 43_200 } },
      'minutes-out-of-range rules.0.unless.minutes',
    ],
    [
      'an exchange that is gone',
      { unless: { kind: 'exchange', exchanges: ['gone' as ExchangeId] } },
      'unknown-exchange rules.0.unless.exchanges.0',
    ],
    [
      'a text that is gone',
      { bands: [bandOf('block', { text: 'gone' as TextId })] },
      'unknown-text rules.0.bands.0.text',
    ],
    [
      'a refusal without words',
      { bands: [bandOf('block', { text: null })] },
      'answer-without-text rules.0.bands.0.text',
    ],
    [
      'a refusal with a text of no words',
      { bands: [bandOf('block', { text: 'empty' as TextId })] },
      'answer-without-text rules.0.bands.0.text',
    ],
    [
      'a hold for longer than a week',
      { answer: 'hold', hold: { minutes: 10_081, next: null, otherwise: 'stays' } },
      'minutes-out-of-range rules.0.hold.minutes',
    ],
    ['a question without terms', { answer: 'ask', ask: null }, 'ask-without-terms rules.0.ask'],
    [
      'a question with no way back',
      { answer: 'ask', ask: { reasons: [], minutes: 60, otherwise: 'stays' } },
      'ask-without-way-back rules.0.ask.reasons',
    ],
    [
      'a question that closes at no time of day',
      {
        answer: 'ask',
        ask: {
          reasons: [{ words: 'x', leads: 'stays' }],
          minutes: 60,
          otherwise: 'stays',
          closes: { time: 'noon', zone: 'UTC' },
        },
      },
      'not-a-time rules.0.ask.closes.time',
    ],
    [
      'a question that closes in no zone',
      {
        answer: 'ask',
        ask: {
          reasons: [{ words: 'x', leads: 'stays' }],
          minutes: 60,
          otherwise: 'stays',
          closes: { time: '17:00', zone: 'Merrow/Strait' },
        },
      },
      'not-a-zone rules.0.ask.closes.zone',
    ],
    [
      'a silent rule that tells',
      { silence: { until: '2026-04-01', why: 'x' } },
      'silent-but-told rules.0.bands.0.answer',
    ],
    [
      'a silent rule without an end',
      { answer: 'note', silence: { until: '', why: 'x' } },
      'not-a-day rules.0.silence.until',
    ],
  ])('names %s', (_name, over, expected) => expect(withRule(over)).toEqual([expected]));

  it('asks each channel what it can do', () => {
    const both = { channels: ['mail', 'chat'] } as const;
    expect(withRule({ answer: 'hold' }, both)).toEqual(['answer-not-on-channel rules.0.bands.0.answer']);
    expect(withRule({ answer: 'hold' })).toEqual([]);
    const marked = { bands: [bandOf('block', { treatments: [{ kind: 'mark', words: 'x' }] })] };
    expect(withRule(marked, both)).toEqual(['treatment-not-on-channel rules.0.bands.0.treatments']);
  });

  it('takes people as they are where there is no directory', () => {
    const policy = policyOf('p', [ruleOf('r')], {
      people: { with: [{ kind: 'group', group: 'Nobody' }], without: [] },
    });
    expect(codes(policy, { ...context, people: null })).toEqual([]);
  });

  it('refuses clauses nested too deep to read', () => {
    expect(withRule({ when: nested(MAX_NESTING) })).toEqual([]);
    expect(withRule({ when: nested(MAX_NESTING + 1) })[0]).toMatch(/^nested-too-deep/);
  });
});

describe('what is never reached', () => {
  const pair = (first: Partial<Rule>, second: Partial<Rule> = {}) =>
    codes(policyOf('p', [ruleOf('1', first), ruleOf('2', second)]));
  const everything: Condition = {
    kind: 'any',
    of: [
      { kind: 'recipient', quantity: 'any', side: 'inside' },
      { kind: 'recipient', quantity: 'any', side: 'outside' },
    ],
  };

  it.each<[string, Partial<Rule>, Partial<Rule>, string[]]>([
    [
      'a rule behind one for everything',
      { when: everything, endsPolicy: true },
      {},
      ['never-reached rules.1'],
    ],
    ['a rule behind its like', { endsPolicy: true }, {}, ['never-reached rules.1']],
    ['a rule behind a wider one', { when: TO_OUTSIDE, endsPolicy: true }, {}, ['never-reached rules.1']],
    ['not one behind a rule that does not end', { when: everything }, {}, []],
    [
      'not one behind a narrower one',
      { when: { kind: 'all', of: [findingsAsked(25), TO_OUTSIDE] }, endsPolicy: true },
      {},
      [],
    ],
    [
      'not one behind a rule with an exception',
      { endsPolicy: true, unless: { kind: 'domain', quantity: 'any', domains: ['a.example'] } },
      {},
      [],
    ],
    [
      'not one behind a rule for fewer people',
      { endsPolicy: true, people: { with: [{ kind: 'group', group: 'Leads' }], without: [] } },
      {},
      [],
    ],
    [
      'a rule that asks for both sides at once',
      {},
      {
        when: {
          kind: 'all',
          of: [
            { kind: 'recipient', quantity: 'every', side: 'inside' },
            { kind: 'recipient', quantity: 'any', side: 'outside' },
          ],
        },
      },
      ['never-holds rules.1.when'],
    ],
    ['a rule whose exception is its condition', {}, { unless: TO_OUTSIDE }, ['never-holds rules.1.when']],
  ])('names %s', (_name, first, second, expected) => expect(pair(first, second)).toEqual(expected));

  it('knows that bands catch only from where they begin', () => {
    const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1);
    const graded = (from: number): Partial<Rule> => ({
      when: TO_OUTSIDE,
      measure,
      bands: [bandOf('block', { from })],
      endsPolicy: true,
    });
    expect(pair(graded(1))).toEqual(['never-reached rules.1']);
    expect(pair(graded(5))).toEqual([]);
  });
});
