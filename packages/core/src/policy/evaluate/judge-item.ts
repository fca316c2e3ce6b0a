import type { WholeLabelSet } from '../../labels/label-problems.js';
import type { StandingLabel } from '../../labels/on-its-way.js';
import { evaluate } from './evaluate.js';
import { type Judgement, type Verdict } from './verdict.js';
import { compilePolicies } from './judge.js';
import { labelMatches, withLabelMatches } from './label-limits.js';
import { labelledBy, patternsOfAutomatic } from './labelled-movement.js';
import type { InspectedMovement } from '../../movement/movement.js';
import type { PolicySet } from '../model/rule.js';

/** All that decides about an item on its way. */
export interface WholeSetToJudge {
  readonly labels: WholeLabelSet;
  readonly policies: PolicySet;
}

/** What became of an item: the movement as policies saw it, its label, and the verdict with its trace. */
export interface JudgedItem {
  readonly movement: InspectedMovement;
  /** The label that stands on the whole of it; null for none, or where nothing carries one. */
  readonly label: StandingLabel | null;
  readonly verdict: Verdict;
}

/**
 * Judges an item: automatic labels are set first, then policies see the labelled item, and what labels forbid is blocked.
 * Doors, replay, Lantern, coverage and the command all come here.
 */
export function judgeItem({ labels, policies }: WholeSetToJudge, movement: InspectedMovement): JudgedItem {
  const labelled = labelledBy(labels, movement);
  const verdict = evaluate(policies, labelled.movement);
  return { ...labelled, verdict: withLabelMatches(verdict, labelMatches(labels, labelled.movement)) };
}

/** Judges many items by one set, without keeping the way. */
export interface ItemJudge {
  judge(movement: InspectedMovement): Judgement;
  /** Every pattern whose findings can change a judgement; null where any may. */
  readonly asked: ReadonlySet<string> | null;
}

/** Compiles a set. Gives what {@link judgeItem} gives, less the trace (held by test). */
export function compileItemJudge({ labels, policies }: WholeSetToJudge): ItemJudge {
  const compiled = compilePolicies(policies);
  return {
    asked: compiled.asked && new Set([...compiled.asked, ...patternsOfAutomatic(labels)]),
    judge: (given) => {
      const { movement } = labelledBy(labels, given);
      return withLabelMatches(compiled.judge(movement), labelMatches(labels, movement));
    },
  };
}
