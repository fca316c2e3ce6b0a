import {
  bandOf,
  cardsFound,
  findingOf,
  findingsAsked,
  mailOf,
  policyOf,
  ruleOf,
  setOf,
  SOME_TIME,
  TO_OUTSIDE,
} from '@lantern/testkit';
import { incidentOf } from '../../incidents/incident.js';
import { isUnder } from '../../directory/address.js';
import type { InnerPlace, InspectedPart } from '../../movement/movement.js';
import type { Condition } from '../model/conditions.js';
import { evaluate, isDivided, judgementsByRecipient } from './evaluate.js';
import type { Policy } from '../model/rule.js';

const OUT = ['x@out.example'];
const judged = (policies: readonly Policy[], movement = mailOf(cardsFound(1), OUT)) =>
  evaluate(setOf(policies), movement);

describe('evaluate', () => {
  it('makes four matches and one incident of four rules in two policies', () => {
    const item = mailOf(cardsFound(3), ['x@islandholidays.example']);
    const verdict = judged(
      [policyOf('p', [ruleOf('1'), ruleOf('2')]), policyOf('q', [ruleOf('3'), ruleOf('4')])],
      item,
    );
    expect(verdict.matches).toHaveLength(4);
    expect(incidentOf(item, verdict)?.matches).toHaveLength(4);
  });

  it('lets the strongest answer win and the first of equals decide', () => {
    const rules = [ruleOf('1', { answer: 'note' }), ruleOf('2'), ruleOf('3')];
    expect(judged([policyOf('p', rules)])).toMatchObject({ answer: 'block', decidedBy: { rule: '2' } });
  });

  it('ends only the policy of the rule that ends it, and says which rules were not read', () => {
    const ending = policyOf('p', [ruleOf('1', { endsPolicy: true, answer: 'note' }), ruleOf('2')]);
    const verdict = judged([ending, policyOf('q', [ruleOf('3')])]);
    expect(verdict.matches.map((match) => match.rule)).toEqual(['1', '3']);
    expect(verdict.trace[0]?.rules[1]).toEqual({ rule: '2', read: false, because: 'policy-ended', by: '1' });
  });

  it.each([
    ['inside recipients only', cardsFound(3), ['b@merrowstrait.example'], null],
    ['a mix of inside and outside', cardsFound(3), ['b@merrowstrait.example', 'x@out.example'], 'block'],
    ['nobody at all', cardsFound(3), [], null],
    ['findings that are not certain enough', cardsFound(3, { certainty: 79 }), OUT, null],
    ['the same value many times', [findingOf('1'), findingOf('1')], OUT, 'block'],
  ])('answers %s', (_name, findings, addresses, answer) => {
    expect(judged([policyOf('p', [ruleOf('1')])], mailOf(findings, addresses)).answer).toBe(answer);
  });

  it('counts distinct values, not findings, where the rule says so', () => {
    const twice = mailOf([findingOf('1'), findingOf('1')], OUT);
    const needsTwo = (distinct: boolean) => [
      policyOf('p', [ruleOf('1', { when: findingsAsked(2, { distinct, certainty: 0 }) })]),
    ];
    expect(judged(needsTwo(true), twice).answer).toBeNull();
    expect(judged(needsTwo(false), twice).answer).toBe('block');
  });

  it('does not hold where the exception does, and shows the value of every condition', () => {
    const processor: Condition = { kind: 'domain', quantity: 'every', domains: ['cardprocessor.example'] };
    const verdict = judged(
      [policyOf('p', [ruleOf('1', { unless: processor })])],
      mailOf(cardsFound(2), ['x@eu.cardprocessor.example']),
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

  it.each([
    ['a comment', ['comment'], 1],
    ['a note or a cell', ['note', 'cell'], 2],
    ['any file', ['attachment'], 4],
    ['the running text of the mail', ['body'], 1],
    ['a pending deletion', ['pending-edit'], 0],
  ] as const)('counts only what stands in %s', (_, where, count) => {
    const found = cardsFound(1);
    const file = (inner?: InnerPlace): InspectedPart => ({
      ...{ status: 'read', role: 'attachment', path: ['a.docx'], characters: 20, findings: found },
      ...(inner ? { inner } : {}),
    });
    const movement = mailOf(found, ['x@elsewhere.example']);
    const parts = [...movement.parts, file(), file('comment'), file('note'), file('cell')];
    const counted = (atLeast: number) =>
      judged(
        [
          policyOf('p', [
            ruleOf('1', { when: findingsAsked(atLeast, { where: [...where], distinct: false }) }),
          ]),
        ],
        { ...movement, parts },
      ).matches.length;
    expect([1, 2, 3, 4, 5].filter((atLeast) => counted(atLeast) > 0).length).toBe(count);
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
      holds ? TO_OUTSIDE : { kind: 'recipient', quantity: 'any', side: 'inside' };
    const verdict = judged([policyOf('p', [ruleOf('1', { when: { kind, of: [is(first), is(second)] } })])]);
    expect(verdict.answer !== null).toBe(held);
  });
});

describe('a graduated rule', () => {
  const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1);
  const graded = ruleOf('1', {
    when: TO_OUTSIDE,
    measure,
    bands: [
      bandOf('note', { to: 4, severity: 'low' }),
      bandOf('ask', { from: 5, to: 24, severity: 'medium' }),
      bandOf('block', { from: 25 }),
    ],
  });

  // "1 to 4", "5 to 24", "25 and more": common practice, no source.
  it.each([
    [0, null, null],
    [1, 'note', 0],
    [4, 'note', 0],
    [5, 'ask', 1],
    [24, 'ask', 1],
    [25, 'block', 2],
    [4_000, 'block', 2],
  ])('answers %i values with %s', (count, answer, band) => {
    const verdict = judged([policyOf('p', [graded])], mailOf(cardsFound(count), OUT));
    expect(verdict.answer).toBe(answer);
    expect(verdict.matches.map((match) => [match.band, match.counted])).toEqual(
      band === null ? [] : [[band, count]],
    );
  });

  it('is one match with the severity of its band', () => {
    const movement = mailOf(cardsFound(10), OUT);
    expect(incidentOf(movement, judged([policyOf('p', [graded])], movement))).toMatchObject({
      severity: 'medium',
      matches: [{ band: 1 }],
      counts: [{ pattern: 'payment-card', distinct: 10 }],
    });
  });
});

describe('ceilings', () => {
  const marking = bandOf('block', { treatments: [{ kind: 'no-passing-on' }] });
  const pilot = { with: [{ kind: 'department', department: 'Fleet' } as const], without: [] };
  const policy = policyOf('p', [ruleOf('1', { bands: [marking] })], {
    ceilings: [
      { people: pilot, answer: 'as-written', until: '2026-03-04' },
      { people: { with: [], without: [] }, answer: 'note', until: null },
    ],
  });
  const from = (department: string, at = SOME_TIME) =>
    mailOf(cardsFound(1), OUT, { at, sender: { address: 'a@merrowstrait.example', department } });

  it('leave the pilot as written and note what they would have answered elsewhere', () => {
    expect(judged([policy], from('Fleet')).decidedBy).toMatchObject({ answer: 'block', cut: null });
    expect(judged([policy], from('Crewing')).decidedBy).toMatchObject({
      answer: 'note',
      written: 'block',
      cut: 'ceiling',
    });
  });

  it('end with their last day', () => {
    expect(judged([policy], from('Fleet', Date.parse('2026-03-04T23:59:59Z'))).answer).toBe('block');
    expect(judged([policy], from('Fleet', Date.parse('2026-03-05T00:00:00Z'))).answer).toBe('note');
  });

  it('let treatments apply only where they are as written', () => {
    expect(judged([policy], from('Fleet')).treatments).toEqual([{ kind: 'no-passing-on' }]);
    expect(judged([policy], from('Crewing')).treatments).toEqual([]);
  });

  it('cut before the policies are weighed against each other', () => {
    const other = policyOf('q', [ruleOf('2', { answer: 'ask' })]);
    expect(judged([policy, other], from('Crewing'))).toMatchObject({
      answer: 'ask',
      decidedBy: { rule: '2' },
    });
  });
});

describe('people and time', () => {
  const from = (sender: object, at = SOME_TIME) =>
    mailOf(cardsFound(1), OUT, { at, sender: { address: 'a@merrowstrait.example', ...sender } });

  it('leaves out the people a policy leaves out, and narrows them for a rule', () => {
    const policy = policyOf(
      'p',
      [
        ruleOf('1', { people: { with: [{ kind: 'group', group: 'Leads' }], without: [] } }),
        ruleOf('2', { answer: 'note' }),
      ],
      { people: { with: [], without: [{ kind: 'person', address: 'A@merrowstrait.example' }] } },
    );
    expect(judged([policy], from({})).trace[0]).toMatchObject({ applies: false, because: 'people' });
    const other = from({ address: 'b@merrowstrait.example' });
    expect(judged([policy], other).trace[0]?.rules[0]).toMatchObject({
      read: false,
      because: 'other-people',
    });
    const lead = from({ address: 'b@merrowstrait.example', groups: ['Leads'] });
    expect(judged([policy], lead).answer).toBe('block');
  });

  it('reads no rule of a policy whose shared condition is not met, and shows its value', () => {
    const policy = policyOf('p', [ruleOf('1')], { shared: { kind: 'reach', side: 'outside', atLeast: 3 } });
    expect(judged([policy]).trace[0]).toMatchObject({
      shared: { held: false, value: 1 },
      rules: [{ read: false, because: 'shared-not-met' }],
    });
  });

  it('notes what is older than the day from which a rule binds', () => {
    const policy = policyOf('p', [ruleOf('1', { bindsFrom: '2026-03-05' })]);
    expect(judged([policy]).decidedBy).toMatchObject({
      answer: 'note',
      written: 'block',
      cut: 'made-before',
    });
    expect(judged([policy], from({}, Date.parse('2026-03-05T00:00:00Z'))).answer).toBe('block');
  });

  it('does not read a silent rule after its last day', () => {
    const silent = ruleOf('1', { answer: 'note', silence: { until: '2026-03-03', why: 'Case 12' } });
    expect(judged([policyOf('p', [silent])]).trace[0]?.rules[0]).toMatchObject({
      read: false,
      because: 'over',
    });
    const still = ruleOf('1', { answer: 'note', silence: { until: '2026-03-04', why: 'Case 12' } });
    expect(judged([policyOf('p', [still])]).matches[0]).toMatchObject({ silent: true });
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

describe('a rule that is asked of each recipient', () => {
  const ten = [
    'x@out.example',
    'y@other.example',
    ...Array.from({ length: 8 }, (_unused, index) => `c${index}@merrowstrait.example`),
  ];
  const apart = ruleOf('1', { perRecipient: true });
  const answers = (policies: readonly Policy[], to: readonly string[]) =>
    judgementsByRecipient(judged(policies, mailOf(cardsFound(1), to)), to).map(
      ({ address, answer }) => `${address} ${answer ?? '-'}`,
    );

  it('answers for the two outside, and lets the eight inside have it', () => {
    const verdict = judged([policyOf('p', [apart])], mailOf(cardsFound(1), ten));
    expect(verdict).toMatchObject({ answer: 'block', matches: [{ recipients: ten.slice(0, 2) }] });
    expect(isDivided(verdict)).toBe(true);
    expect(answers([policyOf('p', [apart])], ten)).toEqual([
      'x@out.example block',
      'y@other.example block',
      ...ten.slice(2).map((address) => `${address} -`),
    ]);
    expect(incidentOf(mailOf(cardsFound(1), ten), verdict)?.matches).toHaveLength(1);
  });

  it('stands beside rules for all', () => {
    const all = ruleOf('2', { answer: 'advise' });
    expect(answers([policyOf('p', [apart, all])], ['x@out.example', 'c@merrowstrait.example'])).toEqual([
      'x@out.example block',
      'c@merrowstrait.example advise',
    ]);
  });

  it('makes its exception for those it is for', () => {
    const unless: Condition = { kind: 'domain', quantity: 'any', domains: ['other.example'] };
    const verdict = judged(
      [policyOf('p', [{ ...apart, unless }])],
      mailOf(cardsFound(1), ['x@out.example', 'y@other.example']),
    );
    expect(verdict.matches[0]?.recipients).toEqual(['x@out.example']);
  });

  it('still counts all who can read it', () => {
    const when: Condition = {
      kind: 'all',
      of: [TO_OUTSIDE, { kind: 'reach', side: 'anywhere', atLeast: 10 }],
    };
    const verdict = judged([policyOf('p', [{ ...apart, when }])], mailOf([], ten));
    expect(verdict.matches[0]?.recipients).toEqual(ten.slice(0, 2));
  });

  it('is asked once of what goes to nobody', () => {
    const verdict = judged(
      [policyOf('p', [{ ...apart, when: findingsAsked(1) }])],
      mailOf(cardsFound(1), []),
    );
    expect(verdict.matches[0]?.recipients).toBeNull();
  });
});

it('reads no rule of a policy for other machines', () => {
  const where = { with: [{ kind: 'machines', group: 'Desks' }], without: [] } as const;
  const verdict = judged([policyOf('p', [ruleOf('1')], { where })]);
  expect(verdict.trace).toMatchObject([{ applies: false, because: 'where' }]);
});
