import type { DirectoryLook } from '@lantern/contracts/directory';
import type { PersonRecord } from '@lantern/core/directory';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { useTakeOver } from '../../data/directory';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import {
  faultSentence,
  fieldWords,
  people,
  refusalSentence,
  remarkSentence,
  SOURCE_WORDS,
} from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { Effects } from './effects';

/** What a comparison found, and the button that takes it over. */
export function LookView({ look, close }: { readonly look: DirectoryLook; readonly close: () => void }) {
  const takeOver = useTakeOver();
  const [confirmed, setConfirmed] = useState(false);
  const { counts, leavingPercent } = look;
  const nothing = counts.added + counts.changed + counts.left === 0;
  const refusal = nothing
    ? 'There is nothing to take over'
    : leavingPercent !== null && !confirmed
      ? 'Confirm below that so many people have left'
      : takeOver.isPending
        ? 'It is being taken over'
        : undefined;
  const take = () =>
    takeOver.mutate(
      { id: look.id, leavingPercent: leavingPercent ?? 100 },
      {
        onSuccess: ({ added, changed, left }) => {
          toast(`${added} added, ${changed} changed, ${left} left.`);
          close();
        },
      },
    );
  return (
    <div className="max-w-5xl">
      <h2 className="mb-1">What would change, {SOURCE_WORDS[look.source]}</h2>
      <p className="mb-3 text-ink-2">
        {people(counts.added)} would be added, {counts.changed.toLocaleString('en')} changed,{' '}
        {counts.left.toLocaleString('en')} would leave, {counts.unchanged.toLocaleString('en')} stay as they
        are.
        {counts.refused > 0 &&
          ` ${counts.refused === 1 ? 'One line is' : `${counts.refused.toLocaleString('en')} lines are`} not taken.`}
      </p>
      <div className="mb-4 flex flex-wrap items-center gap-2">
        <Button look="main" onClick={take} refusal={refusal}>
          Take over
        </Button>
        <Button look="quiet" onClick={close}>
          Leave the directory as it is
        </Button>
      </div>
      {takeOver.isError && <Notice look="stop">{errorSentence(takeOver.error)}</Notice>}
      {leavingPercent !== null && (
        <div className="mb-4">
          <Notice look="stop">
            <p className="mb-1">
              {people(counts.left)} would leave: {leavingPercent} percent of everybody from this source. That
              is often a file with a part missing.
            </p>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={confirmed}
                onChange={(event) => setConfirmed(event.target.checked)}
              />
              They have left
            </label>
          </Notice>
        </div>
      )}
      <section aria-label="Rules and offers" className="mb-4">
        <h3 className="mb-1">Rules, offers and exchanges</h3>
        <Effects effects={look.effects} none="None of them would mean other people than now." />
        {look.vanishing.length > 0 && (
          <p className="mt-1 text-stop">
            Nobody would carry these names any more, and rules or offers use them:{' '}
            {look.vanishing.map(({ kind, name }) => `${kind} ${name}`).join(', ')}.
          </p>
        )}
      </section>
      <List title="Would leave" count={counts.left} rows={look.left.map(personLine)} />
      <List
        title="Lines that are not taken"
        count={counts.refused}
        rows={look.refused.map((line) => `Line ${line.line}: ${refusalSentence(line)}`)}
      />
      <List
        title="Entries that cannot be read"
        count={look.faults.length}
        rows={look.faults.map((fault) => `Line ${fault.line}: ${faultSentence(fault)}`)}
      />
      <List
        title="Taken, but worth a look"
        count={counts.remarks}
        rows={look.remarks.map((remark) => `Line ${remark.line}: ${remarkSentence(remark)}`)}
      />
      <List
        title="Would change"
        count={counts.changed}
        rows={look.changed.map(({ before, after, fields }) => (
          <>
            <span className="font-semibold">{before.name}</span>, {fieldWords(fields)}
            <span className="block text-[12.5px] text-ink-2">{changeLine(before, after, fields)}</span>
          </>
        ))}
      />
      <List title="Would be added" count={counts.added} rows={look.added.map(personLine)} />
    </div>
  );
}

function List({
  title,
  count,
  rows,
}: {
  readonly title: string;
  readonly count: number;
  readonly rows: readonly ReactNode[];
}) {
  if (count === 0) return null;
  return (
    <details className="mb-3" open={count <= 20}>
      <summary className="cursor-pointer font-semibold">
        {title} ({count.toLocaleString('en')})
      </summary>
      <ul className="mt-1 border-t border-rule">
        {rows.map((row, at) => (
          <li key={at} className="border-b border-rule py-1">
            {row}
          </li>
        ))}
      </ul>
      {count > rows.length && (
        <p className="mt-1 text-[12.5px] text-ink-2">The first {rows.length} are shown.</p>
      )}
    </details>
  );
}

function personLine({ name, address, department, office, title }: PersonRecord): ReactNode {
  return (
    <>
      <span className="font-semibold">{name}</span>
      <span className="text-ink-2"> {[address, title, department, office].filter(Boolean).join(', ')}</span>
    </>
  );
}

/** `Crew → Deck` for each field that changes. */
function changeLine(before: PersonRecord, after: PersonRecord, fields: readonly string[]): string {
  const text = (person: PersonRecord, field: string): string => {
    const value = (person as unknown as Readonly<Record<string, unknown>>)[field];
    return Array.isArray(value)
      ? value.join(', ') || 'none'
      : typeof value === 'string' && value
        ? value
        : 'none';
  };
  return fields
    .filter((field) => field !== 'source')
    .map((field) => `${text(before, field)} → ${text(after, field)}`)
    .join('; ');
}
