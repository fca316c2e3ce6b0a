import type { WholeLabelSet } from '../../labels/label-problems.js';
import { type Effect, type Handler, type Leave, mayDo } from '../../labels/handling.js';
import type { Label } from '../../labels/label.js';
import { mayInPlace, OPEN_PLACE } from '../../labels/place-terms.js';
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
  const add = (
    { label: id, item, owner }: { readonly label: string; readonly item: string; readonly owner: string },
    ask: (effect: Effect, label: Label) => Leave,
  ): void => {
    const label = labels.find((each) => each.id === id);
    for (const effect of label ? handled.effects : []) {
      const { allowed, clause } = ask(effect, label as Label);
      const key = `${id} ${effect}`;
      if (allowed || found.has(key)) continue;
      const named = { id, name: (label as Label).name };
      found.set(key, {
        ...{ label: named, effect, item, owner, clause },
        answer: ANSWER,
        severity: SEVERITY,
      });
    }
  };
  for (const place of handled.places ?? [])
    add(place, (effect, label) => mayInPlace(effect, person, place, label.place ?? OPEN_PLACE));
  for (const each of handled.items)
    add(each, (effect, { handling }) => mayDo(effect, person, { ...each, handling }, at));
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
