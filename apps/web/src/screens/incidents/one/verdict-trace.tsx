import type { IncidentDetail } from '@lantern/contracts';
import { RuleTraces } from '../../../shared/trace/rule-traces';
import { ANSWER_DONE } from '../../../wording/terms';

/** How the verdict of an incident came about; nothing where our rules were not asked. */
export function VerdictTrace({ incident }: { readonly incident: IncidentDetail }) {
  if (incident.origin !== null) return null;
  return (
    <section aria-label="How the verdict was reached" className="mt-4">
      <h2 className="mb-1">Why it was {ANSWER_DONE[incident.answer]}</h2>
      <RuleTraces verdict={incident.verdict} policies={incident.policies} />
    </section>
  );
}
