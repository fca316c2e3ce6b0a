import type { LanternSide } from '@lantern/contracts';
import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { type Label, NO_LABELS } from '@lantern/core/labels';
import { type InspectedPart } from '@lantern/core/movement';
import { type PatternId } from '@lantern/core/shared';
import { automaticOf, policyOf, ruleOf, setOf, SOME_TEXT } from '@lantern/testkit';
import { verdictFor, WAYS } from './verdicts';

const scanner = compileScanner(READY_PATTERNS);
const policy = policyOf('Cards', [
  ruleOf('a', { when: { kind: 'unreadable', reasons: [] }, answer: 'note' }),
  ruleOf('b'),
]);
const side: LanternSide = { revision: 1, own: [], set: setOf([policy]), labels: NO_LABELS };
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
    expect(verdictFor(side, { parts: parts('card 4539 1488 0343 6467') }, outside, NAMES)).toMatchObject({
      answer: 'block',
      policy: { name: 'Cards' },
      ruleNumber: 2,
      words: 'Use the portal.',
    });
  });

  it('lets the same go to a colleague, and anything where nothing is published', () => {
    expect(verdictFor(side, { parts: parts('card 4539 1488 0343 6467') }, inside, NAMES)).toMatchObject({
      answer: null,
      policy: null,
      ruleNumber: 0,
      rule: null,
    });
    expect(
      verdictFor({ ...side, set: setOf([]) }, { parts: parts('card 4539 1488 0343 6467') }, outside, NAMES)
        .answer,
    ).toBeNull();
  });

  it('names what a ceiling cuts, and asks policies of the channel only', () => {
    const capped = {
      ...policy,
      ceilings: [{ people: { with: [], without: [] }, answer: 'note' as const, until: null }],
    };
    const found = { parts: parts('card 4539 1488 0343 6467') };
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
        verdictFor(
          { ...side, set: setOf([leaves]) },
          { parts: parts('card 4539 1488 0343 6467') },
          way,
          NAMES,
        ).answer,
      ).toBe('block');
  });

  it('fills in what the person would read', () => {
    const words = [{ language: 'en', text: '{found} to {to}: {rule}' }];
    const set = setOf([policy], { texts: [{ ...SOME_TEXT, words }] });
    expect(
      verdictFor({ ...side, set }, { parts: parts('card 4539 1488 0343 6467') }, outside, NAMES).words,
    ).toBe('1 × Payment card number to somebody@outside.example: Cards');
  });

  it('takes a part that could not be read into account', () => {
    const broken: InspectedPart[] = [
      { status: 'unreadable', role: 'attachment', path: ['x'], reason: 'encrypted' },
    ];
    expect(verdictFor(side, { parts: broken }, inside, NAMES)).toMatchObject({
      answer: 'note',
      ruleNumber: 1,
    });
  });

  it('labels first, as automatic rules say, and judges the labelled item', () => {
    const care = {
      id: 'care',
      name: 'Care',
      rank: 1,
      carriers: ['mail'],
      retired: false,
    } as unknown as Label;
    const rule = automaticOf(care.id, {
      content: [{ pattern: 'payment-card' as PatternId, distinct: true, certainty: 80, atLeast: 1 }],
    });
    const labels = { ...NO_LABELS, labels: [care], automatic: [rule] };
    const byLabel = policyOf('Labelled', [
      ruleOf('l', { when: { kind: 'label', carries: 'one-of', labels: ['care'] }, answer: 'advise' }),
    ]);
    const labelled: LanternSide = { ...side, set: setOf([byLabel]), labels };
    const found = { parts: parts('card 4539 1488 0343 6467') };
    expect(verdictFor(labelled, found, inside, NAMES)).toMatchObject({
      answer: 'advise',
      label: { label: { name: 'Care' }, rule: rule.id },
    });
    // A chat cannot carry it, and what holds nothing is not labelled.
    expect(verdictFor(labelled, found, guests, NAMES)).toMatchObject({ answer: null, label: null });
    expect(verdictFor(labelled, { parts: parts('nothing') }, inside, NAMES)).toMatchObject({
      answer: null,
      label: null,
    });
  });
});
