import type { LanternSide } from '@lantern/contracts';
import {
  compileScanner,
  type InspectedPart,
  type Policy,
  type PolicyId,
  READY_PATTERNS,
  type RuleId,
} from '@lantern/core';
import { verdictFor, WAYS } from './verdicts';

const scanner = compileScanner(READY_PATTERNS);
const policy: Policy = {
  id: 'p' as PolicyId,
  name: 'Cards',
  purpose: '',
  channels: ['mail'],
  rules: [
    {
      id: 'a' as RuleId,
      when: { kind: 'unreadable' },
      unless: null,
      answer: 'note',
      severity: 'low',
      notice: '',
      endsPolicy: false,
    },
    {
      id: 'b' as RuleId,
      when: {
        kind: 'all',
        of: [
          { kind: 'findings', pattern: 'payment-card', atLeast: 1, distinct: true, certainty: 80 },
          { kind: 'recipient', quantity: 'any', side: 'outside' },
        ],
      },
      unless: null,
      answer: 'block',
      severity: 'high',
      notice: 'No.',
      endsPolicy: false,
    },
  ],
};
const side: LanternSide = { revision: 1, own: [], policies: [policy] };
const parts = (text: string): InspectedPart[] => [
  {
    status: 'read',
    role: 'body',
    path: ['text'],
    characters: text.length,
    findings: scanner.scan(text).findings,
  },
];
const [outside, inside] = WAYS;

describe('verdictFor', () => {
  it('says which rule of which policy would decide on the way outside', () => {
    expect(verdictFor(side, parts('card 4539 1488 0343 6467'), outside)).toMatchObject({
      answer: 'block',
      policy: { name: 'Cards' },
      ruleNumber: 2,
      rule: { notice: 'No.' },
    });
  });

  it('lets the same go to a colleague, and anything where nothing is published', () => {
    expect(verdictFor(side, parts('card 4539 1488 0343 6467'), inside)).toEqual({
      answer: null,
      policy: null,
      ruleNumber: 0,
      rule: null,
    });
    expect(
      verdictFor({ ...side, policies: [] }, parts('card 4539 1488 0343 6467'), outside).answer,
    ).toBeNull();
  });

  it('takes a part that could not be read into account', () => {
    const broken: InspectedPart[] = [
      { status: 'unreadable', role: 'attachment', path: ['x'], reason: 'encrypted' },
    ];
    expect(verdictFor(side, broken, inside)).toMatchObject({ answer: 'note', ruleNumber: 1 });
  });
});
