import type { Policy, PolicySet, Verdict } from '@lantern/core';
import type { Caller } from '../platform/auth/permit.js';

/** Whether a policy holds rules that this account may not see. */
export function isHiddenFrom({ rules }: Pick<Policy, 'rules'>, caller: Caller): boolean {
  return !caller.permissions.includes('policies.silent') && rules.some(({ silence }) => silence !== null);
}

/** A policy without the silent rules that this account may not see. */
export function seenBy(policy: Policy, caller: Caller): Policy {
  return isHiddenFrom(policy, caller)
    ? { ...policy, rules: policy.rules.filter(({ silence }) => silence === null) }
    : policy;
}

export function setSeenBy<Set extends PolicySet>(set: Set, caller: Caller): Set {
  return { ...set, policies: set.policies.map((policy) => seenBy(policy, caller)) };
}

/** A verdict without the way of silent rules that this account may not see. */
export function verdictSeenBy(verdict: Verdict, caller: Caller, policies: readonly Policy[]): Verdict {
  const hidden = new Set(
    policies
      .filter((policy) => isHiddenFrom(policy, caller))
      .flatMap(({ rules }) => rules.filter(({ silence }) => silence !== null).map(({ id }) => id)),
  );
  if (hidden.size === 0) return verdict;
  const trace = verdict.trace.map((policy) => ({
    ...policy,
    rules: policy.rules.filter(({ rule }) => !hidden.has(rule)),
  }));
  return { ...verdict, trace };
}
