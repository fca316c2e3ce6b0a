import type { PlayerView } from '@lantern/contracts';
import type { AutomationView, FlowRunState, FlowRunView, StepRunState } from '@lantern/contracts/crossings';
import { useFlowRuns, useRunActs, useRunToldActs } from '../../data/builder';
import { errorSentence } from '../../wording/errors';
import { languageOf } from '../../wording/told';
import { exactTime, shortTime } from '../../wording/times';
import { Told } from '../told';

const RUN_WORDS: Readonly<Record<FlowRunState, string>> = {
  running: 'running',
  waiting: 'waiting for an answer',
  done: 'finished',
  stopped: 'stopped',
};
const STEP_WORDS: Readonly<Record<StepRunState, string>> = {
  done: 'done',
  waiting: 'waiting',
  refused: 'refused',
  failed: 'failed',
  'not-here': 'not available here',
};

interface Props {
  readonly player: PlayerView;
  readonly view: AutomationView;
}

/** Runs of a flow: started by hand, the newest with its steps, older ones by their end. */
export function FlowRuns({ player, view }: Props) {
  const runs = useFlowRuns(player.id, view.id);
  const acts = useRunActs(player.id, view.id);
  const told = useRunToldActs(player.id, view.id);
  const [newest, ...older] = runs.data ?? [];
  const isOpen = newest?.state === 'running' || newest?.state === 'waiting';
  const failed = acts.start.error ?? acts.stop.error;
  return (
    <section aria-label="Runs" className="max-h-56 shrink-0 overflow-auto border-y border-rule px-3 py-2">
      <p className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60"
          disabled={!view.isOn || isOpen || acts.start.isPending}
          onClick={() => acts.start.mutate()}
        >
          Run now
        </button>
        {!view.isOn && <span className="text-ink-2">Switch the flow on to run it.</span>}
        {newest?.state === 'waiting' && (
          <button type="button" className="min-h-6 underline" onClick={() => acts.stop.mutate(newest.id)}>
            End this run
          </button>
        )}
        {failed && <span className="text-stop">{errorSentence(failed)}</span>}
      </p>
      {newest && <Run run={newest} />}
      {newest?.notice && (
        <Told
          id={newest.id}
          notice={newest.notice}
          about="paste"
          language={languageOf(player.language)}
          acts={told}
          reported={false}
        />
      )}
      {older.length > 0 && (
        <p className="mt-1 text-[12.5px] text-ink-2">
          Earlier:{' '}
          {older.map((run) => `${shortTime(run.startedAt, new Date())} ${RUN_WORDS[run.state]}`).join(', ')}
        </p>
      )}
    </section>
  );
}

function Run({ run }: { readonly run: FlowRunView }) {
  return (
    <div role="status" className="mt-2">
      <p>
        <b>
          Run of <time title={exactTime(run.startedAt)}>{shortTime(run.startedAt, new Date())}</time>:{' '}
          {RUN_WORDS[run.state]}
        </b>
        , {run.steps.filter(({ state }) => state === 'done').length} of {run.stepsInAll} steps done.
      </p>
      <ol className="ml-5 list-decimal">
        {run.steps.map(({ step, name, state, words, incident }) => (
          <li key={step}>
            {name && <b>{name}: </b>}
            <span className={state === 'done' ? '' : 'text-stop'}>{STEP_WORDS[state]}</span>. {words}
            {incident !== null && <span className="text-ink-2"> Recorded as incident {incident}.</span>}
          </li>
        ))}
      </ol>
    </div>
  );
}
