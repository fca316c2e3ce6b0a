import { useState } from 'react';
import { Link } from 'react-router';
import { useAlike } from '../../../data/desk';
import { useDesk } from '../../../stores/desk-store';
import { Button } from '../../../ui/button';
import { Loading, Notice } from '../../../ui/notice';
import { FIELD_WORDS, valueWords } from '../../../wording/desk';
import { errorSentence } from '../../../wording/errors';
import { OUTCOME_WORDS, STATUS_WORDS } from '../../../wording/terms';
import { exactTime, shortTime } from '../../../wording/times';

/** The same case in other hands: how many, what they share, which differ, and all of them decided together. */
export function Alike({ number }: { readonly number: number }) {
  const alike = useAlike(number);
  const pick = useDesk((store) => store.pick);
  const [out, setOut] = useState<ReadonlySet<number>>(new Set());
  if (alike.isError) return <Notice look="stop">{errorSentence(alike.error)}</Notice>;
  if (!alike.data) return <Loading what="look-alikes" />;
  const { total, open, shared, rows, numbers } = alike.data;
  if (total === 0)
    return (
      <p className="px-5 py-4 text-ink-2">
        No other incident has the same rules, findings, application and nearly the same text.
      </p>
    );
  const kept = numbers.filter((one) => !out.has(one));
  return (
    <section aria-label="Look-alikes" className="px-5 py-3.5">
      <div className="mb-2 flex items-baseline justify-between gap-3">
        <p>
          <b>{total.toLocaleString('en-GB')}</b> {total === 1 ? 'incident has' : 'incidents have'} the same
          rules and findings by the same way, in nearly the same text. {open} open.
        </p>
        <Button look="main" onClick={() => pick(kept)}>
          Pick {kept.length}, this one included
        </Button>
      </div>
      {shared.length > 0 && (
        <p className="mb-2 text-[12.5px] text-ink-2">
          Most share:{' '}
          {shared
            .map(
              ({ field, label, share }) =>
                `${FIELD_WORDS[field].toLowerCase()} ${valueWords(field, label)} (${Math.round(share * 100)} %)`,
            )
            .join(', ')}
          .
        </p>
      )}
      <table className="w-full text-[12.5px]">
        <thead>
          <tr className="border-b border-rule text-left text-ink-2">
            <th className="w-7 font-normal">
              <span className="sr-only">Included</span>
            </th>
            <th className="font-normal">Incident</th>
            <th className="font-normal">Person</th>
            <th className="font-normal">Destination</th>
            <th className="font-normal">Status</th>
            <th className="text-right font-normal">Same text</th>
            <th className="text-right font-normal">Time</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.number} className="border-b border-dotted border-rule">
              <td>
                <input
                  type="checkbox"
                  className="size-6"
                  aria-label={`Include incident ${row.number}`}
                  checked={!out.has(row.number)}
                  onChange={() => {
                    const next = new Set(out);
                    if (!next.delete(row.number)) next.add(row.number);
                    setOut(next);
                  }}
                />
              </td>
              <td>
                <Link className="part inline-block min-h-6 min-w-6" to={`/incidents/${row.number}`}>
                  {row.number}
                </Link>
              </td>
              <td className="max-w-36 truncate">{row.person.name}</td>
              <td className="max-w-36 truncate">{row.destinations[0]}</td>
              <td>{row.outcome ? OUTCOME_WORDS[row.outcome] : STATUS_WORDS[row.status]}</td>
              <td className="text-right font-mono">{Math.round(row.likeness * 100)} %</td>
              <td className="text-right whitespace-nowrap" title={exactTime(row.at)}>
                {shortTime(row.at, new Date())}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > rows.length && (
        <p className="mt-1 text-[12.5px] text-ink-2">
          The {rows.length} that are most alike are shown; {Math.min(total, numbers.length - 1)} are picked.
        </p>
      )}
    </section>
  );
}
