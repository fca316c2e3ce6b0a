import type { LabelRunView } from '@lantern/contracts';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import {
  useExpectation,
  useLabelRuns,
  useLabels,
  usePlaces,
  useRunAct,
  useStartRun,
} from '../../data/labels';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { OUTCOME_DONE, OUTCOME_TITLES, RUN_WORDS } from '../../wording/labels';
import { exactTime, shortTime } from '../../wording/times';
import { toggled } from './edit';
import { LabelPlaces } from './label-places';
import { RunItems } from './parts/run-items';

/** Automatic rules through real places: looked at first, then turned on, stopped, gone on with, undone. */
export function RunsPage() {
  const runs = useLabelRuns();
  const [search, setSearch] = useSearchParams();
  const chosen = runs.data?.find(({ id }) => id === search.get('of')) ?? runs.data?.[0];
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <LabelPlaces />
      <h1 className="mb-3">Label stored files</h1>
      <div className="grid grid-cols-[minmax(0,1fr)_290px] gap-8">
        <section aria-label="A run">
          {runs.isPending && <Loading what="the runs" />}
          {runs.isError && <Notice look="stop">{errorSentence(runs.error)}</Notice>}
          {runs.data?.length === 0 && (
            <Empty title="No runs yet">
              Start with a preview. It changes nothing and lists every file that would be labelled, with the
              reason.
            </Empty>
          )}
          {chosen && <OneRun key={chosen.id} run={chosen} onStarted={(id) => setSearch({ of: id })} />}
        </section>
        <aside className="border-l border-rule pl-6">
          <StartForm onStarted={(id) => setSearch({ of: id })} />
          <h2 className="mt-6 mb-1">Runs</h2>
          <ol>
            {(runs.data ?? []).slice(0, 15).map((run) => (
              <li key={run.id} className="border-b border-dotted border-rule py-1">
                <button
                  type="button"
                  className="part"
                  aria-current={run.id === chosen?.id}
                  title={exactTime(run.startedAt)}
                  onClick={() => setSearch({ of: run.id })}
                >
                  {shortTime(run.startedAt, new Date())}, {run.does === 'look' ? 'looked' : 'labelled'}
                </button>
                <p className="text-[12.5px] text-ink-2">
                  {RUN_WORDS[run.state]}, {run.startedBy}
                </p>
              </li>
            ))}
          </ol>
        </aside>
      </div>
    </div>
  );
}

function durationWords(seconds: number): string {
  return seconds < 90 ? `${Math.max(1, Math.round(seconds))} seconds` : `${Math.round(seconds / 60)} minutes`;
}

function megabytes(bytes: number): string {
  return `${(bytes / 1_000_000).toFixed(1)} MB`;
}

function StartForm({ onStarted }: { readonly onStarted: (id: string) => void }) {
  const places = usePlaces();
  const labels = useLabels();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [rules, setRules] = useState<readonly string[]>([]);
  const [pace, setPace] = useState('');
  const expectation = useExpectation(chosen);
  const start = useStartRun();
  const may = useMay('labels.run');
  const begin = () =>
    start.mutate(
      {
        does: 'look',
        places: [...chosen],
        rules: [...rules],
        ...(pace === '' ? {} : { pace: Number(pace) }),
      },
      { onSuccess: ({ id }) => onStarted(id) },
    );
  const expected = expectation.data;
  return (
    <form
      aria-label="Preview"
      className="flex flex-col gap-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        begin();
      }}
    >
      <h2>Preview</h2>
      <fieldset>
        <legend className="text-[12.5px] text-ink-2">Places (none selected: all)</legend>
        {(places.data ?? []).map((place) => (
          <label
            key={place.id}
            className="flex min-h-[25px] items-center gap-1.5 text-[13px]"
            title={place.about}
          >
            <input
              type="checkbox"
              checked={chosen.includes(place.id)}
              onChange={() => setChosen(toggled(chosen, place.id))}
            />
            <span className="flex-1">
              {place.name}
              {place.sharedOutside.length > 0 && <span className="text-ink-2"> (shared outside)</span>}
            </span>
            <span className={place.files === 0 ? 'text-stop' : 'text-ink-2'}>
              {place.files === 0 ? 'empty' : place.files}
            </span>
          </label>
        ))}
      </fieldset>
      <fieldset>
        <legend className="text-[12.5px] text-ink-2">Drafted rules (none selected: all)</legend>
        {(labels.data?.automatic ?? []).map(({ automatic }) => (
          <label key={automatic.id} className="flex min-h-[25px] items-center gap-1.5 text-[13px]">
            <input
              type="checkbox"
              checked={rules.includes(automatic.id)}
              onChange={() => setRules(toggled(rules, automatic.id))}
            />
            {automatic.name}
          </label>
        ))}
      </fieldset>
      <TextField
        label="Maximum files per second"
        type="number"
        min={1}
        max={1000}
        placeholder="no limit"
        value={pace}
        onChange={(event) => setPace(event.target.value)}
      />
      {expected && (
        <p className="bg-sunk px-2.5 py-1.5 text-[12.5px]">
          {expected.files} files, {megabytes(expected.bytes)}: about{' '}
          {durationWords(
            pace === '' ? expected.seconds : Math.max(expected.seconds, expected.files / Number(pace)),
          )}
          {expected.guessed ? ', estimated without an earlier run' : ', based on the last run'}.
          {expected.empty.length > 0 && ` Empty: ${expected.empty.join(', ')}.`}
          {expected.withoutPlace.length > 0 &&
            ` Skipped, because the place does not exist yet: ${expected.withoutPlace.join(', ')}.`}
        </p>
      )}
      {start.isError && <Notice look="stop">{errorSentence(start.error)}</Notice>}
      <Button
        look="main"
        type="submit"
        className="justify-center"
        refusal={may ? undefined : 'Your account may not label stored files'}
      >
        Start preview
      </Button>
    </form>
  );
}

function OneRun({
  run,
  onStarted,
}: {
  readonly run: LabelRunView;
  readonly onStarted: (id: string) => void;
}) {
  const act = useRunAct();
  const start = useStartRun();
  const may = useMay('labels.run');
  const running = run.state === 'running' || run.state === 'waiting';
  const left = run.seen > 0 && run.seconds > 0 ? ((run.total - run.seen) * run.seconds) / run.seen : null;
  const would =
    (run.outcomes['labelled'] ?? 0) + (run.outcomes['raised'] ?? 0) + (run.outcomes['lowered'] ?? 0);
  const refusal = may ? undefined : 'Your account may not label stored files';
  const turnOn = () =>
    start.mutate(
      {
        does: 'label',
        look: run.id,
        places: [],
        rules: [],
      },
      { onSuccess: ({ id }) => onStarted(id) },
    );
  return (
    <>
      <p className="text-[13px] text-ink-2">
        {run.does === 'look' ? 'Previewed' : 'Labelled in'} {run.places.join(', ')}; started by{' '}
        {run.startedBy}: {RUN_WORDS[run.state]}.
      </p>
      <div className="my-2 flex flex-wrap items-center gap-3">
        {running && (
          <progress
            className="h-3 min-w-40 flex-1"
            max={Math.max(1, run.total)}
            value={run.seen}
            aria-label="How far it is"
          />
        )}
        <span className="text-[13px]">
          {run.seen} of {run.total} files in {durationWords(run.seconds)}
          {running && left !== null && `, about ${durationWords(left)} left`}
        </span>
        {running && <Button onClick={() => act.mutate({ id: run.id, act: 'stop' })}>Stop</Button>}
        {(run.state === 'stopped' || run.state === 'cut-off') && (
          <Button refusal={refusal} onClick={() => act.mutate({ id: run.id, act: 'resume' })}>
            Go on from file {run.seen + 1}
          </Button>
        )}
        {run.does === 'look' && run.state === 'done' && (
          <Button
            look="main"
            refusal={refusal ?? (would === 0 ? 'No file would be labelled' : undefined)}
            onClick={turnOn}
          >
            Label {would} files
          </Button>
        )}
        {run.does === 'label' && !running && run.state !== 'undone' && (
          <Button look="stop" refusal={refusal} onClick={() => act.mutate({ id: run.id, act: 'undo' })}>
            Undo the whole run
          </Button>
        )}
      </div>
      {(act.isError || start.isError) && (
        <Notice look="stop">{errorSentence(act.error ?? start.error)}</Notice>
      )}
      {run.state === 'undone' && (
        <Notice>The labels that this run set were undone. The figures show what it had done.</Notice>
      )}
      <Figures run={run} />
      <RunItems key={run.id} run={run} />
    </>
  );
}

function Figures({ run }: { readonly run: LabelRunView }) {
  const title = (outcome: string): string => {
    const key = outcome as keyof typeof OUTCOME_TITLES;
    return (run.does === 'label' ? OUTCOME_DONE[key] : undefined) ?? OUTCOME_TITLES[key] ?? outcome;
  };
  const rows = (counts: Readonly<Record<string, number>>) =>
    Object.entries(counts).sort((left, right) => right[1] - left[1]);
  return (
    <div className="mb-4 grid grid-cols-3 gap-6 text-[13px]">
      <section aria-label="Results">
        <h2 className="mb-1">Files</h2>
        <ul>
          {rows(run.outcomes).map(([outcome, count]) => (
            <li key={outcome} className="flex justify-between gap-2 border-b border-dotted border-rule">
              <Link
                className="inline-block min-h-6 min-w-6 text-press underline"
                to={`?of=${run.id}&outcome=${outcome}`}
              >
                {title(outcome)}
              </Link>
              <b>{count}</b>
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="Labels before and after">
        <h2 className="mb-1">Labels: before, after</h2>
        <table className="w-full">
          <tbody>
            {Object.entries(run.byLabel).map(([name, { before, after }]) => (
              <tr key={name} className="border-b border-dotted border-rule">
                <td>{name === 'none' ? 'no label' : name}</td>
                <td className="text-right text-ink-2">{before}</td>
                <td className="w-14 text-right">
                  <b>{after}</b>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-label="By place and pattern">
        <h2 className="mb-1">By place</h2>
        <ul>
          {rows(run.byPlace).map(([name, count]) => (
            <li key={name} className="flex justify-between border-b border-dotted border-rule">
              {name} <b>{count}</b>
            </li>
          ))}
        </ul>
        <h2 className="mt-2 mb-1">By pattern</h2>
        <ul>
          {rows(run.byPattern).map(([name, count]) => (
            <li key={name} className="flex justify-between gap-2 border-b border-dotted border-rule">
              <span className="truncate">{name}</span> <b>{count}</b>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
