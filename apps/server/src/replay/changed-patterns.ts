import { type OwnPattern } from '@lantern/core/detection';
import { type WholeLabelSet } from '@lantern/core/labels';
import { patternsOfAutomatic, patternsOfRule, type PolicySet } from '@lantern/core/policy';
import { stable } from '../published/draft-state.js';

/** Whether findings made with some patterns are not what others would find, as far as rules ask. */
export function mustDetect(
  made: readonly OwnPattern[],
  wanted: readonly OwnPattern[],
  set: PolicySet,
  labels: WholeLabelSet,
): boolean {
  const asked = new Set([
    ...set.policies.flatMap(({ rules }) => rules.flatMap(patternsOfRule)),
    ...patternsOfAutomatic(labels),
  ]);
  const before = new Map(made.map((pattern) => [String(pattern.id), stable(pattern)]));
  const after = new Map(wanted.map((pattern) => [String(pattern.id), stable(pattern)]));
  return [...asked].some((id) => before.get(id) !== after.get(id));
}
