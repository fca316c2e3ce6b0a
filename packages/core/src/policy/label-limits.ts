import type { WholeLabelSet } from '../labels/label-problems.js';
import { type Clause, type Effect, type Handler, mayDo, type Named } from '../labels/handling.js';
import { type Answer, type Severity, strength } from './answers.js';
import type { InspectedMovement } from './movement.js';
import type { Verdict } from './evaluate.js';

/** A labelled item that a movement does something with. */
export interface HandledInMovement {
  /** Id of its label. */
  readonly label: string;
  /** Name of the item as people know it. */
  readonly item: string;
  /** Address of its owner, who keeps every effect; empty where nobody knows. */
  readonly owner: string;
  /** When the label was set, in milliseconds since 1970, UTC. */
  readonly since: number;
  /** People whom the setter named. */
  readonly named: Named;
}

/** What a movement does in terms of labels, and with which items. */
export interface Handled {
  readonly effects: readonly Effect[];
  /** Whether whoever moves it is outside the organisation. */
  readonly outside: boolean;
  readonly items: readonly HandledInMovement[];
}

/** A label that does not grant what a movement does: it stands where a match of a rule would name its rule. */
export interface LabelMatch {
  readonly label: { readonly id: string; readonly name: string };
  readonly effect: Effect;
  readonly item: string;
  readonly owner: string;
  readonly clause: Clause;
  readonly answer: Answer;
  readonly severity: Severity;
}

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
