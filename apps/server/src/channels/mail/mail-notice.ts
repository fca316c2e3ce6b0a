import type { MailNotice } from '@lantern/contracts';
import {
  countFindings,
  type FindingsCondition,
  type Condition,
  type InspectedMovement,
  type Policy,
  READY_PATTERNS,
  type Verdict,
  type OwnPattern,
} from '@lantern/core';

/** Recipients and parts named in a notice; more would bury the point. */
const NAMED_AT_MOST = 5;

/** What the sender is told: which rule, what was found and where, who is outside. No value of any finding. */
export function mailNotice(
  movement: InspectedMovement,
  verdict: Verdict,
  policies: readonly Policy[],
  lists: readonly OwnPattern[],
): MailNotice | null {
  const deciding = verdict.decidedBy;
  const policy = policies.find((candidate) => candidate.id === deciding?.policy);
  const ruleIndex = policy?.rules.findIndex((rule) => rule.id === deciding?.rule) ?? -1;
  const rule = policy?.rules[ruleIndex];
  if (!policy || !rule) return null;
  const names = new Map<string, string>(
    [...READY_PATTERNS, ...lists].map((pattern) => [pattern.id, pattern.name]),
  );
  return {
    answer: rule.answer,
    policyName: policy.name,
    ruleNumber: ruleIndex + 1,
    text: rule.notice,
    found: findingConditions(rule.when).flatMap((condition) => {
      const found = foundFor(condition, movement);
      return found.distinct > 0
        ? [
            {
              pattern: condition.pattern,
              patternName: names.get(condition.pattern) ?? condition.pattern,
              ...found,
            },
          ]
        : [];
    }),
    outside: movement.recipients
      .filter((recipient) => recipient.outside)
      .map((recipient) => recipient.address)
      .slice(0, NAMED_AT_MOST),
    unreadable: movement.parts
      .flatMap((part) =>
        part.status === 'unreadable' ? [{ name: part.path.join(' › '), reason: part.reason }] : [],
      )
      .slice(0, NAMED_AT_MOST),
  };
}

function findingConditions(condition: Condition): FindingsCondition[] {
  if (condition.kind === 'findings') return [condition];
  if (condition.kind === 'all' || condition.kind === 'any') return condition.of.flatMap(findingConditions);
  return [];
}

function foundFor(
  condition: FindingsCondition,
  movement: InspectedMovement,
): { distinct: number; where: string[] } {
  const all = movement.parts.flatMap((part) => (part.status === 'read' ? part.findings : []));
  const where = movement.parts.flatMap((part) =>
    part.status === 'read' &&
    countFindings(part.findings, condition.pattern, condition.certainty).findings > 0
      ? [part.path.join(' › ')]
      : [],
  );
  return {
    distinct: countFindings(all, condition.pattern, condition.certainty).distinct,
    where: where.slice(0, NAMED_AT_MOST),
  };
}
