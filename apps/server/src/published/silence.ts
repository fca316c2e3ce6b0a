import { type Policy, type PolicySet, type Verdict, weigh, withLabelMatches } from '@lantern/core/policy';
import type { Caller } from '../platform/auth/permit.js';

/** Who something is shown to. */
type Reader = Pick<Caller, 'permissions'>;

/** Whether a policy holds rules that this account may not see. */
export function isHiddenFrom({ rules }: Pick<Policy, 'rules'>, caller: Reader): boolean {
  return !caller.permissions.includes('policies.silent') && rules.some(({ silence }) => silence !== null);
}

/** A policy without the silent rules that this account may not see. */
export function seenBy(policy: Policy, caller: Reader): Policy {
  return isHiddenFrom(policy, caller)
    ? { ...policy, rules: policy.rules.filter(({ silence }) => silence === null) }
    : policy;
}

export function setSeenBy<Set extends PolicySet>(set: Set, caller: Reader): Set {
  return { ...set, policies: set.policies.map((policy) => seenBy(policy, caller)) };
}

/** A verdict without the way of silent rules that this account may not see. */
export function verdictSeenBy(verdict: Verdict, caller: Reader, policies: readonly Policy[]): Verdict {
  const hidden = new Set(
    policies
      .filter((policy) => isHiddenFrom(policy, caller))
      .flatMap(({ rules }) => rules.filter(({ silence }) => silence !== null).map(({ id }) => id)),
  );
  if (caller.permissions.includes('policies.silent')) return verdict;
  const open = verdict.matches.filter(({ silent, rule }) => !silent && !hidden.has(rule));
  const seen = withLabelMatches(weigh(open), verdict.forbidden ?? []);
  const trace = verdict.trace.map((policy) => ({
    ...policy,
    rules: policy.rules.filter(({ rule }) => !hidden.has(rule)),
  }));
  // What reading did not finish says stands as it is: no silent rule decided it.
  return verdict.unfinished ? { ...verdict, matches: open, trace } : { ...verdict, ...seen, trace };
}
