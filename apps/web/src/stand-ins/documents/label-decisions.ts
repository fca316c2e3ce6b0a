import type { DocumentDetail } from '@lantern/contracts';
import type { Effect } from '@lantern/core/labels';
import { clauseWords } from '../../wording/labels';

/** Why a person may not do something, in words; null where they may. A document of one's own that is new is open. */
export function effectRefusal(document: DocumentDetail | null, effect: Effect): string | null {
  const leave = document?.leaves.find((each) => each.effect === effect);
  return !document || !leave || leave.allowed ? null : clauseWords(leave.clause, document.owner.name);
}
