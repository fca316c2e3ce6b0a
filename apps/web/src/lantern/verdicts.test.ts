import type { LanternSide } from '@lantern/contracts';
import { compileScanner, type InspectedPart, READY_PATTERNS } from '@lantern/core';
import { policyOf, ruleOf, setOf, SOME_TEXT } from '@lantern/testkit';
import { verdictFor, WAYS } from './verdicts';

const scanner = compileScanner(READY_PATTERNS);
const policy = policyOf('Cards', [
  ruleOf('a', { when: { kind: 'unreadable', reasons: [] }, answer: 'note' }),
  ruleOf('b'),
]);
const side: LanternSide = { revision: 1, own: [], set: setOf([policy]) };
const NAMES = new Map([['payment-card', 'Payment card number']]);
const parts = (text: string): InspectedPart[] => [
  {
    status: 'read',
    role: 'body',
    path: ['text'],
    characters: text.length,
    findings: scanner.scan(text).findings,
  },
];
const [outside, inside, guests] = WAYS;

describe('verdictFor', () => {
  it('says which rule of which policy would decide on the way outside', () => {
    expect(verdictFor(side, parts('card 4539 1488 0343 6467'), outside, NAMES)).toMatchObject({
      answer: 'block',
      policy: { name: 'Cards' },
      ruleNumber: 2,
      words: 'Use the portal.',
    });
  });

  it('lets the same go to a colleague, and anything where nothing is published', () => {
    expect(verdictFor(side, parts('card 4539 1488 0343 6467'), inside, NAMES)).toMatchObject({
      answer: null,
      policy: null,
      ruleNumber: 0,
      rule: null,
    });
    expect(
      verdictFor({ ...side, set: setOf([]) }, parts('card 4539 1488 0343 6467'), outside, NAMES).answer,
    ).toBeNull();
  });

  it('names what a ceiling cuts, and asks policies of the channel only', () => {
    const capped = {
      ...policy,
      ceilings: [{ people: { with: [], without: [] }, answer: 'note' as const, until: null }],
    };
    const found = parts('card 4539 1488 0343 6467');
    expect(verdictFor({ ...side, set: setOf([capped]) }, found, outside, NAMES)).toMatchObject({
      answer: 'note',
      written: 'block',
    });
    expect(verdictFor(side, found, guests, NAMES).answer).toBeNull();
  });

  it('knows where a link, a site and a strange drive lead', () => {
    const leaves = { ...policy, channels: ['drive', 'browser', 'endpoint'] as const };
    for (const way of WAYS.filter(({ channel }) => leaves.channels.some((each) => each === channel)))
      expect(
        verdictFor({ ...side, set: setOf([leaves]) }, parts('card 4539 1488 0343 6467'), way, NAMES).answer,
      ).toBe('block');
  });

  it('fills in what the person would read', () => {
    const words = [{ language: 'en', text: '{found} to {to}: {rule}' }];
    const set = setOf([policy], { texts: [{ ...SOME_TEXT, words }] });
    expect(verdictFor({ ...side, set }, parts('card 4539 1488 0343 6467'), outside, NAMES).words).toBe(
      '1 × Payment card number to somebody@outside.example: Cards',
    );
  });

  it('takes a part that could not be read into account', () => {
    const broken: InspectedPart[] = [
      { status: 'unreadable', role: 'attachment', path: ['x'], reason: 'encrypted' },
    ];
    expect(verdictFor(side, broken, inside, NAMES)).toMatchObject({ answer: 'note', ruleNumber: 1 });
  });
});
