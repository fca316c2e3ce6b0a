import type { JournalView, ReplayState, ReplayView } from '@lantern/contracts';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useJournal, useReplays, useSetJournal, useStartReplay, useStopReplay } from '../../data/replays';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CHANNEL_WORDS } from '../../wording/terms';
import { dayOf, exactTime, shortTime } from '../../wording/times';
import { PolicyPlaces } from '../../shared/policy-places';
import { Difference } from './difference';
import { dayBefore, periodOf, progressOf, secondsLeft } from './figures';

/** The drafts over the journal: what would have been answered otherwise, before anything takes effect. */
export function ReplayPage() {
  const replays = useReplays();
  const [search, setSearch] = useSearchParams();
  const chosen = replays.data?.find(({ id }) => id === search.get('of')) ?? replays.data?.[0];
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <h1 className="mb-3">Replay</h1>
      <div className="grid grid-cols-[minmax(0,1fr)_280px] gap-8">
        <section aria-label="A replay">
          {replays.isPending && <Loading what="the replays" />}
          {replays.isError && <Notice look="stop">{errorSentence(replays.error)}</Notice>}
          {replays.data?.length === 0 && (
            <Empty title="No replays yet">
              A replay judges the kept movements of a period twice: by the drafts and by the published
              revision. It shows the differences. Choose a period and start.
            </Empty>
          )}
          {chosen && <OneReplay key={chosen.id} view={chosen} />}
        </section>
        <aside className="border-l border-rule pl-6">
          <StartForm onStarted={(id) => setSearch({ of: id })} />
          <h2 className="mt-6 mb-1">Replays</h2>
          <ol>
            {(replays.data ?? []).slice(0, 12).map((view) => (
              <li key={view.id} className="border-b border-dotted border-rule py-1">
                <button
                  type="button"
                  className="part text-left"
                  aria-current={view.id === chosen?.id}
                  title={exactTime(view.startedAt)}
                  onClick={() => setSearch({ of: view.id })}
                >
                  {shortTime(view.startedAt, new Date())}, {view.startedBy}
                </button>
                <p className="text-[12.5px] text-ink-2">{STATES[view.state]}</p>
              </li>
            ))}
          </ol>
          <Journal />
        </aside>
      </div>
    </div>
  );
}

const STATES: Readonly<Record<ReplayState, string>> = {
  waiting: 'queued',
  running: 'running',
  done: 'done',
  stopped: 'stopped before its end',
  'cut-off': 'interrupted when the server stopped; start it again',
  failed: 'failed; start it again',
};

function StartForm({ onStarted }: { readonly onStarted: (id: string) => void }) {
  const [since, setSince] = useState(dayBefore(new Date(), 30));
  const [until, setUntil] = useState(dayBefore(new Date(), 0));
  const start = useStartReplay();
  const may = useMay('replay.run');
  const period = periodOf(since, until);
  return (
    <form
      aria-label="Start a replay"
      className="flex flex-col gap-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (period) start.mutate(period, { onSuccess: ({ id }) => onStarted(id) });
      }}
    >
      <h2>Replay the drafts</h2>
      <TextField label="From" type="date" value={since} onChange={(event) => setSince(event.target.value)} />
      <TextField
        label="To (inclusive)"
        type="date"
        value={until}
        error={period ? undefined : 'The period must not end before it starts'}
        onChange={(event) => setUntil(event.target.value)}
      />
      {start.isError && <Notice look="stop">{errorSentence(start.error)}</Notice>}
      <Button
        look="main"
        type="submit"
        className="justify-center"
        refusal={may ? undefined : 'Your account may not run replays'}
      >
        Start replay
      </Button>
      <Button
        className="justify-center"
        refusal={may ? undefined : 'Your account may not run replays'}
        onClick={() => start.mutate({ over: 'stored' }, { onSuccess: ({ id }) => onStarted(id) })}
      >
        Replay over stored files
      </Button>
      <p className="text-[12.5px] text-ink-2">
        Judges every stored file as if it were shared with someone outside.
      </p>
    </form>
  );
}

function OneReplay({ view }: { readonly view: ReplayView }) {
  const stop = useStopReplay();
  const running = view.state === 'running' || view.state === 'waiting';
  const left = secondsLeft(view);
  const percent = Math.round(progressOf(view) * 100);
  return (
    <>
      <p className="text-[13px] text-ink-2">
        {view.over === 'stored'
          ? 'Stored files, as if each were shared outside'
          : `Movements from ${dayOf(view.since)} to ${dayOf(view.until)}`}
        , started by {view.startedBy}: {STATES[view.state]}.
      </p>
      {running && (
        <div className="my-2 flex items-center gap-3">
          <progress className="h-3 flex-1" max={100} value={percent} aria-label="How far it is" />
          <span className="text-[13px]">
            {view.judged} of {view.total}
            {left !== null && `, about ${left} ${left === 1 ? 'second' : 'seconds'} left`}
          </span>
          <Button onClick={() => stop.mutate(view.id)}>Stop</Button>
        </div>
      )}
      {!running && (
        <p className="text-[13px] text-ink-2">
          {view.judged} of {view.total} judged in {view.seconds.toFixed(1)} seconds
          {view.detectedAgain > 0 && `, ${view.detectedAgain} inspected again because patterns changed`}.
        </p>
      )}
      {view.notJudged > 0 && (
        <Notice>
          {view.over === 'stored'
            ? `${view.notJudged} ${view.notJudged === 1 ? 'item' : 'items'} could not be judged: they were removed meanwhile, or could not be read in time.`
            : `${view.notJudged} ${view.notJudged === 1 ? 'movement' : 'movements'} could not be judged: only their findings were kept, and the drafts look for other patterns.`}
        </Notice>
      )}
      {view.difference && <Difference view={view} difference={view.difference} />}
    </>
  );
}

/** What the journal keeps of each channel, and for how long. */
function Journal() {
  const journal = useJournal();
  return (
    <section aria-label="The journal" className="mt-6">
      <h2 className="mb-1">The journal</h2>
      {(journal.data ?? []).map((view) => (
        <Setting key={view.channel} view={view} />
      ))}
    </section>
  );
}

function Setting({ view }: { readonly view: JournalView }) {
  const set = useSetJournal();
  const may = useMay('journal.set');
  const [days, setDays] = useState(view.days);
  const save = (keeps: JournalView['keeps']) => set.mutate({ channel: view.channel, keeps, days });
  const name = CHANNEL_WORDS[view.channel as keyof typeof CHANNEL_WORDS];
  return (
    <div className="mb-2 border-b border-dotted border-rule pb-2 text-[13px]">
      <p>
        <b>{name}</b>: {view.movements} movements, {view.withContent} with their content
        {view.oldest && `, since ${dayOf(view.oldest)}`}
      </p>
      {may && (
        <form
          aria-label={`What is kept of ${name}`}
          className="mt-1 grid grid-cols-[1fr_70px_auto] items-end gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            save(view.keeps);
          }}
        >
          <SelectField
            label="Keeps"
            value={view.keeps}
            options={[
              { value: 'content', label: 'content, sealed' },
              { value: 'findings', label: 'findings only' },
            ]}
            onChange={save}
          />
          <TextField
            label="Days"
            type="number"
            min={1}
            max={730}
            value={days}
            onChange={(event) => setDays(event.target.valueAsNumber || 1)}
          />
          <Button type="submit">Set</Button>
        </form>
      )}
      {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
    </div>
  );
}
