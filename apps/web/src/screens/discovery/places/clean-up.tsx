import type { CleanUpView, DiscoveryPlaceView } from '@lantern/contracts/discovery';
import { type FormEvent, useState } from 'react';
import { useAskCleanUp, useCleanUpPreview, useEndCleanUp } from '../../../data/discovery-follow-up';
import { Button } from '../../../ui/button';
import { TextArea, TextField } from '../../../ui/field';
import { Loading, Notice } from '../../../ui/notice';
import { number } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, dayOf, exactTime } from '../../../wording/times';

const DAY_MS = 86_400_000;
/** Two weeks: time to look through a share beside other work. */
const USUAL_DAYS = 14;

/** What the owner of a place was asked to clean up, and what was done. */
export function CleanUp({ place, mayRun }: { readonly place: DiscoveryPlaceView; readonly mayRun: boolean }) {
  const [asking, setAsking] = useState(false);
  if (place.exposure.parts.length === 0 && place.cleanUps.length === 0) return null;
  return (
    <section aria-label="Clean-up" className="mt-5 max-w-xl">
      <h2>Clean-up</h2>
      {place.cleanUps.map((each) => (
        <Asked key={each.id} asked={each} mayRun={mayRun} />
      ))}
      {place.owner === '' && (
        <p className="text-[12.5px] text-ink-2">This place has no owner. Set one under Edit.</p>
      )}
      {mayRun && place.owner !== '' && place.exposure.parts.length > 0 && !asking && (
        <Button className="mt-1" onClick={() => setAsking(true)}>
          Ask the owner to clean up …
        </Button>
      )}
      {asking && <AskForm place={place} onDone={() => setAsking(false)} />}
    </section>
  );
}

function Asked({ asked, mayRun }: { readonly asked: CleanUpView; readonly mayRun: boolean }) {
  const end = useEndCleanUp();
  const done = [
    [asked.gone, 'deleted or moved away'],
    [asked.harmless, 'no longer sensitive'],
    [asked.guarded, 'guarded well enough now'],
    [asked.quarantined, 'in quarantine'],
  ] as const;
  const what = done.flatMap(([count, words]) => (count > 0 ? [`${number(count)} ${words}`] : []));
  return (
    <div className="border-b border-dotted border-rule py-1.5">
      <p>
        <span title={exactTime(asked.at)}>
          {asked.by} asked {asked.to} {ago(asked.at, new Date())}
        </span>{' '}
        to clean up {number(asked.items)} items by {dayOf(`${asked.dueOn}T12:00:00`)}.{' '}
        {asked.endedAt
          ? 'Ended.'
          : asked.isOverdue && <span className="font-semibold text-stop">Overdue.</span>}
      </p>
      <p className="text-[12.5px]">
        {asked.left === 0 ? 'All done' : `${number(asked.left)} left`}
        {what.length > 0 && `: ${what.join(', ')}`}
        {what.length === 0 && asked.left > 0 && ', nothing was done yet'}.
        <span className="text-ink-2"> As of the last reading.</span>{' '}
        {mayRun && !asked.endedAt && (
          <button type="button" className="part" onClick={() => end.mutate(asked.id)}>
            End the request
          </button>
        )}
      </p>
      {asked.note && <p className="text-[12.5px] text-ink-2">“{asked.note}”</p>}
      {end.error && <Notice look="stop">{errorSentence(end.error)}</Notice>}
    </div>
  );
}

function AskForm({ place, onDone }: { readonly place: DiscoveryPlaceView; readonly onDone: () => void }) {
  const preview = useCleanUpPreview(place.id);
  const ask = useAskCleanUp(place.id);
  const [dueOn, setDueOn] = useState(() =>
    new Date(Date.now() + USUAL_DAYS * DAY_MS).toISOString().slice(0, 10),
  );
  const [note, setNote] = useState('');
  if (preview.error) return <Notice look="stop">{errorSentence(preview.error)}</Notice>;
  if (!preview.data) return <Loading what="what it is about" />;
  const { to, items, paths } = preview.data;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    ask.mutate({ dueOn, note }, { onSuccess: onDone });
  };
  return (
    <form className="mt-2 flex flex-col gap-2" aria-label="Ask the owner to clean up" onSubmit={submit}>
      <p>
        We send {to} a mail about {number(items)} items that this place does not guard well enough. It lists
        the paths of the first {number(paths.length)}. A mail cannot be taken back.
      </p>
      <ul
        className="max-h-28 overflow-auto bg-sheet p-2 font-mono text-[12px]"
        aria-label="Named in the mail"
        tabIndex={0}
      >
        {paths.map((path) => (
          <li key={path} className="break-all">
            {path}
          </li>
        ))}
      </ul>
      <TextField
        label="By"
        type="date"
        required
        className="w-44"
        value={dueOn}
        onChange={({ target }) => setDueOn(target.value)}
      />
      <TextArea
        label="Note to the owner"
        rows={3}
        maxLength={2_000}
        value={note}
        onChange={({ target }) => setNote(target.value)}
      />
      {ask.error && <Notice look="stop">{errorSentence(ask.error)}</Notice>}
      <div className="flex gap-2">
        <Button look="main" type="submit" refusal={ask.isPending ? 'It is being sent' : undefined}>
          Send the mail
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}
