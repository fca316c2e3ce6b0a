import type { Finding } from '../detection/finding.js';
import type { PatternId, PolicyId, RawOffset, RuleId } from '../shared/brand.js';
import { incidentOf } from '../incidents/incident.js';
import { isUnder } from './condition.js';
import { evaluate } from './evaluate.js';
import type { InspectedMovement } from './movement.js';
import type { Condition, Policy, Rule } from './rule.js';

const finding = (canonical: string, certainty = 95): Finding => ({
  pattern: 'payment-card' as PatternId,
  start: 0 as RawOffset,
  end: 16 as RawOffset,
  certainty,
  evidence: [],
  canonical,
  rivals: [],
});
const cards = (count: number, certainty = 95) =>
  Array.from({ length: count }, (_unused, index) => finding(String(index), certainty));
const movement = (findings: Finding[], addresses: string[], unreadable = false): InspectedMovement => ({
  channel: 'mail',
  sender: { address: 'a@merrowstrait.example' },
  recipients: addresses.map((address) => ({ address, outside: !address.endsWith('@merrowstrait.example') })),
  parts: [
    { status: 'read', role: 'body', path: ['body'], characters: 100, findings },
    ...(unreadable
      ? [
          {
            status: 'unreadable' as const,
            role: 'attachment' as const,
            path: ['x.zip'],
            reason: 'encrypted' as const,
          },
        ]
      : []),
  ],
});
const atLeast = (count: number, certainty = 80): Condition => ({
  kind: 'findings',
  pattern: 'payment-card',
  atLeast: count,
  distinct: true,
  certainty,
});
const outside: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };
const rule = (id: string, over: Partial<Rule> = {}): Rule => ({
  id: id as RuleId,
  when: { kind: 'all', of: [atLeast(1), outside] },
  unless: null,
  answer: 'block',
  severity: 'high',
  notice: 'No.',
  endsPolicy: false,
  ...over,
});
const policy = (id: string, rules: Rule[]): Policy => ({
  id: id as PolicyId,
  name: id,
  purpose: '',
  channels: ['mail'],
  rules,
});

describe('evaluate', () => {
  it('makes four matches and one incident of four rules in two policies', () => {
    const item = movement(cards(3), ['x@islandholidays.example']);
    const verdict = evaluate(
      [policy('p', [rule('1'), rule('2')]), policy('q', [rule('3'), rule('4')])],
      item,
    );
    expect(verdict.matches).toHaveLength(4);
    expect(incidentOf(item, verdict)?.matches).toHaveLength(4);
  });

  it('lets the strongest answer win and the first of equals decide', () => {
    const rules = [rule('1', { answer: 'note' }), rule('2'), rule('3')];
    const verdict = evaluate([policy('p', rules)], movement(cards(1), ['x@out.example']));
    expect(verdict).toMatchObject({ answer: 'block', decidedBy: { rule: '2' } });
  });

  it('ends only the policy of the rule that ends it, and says which rules were not read', () => {
    const ending = policy('p', [rule('1', { endsPolicy: true, answer: 'note' }), rule('2')]);
    const verdict = evaluate([ending, policy('q', [rule('3')])], movement(cards(1), ['x@out.example']));
    expect(verdict.matches.map((match) => match.rule)).toEqual(['1', '3']);
    expect(verdict.trace[0]?.rules[1]).toEqual({ rule: '2', read: false, because: 'policy-ended', by: '1' });
  });

  it.each([
    ['inside recipients only', cards(3), ['b@merrowstrait.example'], null],
    ['a mix of inside and outside', cards(3), ['b@merrowstrait.example', 'x@out.example'], 'block'],
    ['nobody at all', cards(3), [], null],
    ['findings that are not certain enough', cards(3, 79), ['x@out.example'], null],
    ['the same value many times', [finding('1'), finding('1')], ['x@out.example'], 'block'],
  ])('answers %s', (_name, findings, addresses, answer) => {
    expect(evaluate([policy('p', [rule('1')])], movement(findings, addresses)).answer).toBe(answer);
  });

  it('counts distinct values, not findings, where the rule says so', () => {
    const twice = movement([finding('1'), finding('1')], ['x@out.example']);
    const needsTwo = (distinct: boolean) =>
      rule('1', { when: { kind: 'findings', pattern: 'payment-card', atLeast: 2, distinct, certainty: 0 } });
    expect(evaluate([policy('p', [needsTwo(true)])], twice).answer).toBeNull();
    expect(evaluate([policy('p', [needsTwo(false)])], twice).answer).toBe('block');
  });

  it('does not hold where the exception does, and shows the value of every condition', () => {
    const processor: Condition = { kind: 'domain', quantity: 'every', domains: ['cardprocessor.example'] };
    const verdict = evaluate(
      [policy('p', [rule('1', { unless: processor })])],
      movement(cards(2), ['x@eu.cardprocessor.example']),
    );
    expect(verdict.answer).toBeNull();
    expect(verdict.trace[0]?.rules[0]).toMatchObject({
      read: true,
      held: false,
      when: {
        held: true,
        parts: [{ value: 2 }, { value: 1, outOf: 1, names: ['eu.cardprocessor.example'] }],
      },
      unless: { held: true },
    });
  });

  it('takes what cannot be read as a condition of its own', () => {
    const unreadable = rule('1', { when: { kind: 'all', of: [{ kind: 'unreadable' }, outside] } });
    expect(evaluate([policy('p', [unreadable])], movement([], ['x@out.example'], true)).answer).toBe('block');
    expect(evaluate([policy('p', [unreadable])], movement([], ['x@out.example'], false)).answer).toBeNull();
  });

  it.each([
    ['all', true, true, true],
    ['all', true, false, false],
    ['any', true, false, true],
    ['any', false, false, false],
    ['none', false, false, true],
    ['none', true, false, false],
  ] as const)('reads %s of %p and %p as %p', (kind, first, second, held) => {
    const is = (holds: boolean): Condition =>
      holds ? outside : { kind: 'recipient', quantity: 'any', side: 'inside' };
    const verdict = evaluate(
      [policy('p', [rule('1', { when: { kind, of: [is(first), is(second)] } })])],
      movement([], ['x@out.example']),
    );
    expect(verdict.answer !== null).toBe(held);
  });
});

describe('isUnder', () => {
  it.each([
    ['partner.example', 'partner.example', true],
    ['mail.partner.example', 'Partner.example', true],
    ['evilpartner.example', 'partner.example', false],
    ['example', 'partner.example', false],
  ])('%s under %s: %p', (host, domain, expected) => expect(isUnder(host, domain)).toBe(expected));
});
