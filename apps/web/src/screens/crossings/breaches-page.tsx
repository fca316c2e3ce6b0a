import type { JudgedBy } from '@lantern/contracts/crossings';
import { breachSentence } from '@lantern/core/automations';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { breachesFile, useBreaches, useCrossings, useTellOwners } from '../../data/crossings';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CrossingsPage } from './crossings-page';
import { useBreachNames } from './use-names';

const BY: readonly (readonly [JudgedBy, string])[] = [
  ['published', 'by what is published'],
  ['drafts', 'by the drafts'],
];

/** What is in breach now, or would be: both sides of each conflict, with the sentence and whose it is. */
export function BreachesPage() {
  const [search, setSearch] = useSearchParams();
  const by: JudgedBy = search.get('by') === 'drafts' ? 'drafts' : 'published';
  const text = search.get('search') ?? '';
  const breaches = useBreaches(by, text);
  const crossings = useCrossings();
  const names = useBreachNames();
  const mayWrite = useMay('policies.write');
  const set = (change: Record<string, string>) =>
    setSearch((now) => {
      for (const [key, value] of Object.entries(change)) now.set(key, value);
      return now;
    });
  const file = 'rounded border border-rule-strong bg-sheet px-2.5 py-1';
  return (
    <CrossingsPage
      bar={
        <>
          <a className={file} href={breachesFile(by, text, 'csv')}>
            Export CSV
          </a>
          <a className={file} href={breachesFile(by, text, 'xlsx')}>
            Export XLSX
          </a>
        </>
      }
    >
      <div className="h-full overflow-auto px-5 py-3">
        <div className="mb-3 flex items-end gap-5">
          <fieldset className="flex gap-4 pb-1.5">
            <legend className="sr-only">Judged</legend>
            {BY.map(([value, words]) => (
              <label key={value} className="flex items-center gap-1.5">
                <input type="radio" name="by" checked={by === value} onChange={() => set({ by: value })} />
                {words}
              </label>
            ))}
          </fieldset>
          <TextField
            label="Name, owner or service"
            className="w-72"
            value={text}
            onChange={({ target }) => set({ search: target.value })}
          />
          {breaches.data && (
            <p role="status" className="pb-1.5">
              {breaches.data.inBreach} of {breaches.data.judged} in breach
              {by === 'drafts' && `, ${breaches.data.wouldStop} of them run now and would stop`}.
            </p>
          )}
        </div>
        {breaches.data && breaches.data.rows.length > 0 && mayWrite && <TellOwners by={by} search={text} />}
        {breaches.isPending && <Loading what="what is in breach" />}
        {breaches.error && <Notice look="stop">{errorSentence(breaches.error)}</Notice>}
        {breaches.data?.rows.length === 0 && <p className="text-ink-2">Nothing is in breach.</p>}
        {breaches.data && breaches.data.rows.length > 0 && (
          <table className="w-full text-left">
            <thead className="text-[12.5px] text-ink-2">
              <tr className="border-b border-rule">
                <th className="w-56 py-1 font-normal">Automation</th>
                <th className="w-60 font-normal">Owner</th>
                <th className="font-normal">What is wrong</th>
                <th className="w-44 font-normal">Set</th>
              </tr>
            </thead>
            <tbody>
              {breaches.data.rows.map((row, index) => (
                <tr key={index} className="border-b border-dotted border-rule align-baseline">
                  <td className="py-1.5">
                    <Link className="part" to={`/automations?open=${encodeURIComponent(row.automation)}`}>
                      {row.name}
                    </Link>
                    {row.isOn && <span className="text-[12.5px] text-stop"> runs</span>}
                  </td>
                  <td className="break-all text-ink-2">{row.owner}</td>
                  <td>
                    {breachSentence(row.breach, names)}
                    {row.older && ' It goes on: the set binds newer ones only.'}
                  </td>
                  <td className="text-ink-2">
                    {crossings.data?.sets.find((each) => each.set.id === row.breach.set)?.set.name ??
                      'the register'}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {breaches.data?.isCut && <p className="mt-2">There are more. The export has all of them.</p>}
      </div>
    </CrossingsPage>
  );
}

const TWO_WEEKS_MS = 14 * 86_400_000;

/** One mail to each owner of what is listed, with the day by which to mend it. */
function TellOwners({ by, search }: { readonly by: JudgedBy; readonly search: string }) {
  const tell = useTellOwners();
  const [asked, setAsked] = useState(false);
  const [until, setUntil] = useState(() => new Date(Date.now() + TWO_WEEKS_MS).toISOString().slice(0, 10));
  const [words, setWords] = useState('');
  if (!asked)
    return (
      <p className="mb-3">
        <Button onClick={() => setAsked(true)}>Tell their owners …</Button>
        {tell.data && (
          <span role="status" className="ml-3">
            Told: {tell.data.told.join(', ') || 'nobody'}.
            {tell.data.notTold.length > 0 && ` No mail reaches: ${tell.data.notTold.join(', ')}.`}
          </span>
        )}
      </p>
    );
  return (
    <form
      aria-label="Tell owners"
      className="mb-3 flex max-w-3xl items-end gap-3 border-l-2 border-rule-strong pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        tell.mutate({ by, search, until, words }, { onSuccess: () => setAsked(false) });
      }}
    >
      <TextField
        label="Mend it by"
        type="date"
        required
        value={until}
        onChange={({ target }) => setUntil(target.value)}
      />
      <TextField
        label="A word to them (optional)"
        className="flex-1"
        maxLength={2000}
        value={words}
        onChange={({ target }) => setWords(target.value)}
      />
      <Button look="main" type="submit">
        {tell.isPending ? 'Sending …' : 'Send one mail to each owner'}
      </Button>
      <Button onClick={() => setAsked(false)}>Cancel</Button>
      {tell.error && <Notice look="stop">{errorSentence(tell.error)}</Notice>}
    </form>
  );
}
