import {
  type Band,
  EMPTY_BAND,
  type Condition,
  type FindingsCondition,
  isGroup,
  type Measure,
  type Policy,
  type Problem,
  type Rule,
} from '@lantern/core/policy';

/** Way to a clause inside a condition: positions in nested groups. */
export type ClausePath = readonly number[];

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

/** The clause at a path, or nothing where the path leads nowhere. */
export function clauseAt(condition: Condition, path: ClausePath): Condition | undefined {
  const [first, ...rest] = path;
  if (first === undefined) return condition;
  const part = isGroup(condition) ? condition.of[first] : undefined;
  return part && clauseAt(part, rest);
}

/** Moves a clause to a place among the clauses of its group. */
export function placeClause(condition: Condition, path: ClausePath, to: number): Condition {
  const from = path.at(-1);
  if (from === undefined) return condition;
  const moved = changeClause(condition, path.slice(0, -1), (group) =>
    isGroup(group) ? { ...group, of: movedTo(group.of, from, to) } : group,
  );
  return moved ?? condition;
}

/** Where a clause can go with the keyboard: past its neighbour, into a group beside it, or out of its group. */
export type ClauseStep = 'up' | 'down' | 'out' | 'in';

/** Steps that lead somewhere from a place. */
export function stepsFrom(condition: Condition, path: ClausePath): ClauseStep[] {
  const at = path.at(-1);
  if (at === undefined) return [];
  const group = clauseAt(condition, path.slice(0, -1));
  if (!group || !isGroup(group)) return [];
  const before = group.of[at - 1];
  return [
    ...(at > 0 ? (['up'] as const) : []),
    ...(at < group.of.length - 1 ? (['down'] as const) : []),
    ...(before && isGroup(before) ? (['in'] as const) : []),
    ...(path.length > 1 ? (['out'] as const) : []),
  ];
}

/** Moves a clause one step; a step that leads nowhere changes nothing. A group that is left empty goes. */
export function stepClause(condition: Condition, path: ClausePath, step: ClauseStep): Condition {
  const at = path.at(-1);
  const clause = clauseAt(condition, path);
  if (at === undefined || !clause || !stepsFrom(condition, path).includes(step)) return condition;
  if (step === 'up' || step === 'down') return placeClause(condition, path, at + (step === 'up' ? -1 : 1));
  const parent = path.slice(0, -1);
  const without = changeClause(condition, path, () => null) ?? condition;
  if (step === 'in') return addClause(without, [...parent, at - 1], clause);
  const place = (parent.at(-1) ?? 0) + 1;
  const outside = parent.slice(0, -1);
  const placed = changeClause(without, outside, (group) =>
    isGroup(group) ? { ...group, of: group.of.toSpliced(place, 0, clause) } : group,
  );
  return withoutEmpty(placed ?? condition, parent);
}

function withoutEmpty(condition: Condition, path: ClausePath): Condition {
  const group = clauseAt(condition, path);
  return group && isGroup(group) && group.of.length === 0
    ? (changeClause(condition, path, () => null) ?? condition)
    : condition;
}

function movedTo<Item>(items: readonly Item[], from: number, to: number): Item[] {
  const item = items[from];
  return item === undefined ? [...items] : items.toSpliced(from, 1).toSpliced(to, 0, item);
}

export function changeRule(policy: Policy, index: number, change: Partial<Rule>): Policy {
  return { ...policy, rules: policy.rules.map((rule, at) => (at === index ? { ...rule, ...change } : rule)) };
}

export function removeRule(policy: Policy, index: number): Policy {
  return { ...policy, rules: policy.rules.filter((_rule, at) => at !== index) };
}

/** Moves a rule to another place; beyond the ends nothing moves. */
export function placeRule(policy: Policy, from: number, to: number): Policy {
  if (to < 0 || to >= policy.rules.length) return policy;
  return { ...policy, rules: movedTo(policy.rules, from, to) };
}

/** Makes a rule graduated: its first clause about findings becomes what the bands count. */
export function graduate(rule: Rule, pattern: string): Rule {
  const found = firstFindings(rule.when, []);
  const { clause, path } = found ?? { clause: null, path: null };
  const measure: Measure = {
    pattern: clause?.pattern ?? pattern,
    distinct: clause?.distinct ?? true,
    certainty: clause?.certainty ?? 80,
    where: clause?.where ?? [],
  };
  const from = clause?.atLeast ?? 1;
  const band: Band = rule.bands[0] ?? EMPTY_BAND;
  const when = path && path.length > 0 ? changeClause(rule.when, path, () => null) : rule.when;
  return { ...rule, when: when ?? rule.when, measure, bands: [{ ...band, from, to: null }] };
}

/** Makes one outcome of bands again: the strongest counts, from where the first began. */
export function flatten(rule: Rule): Rule {
  if (!rule.measure) return rule;
  const from = Math.max(1, Math.min(...rule.bands.map((band) => band.from)));
  const clause: FindingsCondition = { kind: 'findings', ...rule.measure, atLeast: from };
  const last = rule.bands.at(-1) ?? EMPTY_BAND;
  return {
    ...rule,
    when: addClause(rule.when, [], clause),
    measure: null,
    bands: [{ ...last, from: 1, to: null }],
  };
}

/** Splits the last band in two that meet. */
export function addBand(rule: Rule): Rule {
  const last = rule.bands.at(-1) ?? EMPTY_BAND;
  const from = last.to === null ? Math.max(last.from * 5, last.from + 1) : last.to + 1;
  return {
    ...rule,
    bands: [...rule.bands.slice(0, -1), { ...last, to: from - 1 }, { ...last, from, to: null }],
  };
}

/** Takes a band out; the one before it reaches on, so that no gap is left. */
export function removeBand(rule: Rule, index: number): Rule {
  const gone = rule.bands[index];
  if (!gone || rule.bands.length === 1) return rule;
  const bands = rule.bands
    .map((band, at) => (at === index - 1 ? { ...band, to: gone.to } : band))
    .filter((_band, at) => at !== index);
  return { ...rule, bands };
}

/** Changes where a band begins, and lets the one before it end just there. */
export function changeFrom(rule: Rule, index: number, from: number): Rule {
  return {
    ...rule,
    bands: rule.bands.map((band, at) =>
      at === index ? { ...band, from } : at === index - 1 ? { ...band, to: from - 1 } : band,
    ),
  };
}

export function changeBand(rule: Rule, index: number, change: Partial<Band>): Rule {
  return { ...rule, bands: rule.bands.map((band, at) => (at === index ? { ...band, ...change } : band)) };
}

function firstFindings(
  condition: Condition,
  path: ClausePath,
): { readonly clause: FindingsCondition; readonly path: ClausePath } | null {
  if (condition.kind === 'findings') return { clause: condition, path };
  if (condition.kind !== 'all') return null;
  for (const [index, part] of condition.of.entries()) {
    const found = firstFindings(part, [...path, index]);
    if (found) return found;
  }
  return null;
}

/** Problems that stand at or below a place in the policy. */
export function problemsAt(problems: readonly Problem[], path: readonly (string | number)[]): Problem[] {
  return problems.filter((problem) => path.every((step, index) => problem.path[index] === step));
}

/** Where a condition stands in a policy. */
export type ConditionPlace = readonly (string | number)[];

/** Where a clause stands in the policy, as problems name it. */
export function problemPath(place: ConditionPlace, clause: ClausePath): (string | number)[] {
  return [...place, ...clause.flatMap((step) => ['of', step])];
}
