import { compileScanner, READY_PATTERNS } from '@lantern/core/detection';
import { type Label, NO_LABELS } from '@lantern/core/labels';
import { type InspectedMovement } from '@lantern/core/movement';
import { keepMovement } from '@lantern/core/policy';
import { automaticOf, policyOf, ruleOf, setOf } from '@lantern/testkit';
import { rejudge, sideOf } from './rejudge.js';

const scanner = compileScanner(READY_PATTERNS);
const CARDS = 'card 4111 1111 1111 1111 and card 5555 5555 5555 4444';
const care = { id: 'care', name: 'Care', rank: 1, carriers: ['mail'], retired: false } as unknown as Label;
const labels = { ...NO_LABELS, labels: [care], automatic: [automaticOf('care')] };
const byLabel = setOf([
  policyOf('Labelled', [ruleOf('l', { when: { kind: 'label', carries: 'one-of', labels: ['care'] } })]),
]);
const movement = (text: string): InspectedMovement => ({
  channel: 'mail',
  at: 0,
  sender: { address: 'ada@house.example' },
  recipients: [{ address: 'guest@elsewhere.example', outside: true }],
  parts: [
    {
      status: 'read',
      role: 'body',
      path: ['body'],
      characters: text.length,
      findings: scanner.scan(text).findings,
    },
  ],
  files: [],
  labels: [],
  earlier: [],
});
const entry = (text: string, withText = true) => ({
  movement: keepMovement(movement(text)),
  texts: withText ? [text] : null,
});
const sides = (before: typeof labels | typeof NO_LABELS, after: typeof labels | typeof NO_LABELS) => ({
  before: sideOf(byLabel, before, scanner),
  after: sideOf(byLabel, after, scanner),
});
const KEPT = { before: false, after: false };

describe('a kept movement, judged by two sets', () => {
  it('is labelled by the automatic rules of each side', () => {
    const decided = rejudge(entry(CARDS), sides(NO_LABELS, labels), KEPT);
    expect(decided).toMatchObject({ before: { answer: null }, after: { answer: 'block' } });
    expect(rejudge(entry(CARDS), sides(labels, NO_LABELS), KEPT)).toMatchObject({
      before: { answer: 'block' },
      after: { answer: null },
    });
  });

  it('reads kept findings of patterns that automatic rules alone ask for', () => {
    expect(sides(labels, labels).before.asked?.has('payment-card')).toBe(true);
    expect(rejudge(entry('no card at all'), sides(labels, labels), KEPT)).toMatchObject({
      before: { answer: null },
      after: { answer: null },
    });
  });

  it('gives the same where texts are looked at again, and nothing where they were not kept', () => {
    const again = { before: true, after: false };
    const [whole, bare] = [entry(CARDS), entry(CARDS, false)];
    const decided = rejudge(whole, sides(labels, labels), again);
    expect(decided.before).toEqual(decided.after);
    expect(rejudge(bare, sides(labels, labels), again)).toMatchObject({
      before: null,
      after: { answer: 'block' },
    });
  });
});
