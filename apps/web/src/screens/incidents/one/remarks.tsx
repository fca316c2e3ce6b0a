import type { IncidentDetail } from '@lantern/contracts';
import { deskPath, type Remark } from '@lantern/core/incidents';
import { Link } from 'react-router';
import { useRemarks } from '../../../data/desk';
import { remarkWords } from '../../../wording/desk';

/** Sentences against what the person usually does; each opens what it counts. */
export function Remarks({ incident }: { readonly incident: IncidentDetail }) {
  const remarks = useRemarks(incident.number);
  const rules = new Map<string, string>(
    incident.policies.flatMap((policy) =>
      policy.rules.map((rule) => [rule.id, rule.name || policy.name] as const),
    ),
  );
  const found = remarks.data?.remarks ?? [];
  if (found.length === 0) return null;
  return (
    <ul aria-label="Against the usual" className="mb-3 border-l-2 border-rule-strong pl-3 text-[12.5px]">
      {found.map((remark) => {
        const link = linkOf(remark, incident, (rule) => rules.get(rule) ?? rule);
        const words = remarkWords(remark, (rule) => rules.get(rule) ?? rule);
        return (
          <li key={remark.code} className="min-h-6">
            {link ? (
              <Link className="part" to={link}>
                {words}
              </Link>
            ) : (
              <span className="text-ink-2">{words}</span>
            )}
          </li>
        );
      })}
    </ul>
  );
}

const DAY_MS = 86_400_000;

/** The list of what a remark counts. */
function linkOf(remark: Remark, incident: IncidentDetail, nameOf: (rule: string) => string): string | null {
  const at = Date.parse(incident.at);
  const person = `person eq ${JSON.stringify(incident.person.address)}`;
  const within = (days: number) =>
    `${person} and time ge "${new Date(at - days * DAY_MS).toISOString()}" and time le "${incident.at}"`;
  switch (remark.code) {
    case 'incidents-lately':
      return deskPath(within(remark.days));
    case 'same-rule-lately':
      return deskPath(`${within(remark.days)} and rule eq ${JSON.stringify(nameOf(remark.rule))}`);
    case 'more-movements':
      return deskPath(within(remark.days), 'movements');
    case 'first-to-domain':
      return deskPath(`${person} and domain eq ${JSON.stringify(remark.domain)}`, 'movements');
    case 'first-by-channel':
      return deskPath(`${person} and channel eq "${remark.channel}"`, 'movements');
    case 'times-usual-values':
      return deskPath(within(84));
    case 'short-history':
      return null;
  }
}
