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
  at: Date,
): Pick<
  PendingEntity,
  'kind' | 'deadline' | 'openUntil' | 'otherwise' | 'decides' | 'approvers' | 'nextDecides' | 'nextMinutes'
> | null {
  const { answer } = verdict;
  if (verdict.happened) return null;
  if (notice?.proof && answer !== 'ask')
    return {
      ...{ kind: 'prove', openUntil: null, otherwise: 'stays', decides: 'person', ...ONE_DECIDES },
      deadline: new Date(notice.proof.until),
    };
  if (answer !== 'ask' && answer !== 'hold') return null;
  if (answer === 'hold') return holdTerms(verdict, set, at);
  return {
    kind: answer,
    deadline: notice?.ask ? new Date(notice.ask.until) : null,
    openUntil: notice?.ask?.whileOpen ? new Date(Date.now() + OPEN_PAGE_MS) : null,
    otherwise: notice?.ask?.otherwise ?? 'stays',
    decides: 'person',
    ...ONE_DECIDES,
  };
}

const ONE_DECIDES = { approvers: 1, nextDecides: null, nextMinutes: null } as const;

/** What is held without a rule, because reading it did not finish, waits without an end. */
function holdTerms(verdict: Verdict, set: PolicySet, at: Date): NonNullable<ReturnType<typeof pendingTerms>> {
  const { hold, override } = decidingRule(verdict, set)?.rule ?? {};
  return {
    kind: 'hold',
    deadline: hold ? new Date(at.getTime() + hold.minutes * 60_000) : null,
    openUntil: null,
    otherwise: hold?.otherwise ?? 'stays',
    decides: override?.decides ?? 'approvers',
    approvers: hold?.approvers ?? override?.approvers ?? 1,
    nextDecides: hold?.next ?? null,
    nextMinutes: hold?.next ? hold.minutes : null,
  };
}
