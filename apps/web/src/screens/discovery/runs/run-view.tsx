import type { JobView, RunView } from '@lantern/contracts/discovery';
import type { ItemChange } from '@lantern/core/discovery';
import { useState } from 'react';
import { Link } from 'react-router';
import { useCompared, useRunStep } from '../../../data/discovery';
import { Button } from '../../../ui/button';
import { Empty, Loading, Notice } from '../../../ui/notice';
import {
  CHANGE_WORDS,
  lasting,
  LEFT_OUT_WORDS,
  number,
  PLACE_STATE_WORDS,
  PROBLEM_WORDS,
  RUN_STATE_WORDS,
  size,
} from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { exactTime, shortTime } from '../../../wording/times';

interface Props {
  readonly job: JobView;
  readonly mayRun: boolean;
}

/** The runs of a job: the newest open, each with what differs from the one before. */
export function Runs({ job, mayRun }: Props) {
  /** Undefined for the newest, whichever that is by now; null for none. */
  const [chosen, setOpen] = useState<string | null | undefined>(undefined);
  const open = chosen === undefined ? job.runs[0]?.id : chosen;
  if (job.runs.length === 0)
    return <Empty title="It never ran">Run it now, or give it a schedule. Looking changes nothing.</Empty>;
  return (
    <ol className="mt-4">
      {job.runs.map((run, at) => (
        <li key={run.id} className="border-t border-rule py-2">
          <button
            type="button"
            className="part"
            aria-expanded={open === run.id}
            title={exactTime(run.startedAt)}
            onClick={() => setOpen(open === run.id ? null : run.id)}
          >
            {shortTime(run.startedAt, new Date())}
          </button>{' '}
          {RUN_STATE_WORDS[run.state].toLowerCase()}, started by{' '}
          {run.startedBy.toLowerCase() === 'schedule' ? 'its schedule' : run.startedBy}
          {run.revision !== null && `, by revision ${run.revision}`}
          {open === run.id && <Run run={run} before={earlierOf(job.runs, at)} mayRun={mayRun} />}
        </li>
      ))}
    </ol>
  );
}

/** The last run before it that came to its end. */
const earlierOf = (runs: readonly RunView[], at: number): RunView | null =>
  runs.slice(at + 1).find(({ state }) => state === 'done') ?? null;

function Run({
  run,
  before,
  mayRun,
}: {
  readonly run: RunView;
  readonly before: RunView | null;
  readonly mayRun: boolean;
}) {
  const step = useRunStep();
  const isAtWork = run.state === 'running' || run.state === 'paused';
  const leftOut = Object.entries(run.leftOut) as [keyof typeof LEFT_OUT_WORDS, number][];
  return (
    <div className="mt-1.5 max-w-3xl">
      {isAtWork && (
        <>
          <progress className="w-full" aria-label="Progress" max={Math.max(1, run.items)} value={run.done} />
          <p role="status">
            {number(run.done)} of {run.isListed ? '' : 'at least '}
            {number(run.items)} items
            {run.pace !== null && `, ${number(Math.round(run.pace))} a second`}
            {run.isListed &&
              run.secondsLeft !== null &&
              run.secondsLeft > 0 &&
              `, about ${lasting(run.secondsLeft)} left`}
            .
          </p>
          {mayRun && (
            <p className="my-1.5 flex gap-2">
              {run.state === 'running' ? (
                <Button onClick={() => step.mutate({ id: run.id, step: 'pause' })}>Pause</Button>
              ) : (
                <Button onClick={() => step.mutate({ id: run.id, step: 'resume' })}>Go on</Button>
              )}
              <Button look="stop" onClick={() => step.mutate({ id: run.id, step: 'stop' })}>
                Stop
              </Button>
            </p>
          )}
        </>
      )}
      {step.error && <Notice look="stop">{errorSentence(step.error)}</Notice>}
      <p>
        {number(run.readItems)} read ({size(run.bytes)}), {number(run.unchanged)} not changed since,{' '}
        {number(run.unreadable)} could not be read, {number(run.sensitive)} of those read are sensitive
        {run.step !== 'find' && `, ${number(run.labelled)} labelled`}.
        {run.toProtect !== null &&
          (run.tooMany
            ? ` More than ${number(run.toProtect - 1)} items would go into quarantine. That is more than the job allows, so none did.`
            : ` ${number(run.toProtect)} went into quarantine.`)}
        {leftOut.length > 0 &&
          ` Left out: ${leftOut.map(([why, count]) => `${number(count)} ${LEFT_OUT_WORDS[why]}`).join(', ')}.`}
      </p>
      <ul className="mt-1 grid grid-cols-2 gap-x-6 text-[12.5px]">
        {run.places.map(({ id, name, state, problem, withoutReader }) => (
          <li key={id} className={state === 'failed' ? 'text-stop' : ''}>
            <Link className="part" to={`/discovery?place=${id}`}>
              {name}
            </Link>
            : {PLACE_STATE_WORDS[state]}
            {problem && `. ${PROBLEM_WORDS[problem]}`}
            {withoutReader && '; no reader of its group is at work'}
          </li>
        ))}
      </ul>
      {before && !isAtWork && <Compared from={before} to={run} />}
    </div>
  );
}

/** What differs from the run before. */
function Compared({ from, to }: { readonly from: RunView; readonly to: RunView }) {
  const compared = useCompared(from.id, to.id);
  const counts = Object.entries(compared.data?.counts ?? {}) as [ItemChange, number][];
  return (
    <section aria-label="What differs" className="mt-3">
      <h3 className="text-[12.5px] font-semibold text-ink-2">
        Differs from {shortTime(from.startedAt, new Date())}
      </h3>
      {compared.isPending && <Loading what="what differs" />}
      {compared.error && <Notice look="stop">{errorSentence(compared.error)}</Notice>}
      {compared.data && counts.length === 0 && <p>In nothing.</p>}
      {counts.length > 0 && (
        <p>{counts.map(([change, count]) => `${number(count)} ${CHANGE_WORDS[change]}`).join(', ')}.</p>
      )}
      {compared.data && compared.data.lines.length > 0 && (
        <table className="mt-1 w-full text-[12.5px]">
          <caption className="sr-only">Items that differ</caption>
          <thead>
            <tr className="border-b border-rule text-left text-ink-2">
              <th className="font-normal">Item</th>
              <th className="font-normal">Differs</th>
            </tr>
          </thead>
          <tbody>
            {compared.data.lines.map((line) => (
              <tr key={line.id} className="border-b border-dotted border-rule align-top">
                <td className="py-0.5">
                  <Link className="part break-all" to={`/discovery/items?item=${line.id}`}>
                    {line.place} › {line.path}
                  </Link>
                  {line.sensitive && <span className="text-ink-2"> sensitive</span>}
                </td>
                <td className="py-0.5">
                  {line.changes.map((change) => CHANGE_WORDS[change]).join(', ')}
                  {line.from && ` from ${line.from}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {compared.data && compared.data.more > 0 && <p>{number(compared.data.more)} more.</p>}
    </section>
  );
}
