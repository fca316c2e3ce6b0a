import type { Condition, Policy, Problem, Rule, RuleId } from '@lantern/core';

/** Way to a clause inside a condition: positions in nested groups. */
export type ClausePath = readonly number[];

const isGroup = (condition: Condition): condition is Condition & { kind: 'all' | 'any' | 'none' } =>
  condition.kind === 'all' || condition.kind === 'any' || condition.kind === 'none';

/** The condition with the clause at `path` put through `change`; a change that gives null takes the clause out. */
export function changeClause(
  condition: Condition,
  path: ClausePath,
  change: (clause: Condition) => Condition | null,
): Condition | null {
  const [first, ...rest] = path;
  if (first === undefined) return change(condition);
  if (!isGroup(condition)) return condition;
  const of = condition.of.flatMap((part, index) => {
    if (index !== first) return [part];
    const changed = changeClause(part, rest, change);
    return changed ? [changed] : [];
  });
  return { ...condition, of };
}

/** Puts a clause beside others: into the group at `path`, or into a new "and" group around what stands there. */
export function addClause(condition: Condition, path: ClausePath, clause: Condition): Condition {
  const added = changeClause(condition, path, (target) =>
    isGroup(target) ? { ...target, of: [...target.of, clause] } : { kind: 'all', of: [target, clause] },
  );
  return added ?? clause;
}

export function changeRule(policy: Policy, index: number, change: Partial<Rule>): Policy {
  return { ...policy, rules: policy.rules.map((rule, at) => (at === index ? { ...rule, ...change } : rule)) };
}

export function removeRule(policy: Policy, index: number): Policy {
  return { ...policy, rules: policy.rules.filter((_rule, at) => at !== index) };
}

/** Moves a rule one place up or down; at the end of the list nothing moves. */
export function moveRule(policy: Policy, index: number, by: -1 | 1): Policy {
  const target = index + by;
  const moved = policy.rules[index];
  const other = policy.rules[target];
  if (!moved || !other) return policy;
  return {
    ...policy,
    rules: policy.rules.map((rule, at) => (at === index ? other : at === target ? moved : rule)),
  };
}

/** The rule that a new policy or a new line starts with: the commonest one, to be changed in place. */
export function newRule(id: string, pattern: string): Rule {
  return {
    id: id as RuleId,
    when: {
      kind: 'all',
      of: [
        { kind: 'findings', pattern, atLeast: 1, distinct: true, certainty: 80 },
        { kind: 'recipient', quantity: 'any', side: 'outside' },
      ],
    },
    unless: null,
    answer: 'note',
    severity: 'medium',
    notice: '',
    endsPolicy: false,
  };
}

/** Problems that stand at or below a place in the policy. */
export function problemsAt(problems: readonly Problem[], path: readonly (string | number)[]): Problem[] {
  return problems.filter((problem) => path.every((step, index) => problem.path[index] === step));
}

/** Where a clause stands in the policy, as problems name it. */
export function problemPath(rule: number, side: 'when' | 'unless', clause: ClausePath): (string | number)[] {
  return ['rules', rule, side, ...clause.flatMap((step) => ['of', step])];
}
