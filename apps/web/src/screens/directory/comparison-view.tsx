import type { DirectoryComparison } from '@lantern/contracts/directory';
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
export function ComparisonView({
  comparison,
  close,
}: {
  readonly comparison: DirectoryComparison;
  readonly close: () => void;
}) {
  const takeOver = useTakeOver();
  const [confirmed, setConfirmed] = useState(false);
  const { counts, leavingPercent } = comparison;
  const nothing = counts.added + counts.changed + counts.left === 0;
  const refusal = nothing
    ? 'There is nothing to import'
    : leavingPercent !== null && !confirmed
      ? 'Confirm below that these people have left'
      : takeOver.isPending
        ? 'The changes are being saved'
        : undefined;
  const take = () =>
    takeOver.mutate(
      { id: comparison.id, leavingPercent: leavingPercent ?? 100 },
      {
        onSuccess: ({ added, changed, left }) => {
          toast(`${added} added, ${changed} changed, ${left} removed.`);
          close();
        },
      },
    );
  return (
    <div className="max-w-5xl">
      <h2 className="mb-1">Changes {SOURCE_WORDS[comparison.source]}</h2>
      <p className="mb-3 text-ink-2">
        {people(counts.added)} to add, {counts.changed.toLocaleString('en')} to change,{' '}
        {counts.left.toLocaleString('en')} to remove, {counts.unchanged.toLocaleString('en')} unchanged.
        {counts.refused > 0 &&
          ` ${counts.refused === 1 ? 'One line is' : `${counts.refused.toLocaleString('en')} lines are`} not imported.`}
      </p>
      <div className="mb-4 flex flex-wrap items-center gap-2">
        <Button look="main" onClick={take} refusal={refusal}>
          Apply changes
        </Button>
        <Button look="quiet" onClick={close}>
          Discard comparison
        </Button>
      </div>
      {takeOver.isError && <Notice look="stop">{errorSentence(takeOver.error)}</Notice>}
      {leavingPercent !== null && (
        <div className="mb-4">
          <Notice look="stop">
            <p className="mb-1">
              {people(counts.left)} would be removed, {leavingPercent} percent of everyone from this source.
              Check that no part of the list is missing.
            </p>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={confirmed}
                onChange={(event) => setConfirmed(event.target.checked)}
              />
              These people have left the organisation{' '}
            </label>
          </Notice>
        </div>
      )}
      {comparison.isIncomplete && (
        <p className="mb-4">
          Some entries could not be read, so nobody is removed. Correct the file and compare again to remove
          people.
        </p>
      )}
      <section aria-label="Rules and offers" className="mb-4">
        <h3 className="mb-1">Rules, offers and exchanges</h3>
        <Effects effects={comparison.effects} none="All of them apply to the same people as before." />
        {comparison.vanishing.length > 0 && (
          <p className="mt-1 text-stop">
            Rules or offers use these names, and nobody would have them any more:{' '}
            {comparison.vanishing.map(({ kind, name }) => `${kind} ${name}`).join(', ')}.
          </p>
        )}
      </section>
      <List title="People to remove" count={counts.left} rows={comparison.left.map(personLine)} />
      <List
        title="Lines not imported"
        count={counts.refused}
        rows={comparison.refused.map((line) => `Line ${line.line}: ${refusalSentence(line)}`)}
      />
      <List
        title="Entries that cannot be read"
        count={comparison.faults.length}
        rows={comparison.faults.map((fault) => `Line ${fault.line}: ${faultSentence(fault)}`)}
      />
      <List
        title="Check"
        count={counts.remarks}
        rows={comparison.remarks.map((remark) => `Line ${remark.line}: ${remarkSentence(remark)}`)}
      />
      <List
        title="People to change"
        count={counts.changed}
        rows={comparison.changed.map(({ before, after, fields }) => (
          <>
            <span className="font-semibold">{before.name}</span>, {fieldWords(fields)}
            <span className="block text-[12.5px] text-ink-2">{changeLine(before, after, fields)}</span>
          </>
        ))}
      />
      <List title="People to add" count={counts.added} rows={comparison.added.map(personLine)} />
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
