import type { WholeLabelSet } from '../../labels/label-problems.js';
import { type Handler, mayDo } from '../../labels/handling.js';
import { type Answer, type Severity, strength } from '../model/answers.js';
import type { LabelMatch } from './verdict.js';
import type { InspectedMovement } from '../../movement/movement.js';
import type { Verdict } from './verdict.js';

/** Handling is absolute: what a label does not grant is blocked, whatever rules say. */
const ANSWER: Answer = 'block';
const SEVERITY: Severity = 'medium';

/** What labels forbid of a movement, once for each label and effect. Labels that the set does not know forbid nothing. */
export function labelMatches(
  { labels }: Pick<WholeLabelSet, 'labels'>,
  { sender, handled, at }: InspectedMovement,
): LabelMatch[] {
  const found = new Map<string, LabelMatch>();
  if (!handled) return [];
  const person: Handler = { ...sender, outside: handled.outside };
  for (const { label: id, item, owner, since, named } of handled.items) {
    const label = labels.find((each) => each.id === id);
    if (!label) continue;
    for (const effect of handled.effects) {
      const { allowed, clause } = mayDo(
        effect,
        person,
        { owner, handling: label.handling, since, named },
        at,
      );
      const key = `${id} ${effect}`;
      if (allowed || found.has(key)) continue;
      found.set(key, {
        label: { id, name: label.name },
        effect,
        item,
        owner,
        clause,
        answer: ANSWER,
        severity: SEVERITY,
      });
    }
  }
  return [...found.values()];
}

/** A verdict with what labels forbid: it blocks, and no rule's override can lift it. */
export function withLabelMatches<Given extends Pick<Verdict, 'answer' | 'decidedBy'>>(
  verdict: Given,
  forbidden: readonly LabelMatch[],
): Given & { readonly forbidden?: readonly LabelMatch[] } {
  if (forbidden.length === 0) return verdict;
  const answer =
    verdict.answer !== null && strength(verdict.answer) > strength(ANSWER) ? verdict.answer : ANSWER;
  return { ...verdict, answer, decidedBy: null, forbidden };
}
