import { clausesOf, patternAsked } from '../model/conditions.js';
import type { Rule } from '../model/rule.js';

/** Patterns a rule asks for, each once, in reading order. */
export function patternsOfRule(rule: Rule): string[] {
  const clauses = [rule.when, ...(rule.unless ? [rule.unless] : [])].flatMap(clausesOf);
  const asked = clauses.flatMap(patternAsked);
  return [...new Set(rule.measure ? [rule.measure.pattern, ...asked] : asked)];
}
