import { type InspectedMovement } from '@lantern/core/movement';
import { evaluate, type TextId } from '@lantern/core/policy';
import {
  bandOf,
  findingOf,
  findingsAsked,
  mailOf,
  policyOf,
  ruleOf,
  setOf,
  SOME_TEXT,
} from '@lantern/testkit';
import { personNotice } from './person-notice.js';

const movement: InspectedMovement = mailOf(
  [],
  Array.from({ length: 9 }, (_unused, index) => `p${index}@out.example`),
  {
    files: [{ name: 'a.xlsx', kind: 'office', bytes: 9, misnamed: false }],
    parts: [
      {
        status: 'read',
        role: 'body',
        path: ['body'],
        characters: 9,
        findings: [findingOf('4539148803436467'), findingOf('weak', { certainty: 10 })],
      },
      {
        status: 'read',
        role: 'attachment',
        path: ['a.xlsx', 'sheet 1'],
        characters: 9,
        findings: [findingOf('4539148803436467'), findingOf('6011000990139424')],
      },
      {
        status: 'read',
        role: 'attachment',
        path: ['b.txt'],
        characters: 9,
        findings: [findingOf('weak', { certainty: 10 })],
      },
      { status: 'unreadable', role: 'attachment', path: ['c.zip'], reason: 'encrypted' },
    ],
  },
);
const text = {
  ...SOME_TEXT,
  words: [
    { language: 'en', text: '{found} in {item}: {values}. {rule}.' },
    { language: 'de', text: 'Gefunden: {found}' },
  ],
};
const policy = policyOf('Cards', [
  ruleOf('r1', { when: { kind: 'unreadable', reasons: [] }, answer: 'note' }),
  ruleOf('r2', { when: { kind: 'all', of: [{ kind: 'any', of: [findingsAsked(2)] }] } }),
]);
const set = { ...setOf([policy], { texts: [text] }), patterns: [] };
const reader = { address: 'a@merrowstrait.example', language: 'en' };
const noticeOf = (over: Partial<(typeof policy.rules)[0]> = {}, language = 'en') => {
  const rules = policy.rules.map((rule) => ({ ...rule, ...over }));
  const changed = { ...set, policies: [{ ...policy, rules }] };
  return personNotice(movement, evaluate(changed, movement), changed, { ...reader, language });
};

describe('personNotice', () => {
  const notice = personNotice(movement, evaluate(set, movement), set, reader);

  it('says which rule, what was found and where, who is outside and what could not be read', () => {
    expect(notice).toMatchObject({
      answer: 'block',
      state: 'refused',
      policyName: 'Cards',
      ruleNumber: 2,
      found: [
        {
          pattern: 'payment-card',
          patternName: 'Payment card number',
          distinct: 2,
          where: ['body', 'a.xlsx › sheet 1'],
        },
      ],
      unreadable: [{ name: 'c.zip', reason: 'encrypted' }],
    });
  });

  it('fills in the fields of the text, values masked', () => {
    expect(notice?.text).toMatch(/^2 × Payment card number in a\.xlsx: •+6467, •+9424\. Cards\.$/);
  });

  it('speaks the language of its reader', () =>
    expect(noticeOf({}, 'de')?.text).toBe('Gefunden: 2 × Payment card number'));

  it('names a handful of recipients, not all', () => expect(notice?.outside).toHaveLength(5));

  it('holds no value of any finding', () => expect(JSON.stringify(notice)).not.toMatch(/4539148|6011000/));

  it('puts the question of a rule that asks, with its deadline', () => {
    const ask = {
      reasons: [{ words: 'Wrong file', leads: 'stays' as const }],
      minutes: 30,
      otherwise: 'stays' as const,
    };
    expect(noticeOf({ bands: [bandOf('ask')], ask })).toMatchObject({
      state: 'waiting',
      ask: { reasons: ask.reasons, until: new Date(movement.at + 1_800_000).toISOString() },
    });
  });

  it.each([
    ['nobody', null, null],
    ['everybody', { with: [], without: [] }, 'approvers'],
    ['others', { with: [{ kind: 'group' as const, group: 'Leads' }], without: [] }, null],
  ])('lets %s ask for an override', (_who, mayAsk, expected) => {
    const override = mayAsk && { mayAsk, decides: 'approvers' as const };
    expect(noticeOf({ override })?.override).toBe(expected);
  });

  it('counts what the bands of a rule count', () => {
    const { kind: _kind, atLeast: _atLeast, ...measure } = findingsAsked(1);
    const bands = [bandOf('block', { text: 'gone' as TextId })];
    expect(noticeOf({ when: { kind: 'reach', side: 'outside', atLeast: 1 }, measure, bands })).toMatchObject({
      found: [{ distinct: 2 }],
      text: '',
    });
  });

  it('has nothing to say where no rule decided', () => {
    const nothing = { answer: null, decidedBy: null, matches: [], treatments: [], trace: [] };
    expect(personNotice(movement, nothing, set, reader)).toBeNull();
  });
});
