import {
  evaluate,
  type Finding,
  type InspectedMovement,
  type PatternId,
  type Policy,
  type PolicyId,
  type RawOffset,
  type RuleId,
} from '@lantern/core';
import { mailNotice } from './mail-notice.js';

const finding = (canonical: string, certainty = 95): Finding => ({
  pattern: 'payment-card' as PatternId,
  start: 0 as RawOffset,
  end: 16 as RawOffset,
  certainty,
  evidence: [],
  canonical,
  rivals: [],
});

const movement: InspectedMovement = {
  channel: 'mail',
  sender: { address: 'me@merrowstrait.example' },
  recipients: Array.from({ length: 9 }, (_unused, index) => ({
    address: `p${index}@out.example`,
    outside: true,
  })),
  parts: [
    {
      status: 'read',
      role: 'body',
      path: ['body'],
      characters: 9,
      findings: [finding('4539148803436467'), finding('weak', 10)],
    },
    {
      status: 'read',
      role: 'attachment',
      path: ['a.xlsx', 'sheet 1'],
      characters: 9,
      findings: [finding('4539148803436467'), finding('6011000990139424')],
    },
    { status: 'read', role: 'attachment', path: ['b.txt'], characters: 9, findings: [finding('weak', 10)] },
    { status: 'unreadable', role: 'attachment', path: ['c.zip'], reason: 'encrypted' },
  ],
};

const policy: Policy = {
  id: 'p' as PolicyId,
  name: 'Cards',
  purpose: '',
  channels: ['mail'],
  rules: [
    {
      id: 'r1' as RuleId,
      when: { kind: 'unreadable' },
      unless: null,
      answer: 'note',
      severity: 'low',
      notice: '',
      endsPolicy: false,
    },
    {
      id: 'r2' as RuleId,
      when: {
        kind: 'all',
        of: [
          {
            kind: 'any',
            of: [{ kind: 'findings', pattern: 'payment-card', atLeast: 2, distinct: true, certainty: 80 }],
          },
        ],
      },
      unless: null,
      answer: 'block',
      severity: 'high',
      notice: 'Use the portal.',
      endsPolicy: false,
    },
  ],
};

describe('mailNotice', () => {
  const verdict = evaluate([policy], movement);
  const notice = mailNotice(movement, verdict, [policy], []);

  it('says which rule, what was found and where, who is outside and what could not be read', () => {
    expect(notice).toMatchObject({
      answer: 'block',
      policyName: 'Cards',
      ruleNumber: 2,
      text: 'Use the portal.',
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

  it('names a handful of recipients, not all', () => expect(notice?.outside).toHaveLength(5));

  it('holds no value of any finding', () => expect(JSON.stringify(notice)).not.toMatch(/4539|6011/));

  it('has nothing to say where no rule decided', () => {
    expect(
      mailNotice(movement, { answer: null, decidedBy: null, matches: [], trace: [] }, [policy], []),
    ).toBeNull();
  });
});
