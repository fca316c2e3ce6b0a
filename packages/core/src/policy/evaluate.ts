import type { PolicyId, RuleId } from '../shared/brand.js';
import { type ConditionTrace, evaluateCondition } from './condition.js';
import type { InspectedMovement } from './movement.js';
import { type Answer, type Policy, type Rule, type Severity, strength } from './rule.js';

/** One rule that held for one movement. */
export interface Match {
  readonly policy: PolicyId;
  readonly rule: RuleId;
  readonly answer: Answer;
  readonly severity: Severity;
}

/** What became of one rule: read with its conditions, or not read, and why. */
export type RuleTrace =
  | {
      readonly rule: RuleId;
      readonly read: true;
      readonly held: boolean;
      readonly when: ConditionTrace;
      readonly unless: ConditionTrace | null;
    }
  | { readonly rule: RuleId; readonly read: false; readonly because: 'policy-ended'; readonly by: RuleId };

export interface PolicyTrace {
  readonly policy: PolicyId;
  readonly applies: boolean;
  readonly rules: readonly RuleTrace[];
}

/** What is decided for a movement. */
export interface Verdict {
  /** Strongest answer over all policies; null where no rule held, and the movement goes on unrecorded as an incident. */
  readonly answer: Answer | null;
  /** First match, in reading order, that gives the answer: its text is the one people read. */
  readonly decidedBy: Match | null;
  readonly matches: readonly Match[];
  readonly trace: readonly PolicyTrace[];
}

/**
 * Reads policies in order and rules in order within each. A rule that ends its policy ends that one only. Across
 * policies the strongest answer wins; of equal ones the first read.
 */
export function evaluate(policies: readonly Policy[], movement: InspectedMovement): Verdict {
  const matches: Match[] = [];
  const trace = policies.map((policy) => evaluatePolicy(policy, movement, matches));
  let decidedBy: Match | null = null;
  for (const match of matches) {
    if (!decidedBy || strength(match.answer) > strength(decidedBy.answer)) decidedBy = match;
  }
  return { answer: decidedBy?.answer ?? null, decidedBy, matches, trace };
}

function evaluatePolicy(policy: Policy, movement: InspectedMovement, matches: Match[]): PolicyTrace {
  if (!policy.channels.includes(movement.channel)) return { policy: policy.id, applies: false, rules: [] };
  const rules: RuleTrace[] = [];
  let endedBy: RuleId | undefined;
  for (const rule of policy.rules) {
    if (endedBy) {
      rules.push({ rule: rule.id, read: false, because: 'policy-ended', by: endedBy });
      continue;
    }
    const traced = evaluateRule(rule, movement);
    rules.push(traced);
    if (!traced.held) continue;
    matches.push({ policy: policy.id, rule: rule.id, answer: rule.answer, severity: rule.severity });
    if (rule.endsPolicy) endedBy = rule.id;
  }
  return { policy: policy.id, applies: true, rules };
}

function evaluateRule(rule: Rule, movement: InspectedMovement): RuleTrace & { readonly read: true } {
  const when = evaluateCondition(rule.when, movement);
  const unless = rule.unless && evaluateCondition(rule.unless, movement);
  return { rule: rule.id, read: true, held: when.held && !unless?.held, when, unless };
}
