import type { Automatic } from '@lantern/core/labels';
import type { PatternId } from '@lantern/core/shared';
import { automaticOf } from '@lantern/testkit';
import { automaticSentence } from './automatic-sentence';

const names = new Map([
  ['card', 'payment cards'],
  ['iban', 'account numbers'],
  ['care', 'Passenger care'],
]);
const rule = automaticOf('care', {
  name: 'r',
  content: [{ pattern: 'card' as PatternId, distinct: true, certainty: 80, atLeast: 2 }],
  quantity: 'any',
});

describe('automaticSentence', () => {
  it.each<[Partial<Automatic>, string]>([
    [{}, 'When an item holds at least 2 different payment cards, certain to 80 or more: set Passenger care.'],
    [{ does: 'suggest', content: [] }, 'When an item exists: suggest Passenger care.'],
    [
      {
        quantity: 'every',
        content: [
          ...rule.content,
          { pattern: 'iban' as PatternId, distinct: true, certainty: 50, atLeast: 1 },
        ],
      },
      'When an item holds at least 2 different payment cards, certain to 80 or more, and at least 1 account numbers, certain to 50 or more: set Passenger care.',
    ],
    [
      { kinds: ['pdf'], places: ['Claims/2026'], sharedWith: 'outside', lowersPeople: true, atMost: 10 },
      'When an item holds at least 2 different payment cards, certain to 80 or more and is a PDF and lies in Claims/2026, only if someone outside can open it: set Passenger care, even if a person chose a higher label. At most 10 in one run.',
    ],
  ])('%#', (over, sentence) => {
    expect(automaticSentence({ ...rule, ...over }, names)).toBe(sentence);
  });
});
