import type { OwnPattern } from '../../detection/index.js';
import type { Outcome } from '../../incidents/decision.js';
import { type Spot, spotName } from '../../movement/location.js';
import { clausesOf, type FindingsCondition } from '../../policy/model/conditions.js';
import { patternsOfRule } from '../../policy/evaluate/patterns-of-rule.js';
import type { Rule } from '../../policy/model/rule.js';
import { isSame, type PreventingChange } from './change.js';

/** What a movement that a rule matched looked like, as far as changes ask. */
export interface CaseFacts {
  readonly id: string;
  /** Null where nobody decided. */
  readonly outcome: Outcome | null;
  readonly domains: readonly string[];
  readonly department: string | null;
  readonly groups: readonly string[];
  readonly from: readonly Spot[];
  readonly into: readonly Spot[];
  readonly found: Readonly<Record<string, FoundFacts>>;
}

/** What was found of one pattern. */
export interface FoundFacts {
  readonly certainty: number;
  readonly distinct: number;
  /** Distinct values, the most certain first; 50 at most. */
  readonly values: readonly string[];
  /** Words right beside the findings, in lower case; empty where texts were not kept. */
  readonly beside: readonly string[];
}

/** Changes of one kind that are proposed. */
const MOST_OF_A_KIND = 2;
/** Share of the false positives that a change must touch to be worth a look. */
const LEAST_SHARE = 0.2;

/**
 * Changes that would have prevented false positives of a rule, from what they have in common and real cases do not. How good
 * each is, is for the journal to say: every one is only a candidate.
 */
export function propose(
  cases: readonly CaseFacts[],
  rule: Rule,
  patterns: readonly OwnPattern[],
): PreventingChange[] {
  const wrong = cases.filter(({ outcome }) => outcome === 'false-positive');
  const real = cases.filter(({ outcome }) => outcome === 'allowed' || outcome === 'harm');
  if (wrong.length === 0) return [];
  const common = <Value>(valuesOf: (one: CaseFacts) => readonly Value[], keyOf: (value: Value) => string) =>
    commonest(wrong, real, valuesOf, keyOf);
  const departments = common(departmentOf, String);
  const domains = common(({ domains: all }) => all, String);
  const asked = patternsOfRule(rule);
  return [
    ...exchanges(departments, domains, asked, rule),
    ...domains.map((domain) => ({ kind: 'except-domain' as const, rule: rule.id, domain })),
    ...common(({ from }) => from, spotName).map((spot) => ({
      kind: 'except-source' as const,
      rule: rule.id,
      spot,
    })),
    ...common(({ into }) => into, spotName).map((spot) => ({
      kind: 'except-target' as const,
      rule: rule.id,
      spot,
    })),
    ...departments.map((department) => ({ kind: 'except-department' as const, rule: rule.id, department })),
    ...common(({ groups }) => groups, String).map((group) => ({
      kind: 'except-group' as const,
      rule: rule.id,
      group,
    })),
    ...asked.flatMap((pattern) => thresholds(wrong, rule, pattern)),
    ...patterns.filter(({ id }) => asked.includes(id)).flatMap((pattern) => ofPattern(wrong, real, pattern)),
  ];
}

const departmentOf = ({ department }: CaseFacts): readonly string[] => (department ? [department] : []);

function exchanges(
  departments: readonly string[],
  domains: readonly string[],
  asked: readonly string[],
  rule: Rule,
): PreventingChange[] {
  const [department] = departments;
  const [domain] = domains;
  const [pattern] = asked;
  if (!department || !domain || !pattern) return [];
  return [{ kind: 'enter-exchange', rule: rule.id, department, domain, pattern }];
}

/** Values that many false positives have and few real cases; the best first. */
function commonest<Value>(
  wrong: readonly CaseFacts[],
  real: readonly CaseFacts[],
  valuesOf: (one: CaseFacts) => readonly Value[],
  keyOf: (value: Value) => string,
): Value[] {
  const counts = new Map<string, { readonly value: Value; wrong: number; real: number }>();
  const add = (cases: readonly CaseFacts[], side: 'wrong' | 'real') => {
    for (const one of cases)
      for (const [key, value] of new Map(valuesOf(one).map((each) => [keyOf(each), each]))) {
        const known = counts.get(key) ?? { value, wrong: 0, real: 0 };
        known[side] += 1;
        counts.set(key, known);
      }
  };
  add(wrong, 'wrong');
  add(real, 'real');
  const share = (count: number, of: number) => (of === 0 ? 0 : count / of);
  return [...counts.values()]
    .map((one) => ({
      ...one,
      gain: share(one.wrong, wrong.length) - share(one.real, real.length),
    }))
    .filter((one) => share(one.wrong, wrong.length) >= LEAST_SHARE)
    .sort((one, other) => other.gain - one.gain || other.wrong - one.wrong)
    .slice(0, MOST_OF_A_KIND)
    .map(({ value }) => value);
}

/** A certainty and a count just above those of the middle and of the last false positive. */
function thresholds(wrong: readonly CaseFacts[], rule: Rule, pattern: string): PreventingChange[] {
  const conditions = clausesOf(rule.when).filter(
    (clause): clause is FindingsCondition => clause.kind === 'findings' && clause.pattern === pattern,
  );
  const [condition] = conditions;
  if (!condition) return [];
  const found = wrong.flatMap((one) => one.found[pattern] ?? []);
  const above = (values: readonly number[], from: number, limit: number): number[] => {
    const sorted = [...values].sort((one, other) => one - other);
    const wanted = [sorted[Math.floor((sorted.length - 1) / 2)], sorted.at(-1)].flatMap((value) =>
      value === undefined ? [] : [value + 1],
    );
    return [...new Set(wanted)].filter((value) => value > from && value <= limit);
  };
  const certainties = above(
    found.map(({ certainty }) => certainty),
    condition.certainty,
    MOST_CERTAIN,
  );
  const counts = above(
    found.map(({ distinct }) => distinct),
    condition.atLeast,
    Number.MAX_SAFE_INTEGER,
  );
  return [
    ...certainties.map((to) => ({
      kind: 'raise-certainty' as const,
      rule: rule.id,
      pattern,
      from: condition.certainty,
      to,
    })),
    // Where bands count it, a number in the condition would leave bands that nothing reaches.
    ...(rule.measure === null ? counts : []).map((to) => ({
      kind: 'raise-count' as const,
      rule: rule.id,
      pattern,
      from: condition.atLeast,
      to,
    })),
  ];
}

/** Certainty above which nothing is found. */
const MOST_CERTAIN = 100;

function ofPattern(
  wrong: readonly CaseFacts[],
  real: readonly CaseFacts[],
  pattern: OwnPattern,
): PreventingChange[] {
  const { id } = pattern;
  const values = commonest(
    wrong,
    real,
    ({ found }) => found[id]?.values ?? [],
    (value) => value.toLowerCase(),
  );
  if (pattern.origin === 'own')
    return values.flatMap((value) => {
      const listed = pattern.words.find(({ text }) => isSame(text, value));
      // A list without words finds nothing at all.
      return listed && pattern.words.length > 1
        ? [{ kind: 'remove-word' as const, pattern: id, word: listed.text }]
        : [];
    });
  if (pattern.origin !== 'expression') return [];
  const known = [...pattern.namingWords, ...pattern.supportingWords, ...pattern.counterWords];
  const words = commonest(
    wrong,
    real,
    ({ found }) => found[id]?.beside ?? [],
    (word) => word,
  ).filter((word) => !known.some((other) => isSame(other, word)));
  return [
    ...words.map((word) => ({ kind: 'add-counter-word' as const, pattern: id, word })),
    ...values.map((value) => ({ kind: 'leave-out-value' as const, pattern: id, value })),
  ];
}
