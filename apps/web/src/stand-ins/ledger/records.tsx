import type { PlayerView } from '@lantern/contracts';
import { useState } from 'react';
import { useLedgerActs, useLedgerRecords, useOpenedRecord } from '../../data/ledger';
import { errorSentence } from '../../wording/errors';
import { count } from '../../wording/numbers';
import { DeedTold } from './deeds';

/** Rows of a page, as the server gives them. */
const PAGE = 50;
const button = 'rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60';

interface Props {
  readonly player: PlayerView;
  readonly object: 'customers' | 'bookings' | 'claims' | 'freight';
}

/** A list to find records in. Opening one is recorded. */
export function Records({ player, object }: Props) {
  const [search, setSearch] = useState('');
  const [from, setFrom] = useState(0);
  const [opened, setOpened] = useState<string | null>(null);
  const records = useLedgerRecords(player.id, object, { search, from });
  const { open } = useLedgerActs(player.id);
  const total = records.data?.total ?? 0;
  return (
    <div className="flex gap-5">
      <section aria-label="Records" className="w-96 shrink-0">
        <label className="block text-[12.5px]">
          Search by number or name
          <input
            type="search"
            className="mt-0.5 block w-full border border-rule-strong bg-white px-1.5 py-1"
            value={search}
            onChange={({ target }) => {
              setSearch(target.value);
              setFrom(0);
            }}
          />
        </label>
        <p className="my-1.5 flex items-center gap-2 text-[12.5px] text-ink-2">
          <span className="flex-1">
            {total === 0
              ? 'None'
              : `${count(from + 1)} to ${count(Math.min(from + PAGE, total))} of ${count(total)}`}
          </span>
          <button type="button" className={button} disabled={from === 0} onClick={() => setFrom(from - PAGE)}>
            Previous
          </button>
          <button
            type="button"
            className={button}
            disabled={from + PAGE >= total}
            onClick={() => setFrom(from + PAGE)}
          >
            Next
          </button>
        </p>
        <ul>
          {records.data?.rows.map(({ id, name }) => (
            <li key={id} className="list-none">
              <button
                type="button"
                className="block w-full border-b border-rule px-1 py-1 text-left"
                disabled={open.isPending}
                onClick={() => open.mutate({ object, id }, { onSuccess: ({ deed }) => setOpened(deed.id) })}
              >
                <span className="font-mono text-[12.5px]">{id}</span> {name}
              </button>
            </li>
          ))}
        </ul>
      </section>
      <div className="min-w-0 flex-1">
        {open.error !== null && (
          <p role="alert" className="text-stop">
            {errorSentence(open.error)}
          </p>
        )}
        {opened === null ? (
          <p className="text-ink-2">Select a record. Opening it is recorded.</p>
        ) : (
          <Opened player={player} deed={opened} />
        )}
      </div>
    </div>
  );
}

function Opened({ player, deed }: { readonly player: PlayerView; readonly deed: string }) {
  const record = useOpenedRecord(player.id, deed);
  if (!record.data) return null;
  const { fields, deed: view } = record.data;
  return (
    <section aria-label={`Record ${view.facts.title}`}>
      <h2>{view.facts.title}</h2>
      <DeedTold player={player} deed={view} />
      {fields && (
        <dl className="mt-2">
          {fields.map(({ name, value }) => (
            <div key={name} className="flex border-b border-rule py-1">
              <dt className="w-40 shrink-0 text-ink-2">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
      )}
    </section>
  );
}
