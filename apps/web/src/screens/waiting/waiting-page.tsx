import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useWaiting } from '../../data/waiting';
import { StandingApprovals } from '../../shared/approvals/standing-approvals';
import { PendingRow } from '../../shared/pending/pending-row';
import { Empty, Loading, Notice } from '../../ui/notice';
import { Believed } from './believed';
import { errorSentence } from '../../wording/errors';

/** What waits for somebody: requests to let a movement go, held movements, questions without a reply. */
export function WaitingPage() {
  const [search, setSearch] = useSearchParams();
  const [typed, setTyped] = useState('');
  const waiting = useWaiting(typed.trim());
  // What somebody looks for may be long decided.
  const all = search.get('show') === 'all' || typed.trim() !== '';
  const rows = (waiting.data ?? []).filter(({ state }) => all || state === 'waiting');
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/incidents">
          Incidents
        </Link>
      </p>
      <div className="mb-3 flex max-w-5xl items-center gap-3">
        <h1 className="flex-1">Waiting for a decision</h1>
        <input
          type="search"
          aria-label="Search decisions"
          placeholder="Person, reason, or who decided"
          className="field !w-72 !py-1 text-[12.5px]"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <label className="flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            checked={all}
            onChange={(event) => setSearch(event.target.checked ? { show: 'all' } : {})}
          />
          Include decided
        </label>
      </div>
      {waiting.isPending && <Loading what="what waits" />}
      {waiting.isError && <Notice look="stop">{errorSentence(waiting.error)}</Notice>}
      {waiting.data && rows.length === 0 && (
        <Empty title="No pending decisions">
          Held movements and override requests appear here until someone decides.
        </Empty>
      )}
      <ol className="max-w-5xl">
        {rows.map((view) => (
          <PendingRow key={view.id} view={view} />
        ))}
      </ol>
      <StandingApprovals all={all} />
      <Believed all={all} />
    </div>
  );
}
