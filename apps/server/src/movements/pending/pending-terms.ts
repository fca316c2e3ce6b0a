import type { PersonNotice } from '@lantern/contracts';
import type { PolicySet, Verdict } from '@lantern/core/policy';
import { OPEN_PAGE_MS } from './open-pages.js';
import type { PendingEntity } from './pending.entity.js';
import { decidingRule } from '../notice/person-notice.js';

/** On which terms something waits that was asked about or held; null where nothing waits. */
export function pendingTerms(
  verdict: Verdict,
  set: PolicySet,
  notice: PersonNotice | null,
): Pick<PendingEntity, 'kind' | 'deadline' | 'openUntil' | 'otherwise' | 'decides'> | null {
  const { answer } = verdict;
  if (verdict.happened) return null;
  if (notice?.proof && answer !== 'ask')
    return {
      ...{ kind: 'prove', openUntil: null, otherwise: 'stays', decides: 'person' },
      deadline: new Date(notice.proof.until),
    };
  if (answer !== 'ask' && answer !== 'hold') return null;
  const told = decidingRule(verdict, set);
  return {
    kind: answer,
    deadline: notice?.ask ? new Date(notice.ask.until) : null,
    openUntil: notice?.ask?.whileOpen ? new Date(Date.now() + OPEN_PAGE_MS) : null,
    otherwise: notice?.ask?.otherwise ?? 'stays',
    decides: answer === 'ask' ? 'person' : (told?.rule.override?.decides ?? 'approvers'),
  };
}
