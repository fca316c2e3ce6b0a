import type { Condition, Rule, RuleId } from '@lantern/core';
import { conditionWords, ruleSentence } from './sentence';

const names = new Map([['payment-card', 'Payment card number']]);
const cards: Condition = {
  kind: 'findings',
  pattern: 'payment-card',
  atLeast: 25,
  distinct: true,
  certainty: 80,
};
const outside: Condition = { kind: 'recipient', quantity: 'any', side: 'outside' };
const rule: Rule = {
  id: 'r' as RuleId,
  when: { kind: 'all', of: [cards, outside] },
  unless: null,
  answer: 'block',
  severity: 'high',
  notice: 'No.',
  endsPolicy: false,
};

describe('ruleSentence', () => {
  it('reads as one sentence', () => {
    expect(ruleSentence(rule, names)).toBe(
      'When it holds at least 25 distinct values of Payment card number, certain to 80 or more and any recipient is outside, then block, tell the sender "No.", severity high.',
    );
  });

  it('says the exception, the silence of a note and the end of its policy', () => {
    const quiet: Rule = {
      ...rule,
      unless: { kind: 'domain', quantity: 'every', domains: ['a.example', 'b.example'] },
      answer: 'note',
      endsPolicy: true,
    };
    expect(ruleSentence(quiet, names)).toContain(
      'unless all recipients are at a.example or b.example, then note, severity high; later rules of this policy are not read.',
    );
  });
});

describe('conditionWords', () => {
  it.each<[Condition, string]>([
    [
      { ...cards, pattern: 'x', distinct: false },
      'it holds at least 25 findings of a pattern that is gone, certain to 80 or more',
    ],
    [
      { kind: 'any', of: [cards, { kind: 'unreadable' }] },
      'it holds at least 25 distinct values of Payment card number, certain to 80 or more or a part of it cannot be read',
    ],
    [{ kind: 'none', of: [outside] }, 'none of this is so: any recipient is outside'],
    [{ kind: 'all', of: [] }, 'nothing yet'],
  ])('words %j', (condition, words) => expect(conditionWords(condition, names)).toBe(words));
});
