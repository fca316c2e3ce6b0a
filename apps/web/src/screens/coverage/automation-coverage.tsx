import type { AutomationGap } from '@lantern/core/automations';
import { Link } from 'react-router';
import { useAutomationGaps } from '../../data/crossings';
import { Loading, Notice } from '../../ui/notice';
import { count } from '../../wording/numbers';
import { errorSentence } from '../../wording/errors';

interface Props {
  readonly side: 'published' | 'drafts';
}

/** Flows and assistants: where no set guards anything, and what runs there. */
export function AutomationCoverage({ side }: Props) {
  const gaps = useAutomationGaps(side);
  return (
    <section aria-label="Flows and assistants" className="mt-6 max-w-4xl">
      <h2>Flows and assistants</h2>
      {gaps.isPending && <Loading what="what flows may do" />}
      {gaps.isError && <Notice look="stop">{errorSentence(gaps.error)}</Notice>}
      {gaps.data?.gaps.length === 0 && (
        <p className="text-ink-2">Every workspace has a set, and there are no gaps.</p>
      )}
      <ul>
        {gaps.data?.gaps.map((gap, index) => (
          <li key={index} className="flex items-baseline gap-4 border-t border-rule py-1.5 text-[13px]">
            <span className="flex-1">{gapSentence(gap, (id) => gaps.data.names[id] ?? id)}</span>
            <span className="text-ink-2">{runningWords(gap.running)}</span>
            <Link className="part" to={WHERE[gap.kind]}>
              {WHERE[gap.kind] === '/automations/sets' ? 'Open the sets' : 'Open the register'}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

const WHERE: Readonly<Record<AutomationGap['kind'], string>> = {
  workspace: '/automations/sets',
  addresses: '/automations/sets',
  label: '/automations/sets',
  older: '/automations/sets',
  ungoverned: '/automations/services',
};

export function gapSentence(gap: AutomationGap, nameOf: (id: string) => string): string {
  switch (gap.kind) {
    case 'workspace':
      return `No set applies to the workspace ${nameOf(gap.workspace)}. Flows there are not restricted.`;
    case 'ungoverned':
      return `No set can govern ${nameOf(gap.service)}. ${gap.why}`;
    case 'addresses':
      return `${nameOf(gap.service)} can call any address. No address list covers it.`;
    case 'label':
      return `Anybody may use assistants that read places labeled ${nameOf(gap.label)}.`;
    case 'older':
      return `The set ${nameOf(gap.set)} exempts automations older than its date.`;
  }
}

const runningWords = (running: number): string =>
  running === 0 ? 'none running' : `${count(running)} running`;
