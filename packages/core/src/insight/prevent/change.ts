import {
  type ExpressionPattern,
  mask,
  type OwnPattern,
  type WordListPattern,
} from '../../detection/index.js';
import { assertNever } from '../../shared/assert-never.js';
import type { Spot } from '../../movement/location.js';
import { type Condition, type FindingsCondition, isGroup } from '../../policy/model/conditions.js';
import type { Exchange, ExchangeId } from '../../policy/model/exchange.js';
import type { Policy, PolicySet, Rule } from '../../policy/model/rule.js';
import type { SpotTerm } from '../../policy/model/spots.js';

/** A change of one rule, or of what it refers to. */
export type RuleChange =
  /** Does not hold where everybody it goes to is under a domain. */
  | { readonly kind: 'except-domain'; readonly rule: string; readonly domain: string }
  | { readonly kind: 'except-department'; readonly rule: string; readonly department: string }
  | { readonly kind: 'except-group'; readonly rule: string; readonly group: string }
  | { readonly kind: 'except-source'; readonly rule: string; readonly spot: Spot }
  | { readonly kind: 'except-target'; readonly rule: string; readonly spot: Spot }
  /** Stands in the register from now on, and the rule does not hold for it. */
  | {
      readonly kind: 'enter-exchange';
      readonly rule: string;
      readonly department: string;
      readonly domain: string;
      readonly pattern: string;
    }
  | {
      readonly kind: 'raise-certainty';
      readonly rule: string;
      readonly pattern: string;
      readonly from: number;
      readonly to: number;
    }
  | {
      readonly kind: 'raise-count';
      readonly rule: string;
      readonly pattern: string;
      readonly from: number;
      readonly to: number;
    };

/** A change of one own pattern. */
export type PatternChange =
  | { readonly kind: 'remove-word'; readonly pattern: string; readonly word: string }
  | { readonly kind: 'leave-out-value'; readonly pattern: string; readonly value: string }
  | { readonly kind: 'add-counter-word'; readonly pattern: string; readonly word: string };

/** A change that would have prevented false positives. */
export type PreventingChange = RuleChange | PatternChange;

export function isPatternChange(change: PreventingChange): change is PatternChange {
  return 'pattern' in change && !('rule' in change);
}

/** The set with a rule changed. The set itself where it has no such rule. */
export function withRuleChange(set: PolicySet, change: RuleChange, exchange: ExchangeId): PolicySet {
  const entered =
    change.kind === 'enter-exchange' ? [...set.exchanges, exchangeOf(change, exchange)] : set.exchanges;
  return {
    ...set,
    exchanges: entered,
    policies: set.policies.map((policy) =>
      policy.rules.some(({ id }) => id === change.rule) ? withChangedRule(policy, change, exchange) : policy,
    ),
  };
}

/** A policy with one of its rules changed. */
export function withChangedRule(policy: Policy, change: RuleChange, exchange: ExchangeId): Policy {
  return {
    ...policy,
    rules: policy.rules.map((rule) => (rule.id === change.rule ? changedRule(rule, change, exchange) : rule)),
  };
}

/** The entry of the register that a change makes. */
export function exchangeOf(
  { department, domain, pattern }: Extract<RuleChange, { kind: 'enter-exchange' }>,
  id: ExchangeId,
): Exchange {
  return {
    id,
    name: `${department} to ${domain}`,
    from: { with: [{ kind: 'department', department }], without: [] },
    to: [domain],
    patterns: [pattern],
    why: 'Entered from false positives.',
    until: null,
  };
}

function changedRule(rule: Rule, change: RuleChange, exchange: ExchangeId): Rule {
  const unlessAlso = (condition: Condition): Rule => ({ ...rule, unless: either(rule.unless, condition) });
  switch (change.kind) {
    case 'except-domain':
      return unlessAlso({ kind: 'domain', quantity: 'every', domains: [change.domain] });
    case 'except-department':
      return unlessAlso({
        kind: 'sender',
        people: { with: [{ kind: 'department', department: change.department }], without: [] },
      });
    case 'except-group':
      return unlessAlso({
        kind: 'sender',
        people: { with: [{ kind: 'group', group: change.group }], without: [] },
      });
    case 'except-source':
      return unlessAlso({ kind: 'taken-from', spots: [termOf(change.spot)] });
    case 'except-target':
      return unlessAlso({ kind: 'put-into', spots: [termOf(change.spot)] });
    case 'enter-exchange':
      return unlessAlso({ kind: 'exchange', exchanges: [exchange] });
    case 'raise-certainty':
      return withCertainty(rule, change);
    case 'raise-count':
      return {
        ...rule,
        when: findingsOf(rule.when, change.pattern, (leaf) => ({
          ...leaf,
          atLeast: Math.max(leaf.atLeast, change.to),
        })),
      };
    default:
      return assertNever(change);
  }
}

function withCertainty(rule: Rule, { pattern, to }: Extract<RuleChange, { kind: 'raise-certainty' }>): Rule {
  const raised = <Counted extends { readonly certainty: number }>(counted: Counted): Counted => ({
    ...counted,
    certainty: Math.max(counted.certainty, to),
  });
  const { measure } = rule;
  return {
    ...rule,
    measure: measure?.pattern === pattern ? raised(measure) : measure,
    when: findingsOf(rule.when, pattern, raised),
  };
}

/** Exceptions stand side by side: any of them lets it through. */
function either(known: Condition | null, condition: Condition): Condition {
  if (known === null) return condition;
  return known.kind === 'any'
    ? { ...known, of: [...known.of, condition] }
    : { kind: 'any', of: [known, condition] };
}

/** A condition with every count of one pattern in it changed. */
function findingsOf(
  condition: Condition,
  pattern: string,
  change: (leaf: FindingsCondition) => FindingsCondition,
): Condition {
  if (isGroup(condition))
    return { ...condition, of: condition.of.map((part) => findingsOf(part, pattern, change)) };
  return condition.kind === 'findings' && condition.pattern === pattern ? change(condition) : condition;
}

function termOf(spot: Spot): SpotTerm {
  switch (spot.kind) {
    case 'application':
      return { kind: 'application', name: spot.name };
    case 'host':
      return { kind: 'host', host: spot.host, under: false };
    case 'device':
      return { kind: 'device', device: spot.device, name: spot.name, trusted: spot.trusted };
    case 'place':
      return { kind: 'place', path: spot.path };
    default:
      return assertNever(spot);
  }
}

/** Patterns that a change can be made to. */
export type ChangeablePattern = WordListPattern | ExpressionPattern;

/** The pattern with a change; null where the change is not for this kind of pattern. */
export function withPatternChange(pattern: OwnPattern, change: PatternChange): ChangeablePattern | null {
  switch (change.kind) {
    case 'remove-word':
      return pattern.origin === 'own'
        ? { ...pattern, words: pattern.words.filter(({ text }) => !isSame(text, change.word)) }
        : null;
    case 'leave-out-value':
      return pattern.origin === 'expression'
        ? {
            ...pattern,
            exclusions: { ...pattern.exclusions, values: [...pattern.exclusions.values, change.value] },
          }
        : null;
    case 'add-counter-word':
      return pattern.origin === 'expression'
        ? { ...pattern, counterWords: [...pattern.counterWords, change.word] }
        : null;
    default:
      return assertNever(change);
  }
}

/** Two ways of writing one word or value. */
export const isSame = (one: string, other: string): boolean =>
  one.normalize('NFKC').toLowerCase() === other.normalize('NFKC').toLowerCase();

/** A change as it may be shown and kept: a value that somebody moved is masked. */
export function shownChange(change: PreventingChange): PreventingChange {
  return change.kind === 'leave-out-value' ? { ...change, value: mask(change.value) } : change;
}
