import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { TrailEntry } from '@lantern/contracts';
import { trailQuery, useTrail, useTrailCheck, useTrailForwarding } from '../../data/accounts';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { exactTime, shortTime } from '../../wording/times';
import { actWords, checkWords, NAMED_ACTS } from '../../wording/trail';

/** Everything that changed something or showed something sensitive, and whether that record is whole. */
export function TrailPage() {
  const may = useMay('trail.read');
  if (!may)
    return (
      <div className="px-7 py-4">
        <h1 className="mb-2">Audit trail</h1>
        <Notice>Your account may not read the audit trail. Auditors and administrators can.</Notice>
      </div>
    );
  return <TrailScreen />;
}

function TrailScreen() {
  const [search, setSearch] = useSearchParams();
  const filter = { actor: search.get('actor') ?? '', action: search.get('action') ?? '' };
  const [actor, setActor] = useState(filter.actor);
  const trail = useTrail(filter);
  const narrow = (next: Partial<typeof filter>) =>
    setSearch(trailQuery({ ...filter, ...next }), { replace: true });
  const entries = trail.data?.pages.flatMap((page) => page.entries) ?? [];
  const total = trail.data?.pages[0]?.total ?? 0;
  const query = trailQuery(filter);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <h1 className="mb-1">Audit trail</h1>
      <p className="mb-3 max-w-3xl text-ink-2">
        Sign-ins, changes and views of sensitive values. Entries are only ever added; each is chained to the
        one before it, and the end is signed.
      </p>
      <Check />
      <Forwarding />
      <div className="mb-3 flex max-w-4xl flex-wrap items-end gap-3">
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            narrow({ actor: actor.trim().toLowerCase() });
          }}
        >
          <TextField
            label="Account"
            placeholder="address"
            value={actor}
            onChange={(event) => setActor(event.target.value)}
          />
          <Button type="submit">Search account</Button>
        </form>
        <SelectField
          label="Act"
          value={filter.action}
          options={[{ value: '', label: 'All acts' }, ...NAMED_ACTS]}
          onChange={(action) => narrow({ action })}
        />
        <a className="part pb-1.5" href={`/api/trail/export${query ? `?${query}` : ''}`} download>
          Export {total.toLocaleString('en')} {total === 1 ? 'entry' : 'entries'} as JSON Lines
        </a>
      </div>
      {trail.isPending && <Loading what="the audit trail" />}
      {trail.isError && <Notice look="stop">{errorSentence(trail.error)}</Notice>}
      {trail.data && entries.length === 0 && (
        <Empty title="No entries match">
          <Button
            onClick={() => {
              setActor('');
              narrow({ actor: '', action: '' });
            }}
          >
            Remove filters
          </Button>
        </Empty>
      )}
      {entries.length > 0 && <Entries entries={entries} />}
      {trail.hasNextPage && (
        <Button onClick={() => void trail.fetchNextPage()}>
          {trail.isFetchingNextPage
            ? 'Loading …'
            : `Show older entries (${(total - entries.length).toLocaleString('en')} more)`}
        </Button>
      )}
    </div>
  );
}

function Check() {
  const check = useTrailCheck();
  return (
    <div className="mb-4 flex max-w-4xl flex-col items-start gap-2">
      <Button onClick={() => check.mutate()}>
        {check.isPending ? 'Checking …' : 'Check the whole trail'}
      </Button>
      {check.data && <Notice look={check.data.whole ? 'go' : 'stop'}>{checkWords(check.data)}</Notice>}
      {check.isError && <Notice look="stop">{errorSentence(check.error)}</Notice>}
    </div>
  );
}

/** How far it was sent on to a collector of logs. */
function Forwarding() {
  const { data } = useTrailForwarding();
  if (!data?.to) return null;
  const { to, sent, waiting, failing } = data;
  return (
    <div className="mb-4 max-w-4xl">
      {failing ? (
        <Notice look="stop">
          Forwarded to {to} up to entry {sent}. The receiver has not answered since{' '}
          {shortTime(failing.since, new Date())}: {failing.why}. {waiting} entries wait.
        </Notice>
      ) : (
        <p className="text-ink-2">
          Forwarded to {to} up to entry {sent}.
        </p>
      )}
    </div>
  );
}

function Entries({ entries }: { readonly entries: readonly TrailEntry[] }) {
  return (
    <table className="mb-3 w-full max-w-5xl text-[13px]">
      <thead>
        <tr className="text-left text-ink-2">
          <th className="py-1 text-right font-normal">number</th>
          <th className="pl-4 font-normal">time</th>
          <th className="font-normal">who</th>
          <th className="font-normal">act</th>
          <th className="font-normal">on</th>
        </tr>
      </thead>
      <tbody>
        {entries.map((entry) => (
          <tr key={entry.number} className="border-t border-rule align-baseline">
            <td className="py-1 text-right tabular-nums text-ink-2">{entry.number}</td>
            <td className="pl-4 pr-3 whitespace-nowrap" title={exactTime(entry.at)}>
              {shortTime(entry.at, new Date())}
            </td>
            <td className="pr-3">
              {entry.actor}
              {entry.facts['inPlaceOf'] && (
                <span className="block text-[12.5px] text-ink-2">in place of {entry.facts['inPlaceOf']}</span>
              )}
            </td>
            <td className="pr-3" title={entry.action}>
              {actWords(entry)}
            </td>
            <td className="max-w-72 truncate font-mono text-[12px]" title={entry.target}>
              {entry.target ||
                Object.entries(entry.facts)
                  .filter(([name]) => name !== 'inPlaceOf')
                  .map(([name, value]) => `${name} ${value}`)
                  .join(', ')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
