import type { ChooserView, DocumentDetail } from '@lantern/contracts';
import type { Effect } from '@lantern/core';
import { clauseWords } from '../../wording/labels';

/** The label a new document has before anybody chose: none, unless one is preset. */
export function startingLabel({ starts }: Pick<ChooserView, 'starts'>): string | null {
  return starts.kind === 'preset' ? starts.label : null;
}

/** Why a person may not do something, in words; null where they may. A document of one's own that is new is open. */
export function effectRefusal(document: DocumentDetail | null, effect: Effect): string | null {
  const leave = document?.leaves.find((each) => each.effect === effect);
  return !document || !leave || leave.allowed ? null : clauseWords(leave.clause, document.owner.name);
}

/** Whether a choice goes down the scale; a label that cannot be chosen counts by what is known of it, as higher. */
export function lowers(
  before: string | null,
  after: string | null,
  { labels }: Pick<ChooserView, 'labels'>,
): boolean {
  if (before === null || before === after) return false;
  if (after === null) return true;
  const rank = (id: string): number | undefined => labels.find((label) => label.id === id)?.rank;
  const [was, is] = [rank(before), rank(after)];
  return was === undefined || is === undefined || is <= was;
}
