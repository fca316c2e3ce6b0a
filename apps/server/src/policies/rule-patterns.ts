import { assertNever, type Condition, type Rule } from '@lantern/core';

/** Ids of all patterns that a rule looks for, exceptions included. */
export function findingPatterns(rule: Rule): string[] {
  return [...patternsOf(rule.when), ...(rule.unless ? patternsOf(rule.unless) : [])];
}

function patternsOf(condition: Condition): string[] {
  switch (condition.kind) {
    case 'findings':
      return [condition.pattern];
    case 'all':
    case 'any':
    case 'none':
      return condition.of.flatMap(patternsOf);
    case 'unreadable':
    case 'recipient':
    case 'domain':
      return [];
    default:
      return assertNever(condition);
  }
}
