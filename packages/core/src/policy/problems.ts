import { assertNever } from '../shared/assert-never.js';
import { CHANNEL_ANSWERS, type Condition, type Policy, type Rule } from './rule.js';

/** Highest count a rule may ask for: the number of candidates one scan keeps. */
export const MAX_COUNT = 100_000;
/** Deepest nesting of clauses that still reads as a sentence. */
export const MAX_NESTING = 8;

export type ProblemCode =
  | 'no-name'
  | 'no-rules'
  | 'no-channel'
  | 'certainty-out-of-range'
  | 'count-out-of-range'
  | 'unknown-pattern'
  | 'empty-group'
  | 'nested-too-deep'
  | 'no-domains'
  | 'not-a-domain'
  | 'answer-not-on-channel'
  | 'answer-without-text'
  | 'duplicate-name'
  | 'never-reached';

/** Something that keeps a policy from being published. `path` leads to the field inside the policy. */
export interface Problem {
  readonly code: ProblemCode;
  readonly path: readonly (string | number)[];
  /** The value or name at fault, where it helps; never inspected content. */
  readonly value?: string;
}

/** What the checks need to know of the rest of the draft. */
export interface ProblemContext {
  readonly patterns: ReadonlySet<string>;
  readonly otherNames: readonly string[];
}

const DOMAIN = /^(?=.{1,253}$)(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9][a-z0-9-]{0,61}[a-z0-9]$/i;

/** Everything that must be mended before `policy` can be published, in the order in which it is read. */
export function policyProblems(policy: Policy, context: ProblemContext): Problem[] {
  const problems: Problem[] = [];
  const name = policy.name.trim();
  if (name === '') problems.push({ code: 'no-name', path: ['name'] });
  else if (context.otherNames.includes(name))
    problems.push({ code: 'duplicate-name', path: ['name'], value: name });
  if (policy.channels.length === 0) problems.push({ code: 'no-channel', path: ['channels'] });
  if (policy.rules.length === 0) problems.push({ code: 'no-rules', path: ['rules'] });
  let ended = false;
  policy.rules.forEach((rule, index) => {
    const path = ['rules', index];
    if (ended) problems.push({ code: 'never-reached', path });
    problems.push(
      ...ruleProblems(rule, policy, path),
      ...conditionProblems(rule.when, context, [...path, 'when']),
    );
    if (rule.unless) problems.push(...conditionProblems(rule.unless, context, [...path, 'unless']));
    ended ||= rule.endsPolicy && !rule.unless && holdsForEverything(rule.when);
  });
  return problems;
}

function ruleProblems(rule: Rule, policy: Policy, path: readonly (string | number)[]): Problem[] {
  const problems: Problem[] = [];
  for (const channel of policy.channels) {
    if (!CHANNEL_ANSWERS[channel].includes(rule.answer)) {
      problems.push({
        code: 'answer-not-on-channel',
        path: [...path, 'answer'],
        value: `${rule.answer}, ${channel}`,
      });
    }
  }
  if (rule.answer !== 'note' && rule.notice.trim() === '') {
    problems.push({ code: 'answer-without-text', path: [...path, 'notice'] });
  }
  return problems;
}

function conditionProblems(
  condition: Condition,
  context: ProblemContext,
  path: readonly (string | number)[],
): Problem[] {
  switch (condition.kind) {
    case 'findings': {
      const problems: Problem[] = [];
      const { certainty, atLeast, pattern } = condition;
      if (!context.patterns.has(pattern))
        problems.push({ code: 'unknown-pattern', path: [...path, 'pattern'], value: pattern });
      if (!isWhole(certainty, 0, 100)) {
        problems.push({
          code: 'certainty-out-of-range',
          path: [...path, 'certainty'],
          value: String(certainty),
        });
      }
      if (!isWhole(atLeast, 1, MAX_COUNT)) {
        problems.push({ code: 'count-out-of-range', path: [...path, 'atLeast'], value: String(atLeast) });
      }
      return problems;
    }
    case 'domain':
      if (condition.domains.length === 0) return [{ code: 'no-domains', path: [...path, 'domains'] }];
      return condition.domains.flatMap((domain, index) =>
        DOMAIN.test(domain)
          ? []
          : [{ code: 'not-a-domain' as const, path: [...path, 'domains', index], value: domain }],
      );
    case 'unreadable':
    case 'recipient':
      return [];
    case 'all':
    case 'any':
    case 'none':
      if (condition.of.length === 0) return [{ code: 'empty-group', path }];
      if (path.filter((step) => step === 'of').length >= MAX_NESTING)
        return [{ code: 'nested-too-deep', path }];
      return condition.of.flatMap((part, index) => conditionProblems(part, context, [...path, 'of', index]));
    default:
      return assertNever(condition);
  }
}

function isWhole(value: number, least: number, most: number): boolean {
  return Number.isInteger(value) && value >= least && value <= most;
}

/** A condition that no movement can fail: nothing behind a rule that ends its policy on it is ever read. */
function holdsForEverything(condition: Condition): boolean {
  if (condition.kind === 'all') return condition.of.every(holdsForEverything);
  if (condition.kind === 'any') {
    return condition.of.some(holdsForEverything) || coversBothSides(condition.of);
  }
  return false;
}

function coversBothSides(conditions: readonly Condition[]): boolean {
  const sides = conditions.flatMap((part) =>
    part.kind === 'recipient' && part.quantity === 'any' ? [part.side] : [],
  );
  return sides.includes('inside') && sides.includes('outside');
}
