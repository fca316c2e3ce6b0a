import { mask, type OwnPattern } from '../../detection/index.js';
import { clausesOf } from '../../policy/model/conditions.js';
import type { PolicySet } from '../../policy/model/rule.js';
import { isPatternChange, isSame, type PreventingChange, withChangedRule } from './change.js';

/** What a set says of the rule or the pattern that a change is about. */
export interface SetOfChange extends PolicySet {
  readonly patterns: readonly OwnPattern[];
}

/** Whether a change stands in a set. A value that was left out is known by its mask. */
export function isInForce(set: SetOfChange, change: PreventingChange): boolean {
  if (isPatternChange(change)) {
    const pattern = set.patterns.find(({ id }) => id === change.pattern);
    if (!pattern) return false;
    if (change.kind === 'remove-word')
      return pattern.origin === 'own' && !pattern.words.some(({ text }) => isSame(text, change.word));
    if (pattern.origin !== 'expression') return false;
    return change.kind === 'leave-out-value'
      ? pattern.exclusions.values.some((value) => mask(value) === change.value)
      : pattern.counterWords.some((word) => isSame(word, change.word));
  }
  const policy = set.policies.find(({ rules }) => rules.some(({ id }) => id === change.rule));
  const rule = policy?.rules.find(({ id }) => id === change.rule);
  if (!policy || !rule) return false;
  if (change.kind === 'enter-exchange') {
    const named = (rule.unless ? clausesOf(rule.unless) : []).flatMap((clause) =>
      clause.kind === 'exchange' ? clause.exchanges : [],
    );
    return set.exchanges.some(({ id, to }) => named.includes(id) && to.includes(change.domain));
  }
  // Made once more, it changes nothing, but for exceptions, which then stand twice.
  const again = withChangedRule(policy, change, NO_EXCHANGE).rules.find(({ id }) => id === change.rule);
  const clauses = (rule.unless ? clausesOf(rule.unless) : []).map((clause) => JSON.stringify(clause));
  const added = again?.unless ? clausesOf(again.unless).at(-1) : undefined;
  return JSON.stringify(again) === JSON.stringify(rule) || clauses.includes(JSON.stringify(added));
}

const NO_EXCHANGE = '' as never;

/** False positives of a rule in some days. */
export interface FalseRate {
  readonly count: number;
  readonly days: number;
}

/** Whether a change did what it promised. */
export type PromiseState = 'not-published' | 'too-early' | 'kept' | 'not-kept';

/** False positives that would have come without the change before anything can be said. */
const LEAST_EXPECTED = 5;
/** Chance below which more false positives than promised are no accident. */
const ACCIDENT = 0.05;

/**
 * Compares false positives since a change was published with those before, less the promised part. They are taken as
 * Poisson counts: the promise is broken where as many or more have a chance below 5 % if it is kept.
 */
export function promiseState(before: FalseRate, goneShare: number, since: FalseRate): PromiseState {
  const without = before.days === 0 ? 0 : (before.count / before.days) * since.days;
  if (without < LEAST_EXPECTED) return 'too-early';
  return chanceOfAtLeast(since.count, without * (1 - goneShare)) < ACCIDENT ? 'not-kept' : 'kept';
}

/** P(X ≥ count) of a Poisson count. */
export function chanceOfAtLeast(count: number, mean: number): number {
  let term = Math.exp(-mean);
  let below = 0;
  for (let k = 0; k < count; k += 1) {
    below += term;
    term *= mean / (k + 1);
  }
  return Math.max(0, 1 - below);
}
