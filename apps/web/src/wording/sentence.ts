import type { Condition, Rule } from '@lantern/core';
import { assertNever } from '@lantern/core';

export type Names = ReadonlyMap<string, string>;

export function patternName(id: string, names: Names): string {
  return names.get(id) ?? 'a pattern that is gone';
}

export function countWords(atLeast: number, distinct: boolean): string {
  return `at least ${atLeast} ${distinct ? `distinct value${atLeast === 1 ? '' : 's'}` : `finding${atLeast === 1 ? '' : 's'}`}`;
}

/** One condition as words, without its neighbours. */
export function conditionWords(condition: Condition, names: Names): string {
  switch (condition.kind) {
    case 'findings':
      return `it holds ${countWords(condition.atLeast, condition.distinct)} of ${patternName(condition.pattern, names)}, certain to ${condition.certainty} or more`;
    case 'unreadable':
      return 'a part of it cannot be read';
    case 'recipient':
      return `${condition.quantity === 'any' ? 'any recipient is' : 'all recipients are'} ${condition.side}`;
    case 'domain':
      return `${condition.quantity === 'any' ? 'any recipient is' : 'all recipients are'} at ${condition.domains.join(' or ') || 'no domain yet'}`;
    case 'all':
      return joined(condition.of, names, ' and ');
    case 'any':
      return joined(condition.of, names, ' or ');
    case 'none':
      return `none of this is so: ${joined(condition.of, names, ', ')}`;
    default:
      return assertNever(condition);
  }
}

function joined(conditions: readonly Condition[], names: Names, by: string): string {
  if (conditions.length === 0) return 'nothing yet';
  return conditions.map((part) => conditionWords(part, names)).join(by);
}

/** A whole rule as a sentence, for lists, incidents and the review of changes. */
export function ruleSentence(rule: Rule, names: Names): string {
  const unless = rule.unless ? `, unless ${conditionWords(rule.unless, names)}` : '';
  const told =
    rule.answer === 'note' || rule.notice.trim() === '' ? '' : `, tell the sender "${rule.notice.trim()}"`;
  const ends = rule.endsPolicy ? '; later rules of this policy are not read' : '';
  return `When ${conditionWords(rule.when, names)}${unless}, then ${rule.answer}${told}, severity ${rule.severity}${ends}.`;
}
