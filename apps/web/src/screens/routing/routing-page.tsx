import { useState } from 'react';
import { Link } from 'react-router';
import { useMay } from '../../data/session';
import { HooksEditor } from './hooks-editor';
import { PromisesEditor } from './promises-editor';
import { RulesEditor } from './rules-editor';

const TABS = { rules: 'Routing and watches', promises: 'Promised times', hooks: 'Tickets' } as const;
type Tab = keyof typeof TABS;

/** What happens to incidents as they are recorded, by when they are to be decided, and where tickets go. */
export function RoutingPage() {
  const [tab, setTab] = useState<Tab>('rules');
  const mayRoute = useMay('incidents.route');
  return (
    <div className="mx-auto max-w-5xl px-6 py-5">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/incidents">
          Incidents
        </Link>
      </p>
      <h1>Routing and tickets</h1>
      <div
        role="tablist"
        aria-label="Routing and tickets"
        className="mt-3 mb-4 flex gap-1 border-b border-rule"
      >
        {(Object.keys(TABS) as Tab[])
          .filter((each) => mayRoute || each === 'rules')
          .map((each) => (
            <button
              key={each}
              type="button"
              role="tab"
              aria-selected={tab === each}
              className={`border-b-2 px-2.5 pb-1 ${tab === each ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`}
              onClick={() => setTab(each)}
            >
              {TABS[each]}
            </button>
          ))}
      </div>
      {tab === 'rules' && <RulesEditor mayRoute={mayRoute} />}
      {tab === 'promises' && <PromisesEditor />}
      {tab === 'hooks' && <HooksEditor />}
    </div>
  );
}
