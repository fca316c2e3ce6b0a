import { type Scanner } from '@lantern/core/detection';
import { judgeItem, type PolicySet, type Verdict } from '@lantern/core/policy';
import { type Case, type Expectation, movementOf } from './cases.js';
import type { ReadFolder } from './folder.js';

/** How a case came out: what was decided, and in what it is not as expected. */
export interface CaseOutcome {
  readonly name: string;
  readonly path: string;
  readonly line: number;
  readonly decided: Expectation;
  readonly expected: Expectation | null;
  readonly kept: boolean;
}

/** What a verdict decided, in the terms of an expectation. */
export function decidedAs({ answer, decidedBy }: Verdict, { policies }: PolicySet): Expectation {
  if (answer === null || !decidedBy) return { answer: 'none' };
  const policy = policies.find(({ id }) => id === decidedBy.policy);
  const rule = policy?.rules.findIndex(({ id }) => id === decidedBy.rule) ?? -1;
  return { answer, policy: policy?.name ?? '', rule: rule + 1, band: decidedBy.band + 1 };
}

export function outcomeOf(given: Case, verdict: Verdict, set: PolicySet): CaseOutcome {
  const decided = decidedAs(verdict, set);
  const { name, path, line, expect } = given;
  const kept = Object.entries(expect ?? {}).every(
    ([field, value]) => decided[field as keyof Expectation] === value,
  );
  return { name, path, line, decided, expected: expect, kept };
}

/** What the set decides about a case: automatic rules label it first, as the server does. */
export async function verdictOf(
  given: Case,
  { set, labels }: Pick<ReadFolder, 'set' | 'labels'>,
  scanner: Scanner,
): Promise<Verdict> {
  const movement = await movementOf(given, scanner, set.domains);
  return judgeItem({ labels, policies: set }, movement).verdict;
}
