import type { WaitingView } from '@lantern/contracts';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useDecide, useWaiting } from '../../data/waiting';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { ago, exactTime, shortTime } from '../../wording/times';

const KINDS = {
  ask: 'was asked and has not replied',
  hold: 'sent something that is held',
  override: 'requests an override',
} as const;
const KINDS_DECIDED = {
  ask: 'was asked',
  hold: 'sent something that was held',
  override: 'requested an override',
} as const;
const STATES = {
  waiting: 'waits',
  'went-on': 'went on',
  'taken-back': 'taken back',
  refused: 'stays',
} as const;
const REFUSALS = {
  own: 'You cannot decide about your own movements.',
  'not-permitted': 'Your account may not decide about these movements.',
  'persons-own-reply': 'Only the person can answer this.',
} as const;

/** What waits for somebody: requests to let a movement go, held movements, questions without a reply. */
export function WaitingPage() {
  const waiting = useWaiting();
  const [search, setSearch] = useSearchParams();
  const all = search.get('show') === 'all';
  const rows = (waiting.data ?? []).filter(({ state }) => all || state === 'waiting');
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <p className="mb-1 text-[12.5px]">
        <Link className="part" to="/incidents">
          Incidents
        </Link>
      </p>
      <div className="mb-3 flex max-w-5xl items-center gap-3">
        <h1 className="flex-1">Waiting for a decision</h1>
        <label className="flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            checked={all}
            onChange={(event) => setSearch(event.target.checked ? { show: 'all' } : {})}
          />
          Include decided
        </label>
      </div>
      {waiting.isPending && <Loading what="what waits" />}
      {waiting.isError && <Notice look="stop">{errorSentence(waiting.error)}</Notice>}
      {waiting.data && rows.length === 0 && (
        <Empty title="No pending decisions">
          Held movements and override requests appear here until someone decides.
        </Empty>
      )}
      <ol className="max-w-5xl">
        {rows.map((view) => (
          <Row key={view.id} view={view} />
        ))}
      </ol>
    </div>
  );
}

function Row({ view }: { readonly view: WaitingView }) {
  const { person, kind, state, words, decidedBy, decidedAt } = view;
  const did = (state === 'waiting' ? KINDS : KINDS_DECIDED)[kind];
  return (
    <li className="border-b border-rule py-2.5" aria-label={`${person.name} ${did}`}>
      <p className="flex items-baseline gap-3">
        <b>{person.name}</b> {did}
        <span className="text-[12.5px] text-ink-2">{STATES[state]}</span>
        <span className="flex-1" />
        <Link className="part" to={`/incidents/${view.incident}?show=all`}>
          incident {view.incident}
        </Link>
        <span className="text-[12.5px] text-ink-2" title={exactTime(view.since)}>
          {shortTime(view.since, new Date())}
        </span>
      </p>
      {words && <p className="border-l-4 border-rule-strong pl-3">"{words}"</p>}
      {view.deadline && state === 'waiting' && (
        <p className="text-[12.5px] text-ink-2">
          Without a decision it {view.otherwise === 'stays' ? 'is taken back' : 'goes on'}{' '}
          {ago(view.deadline, new Date())}
          {view.whileOpen && ', or when the page that asks is closed'}.
        </p>
      )}
      {decidedBy && decidedAt && (
        <p className="text-[12.5px] text-ink-2">
          By {decidedBy}, {shortTime(decidedAt, new Date())}.
        </p>
      )}
      {state === 'waiting' &&
        (view.refusal ? (
          <p className="text-[12.5px] text-ink-2">{REFUSALS[view.refusal]}</p>
        ) : (
          <Decide view={view} />
        ))}
    </li>
  );
}

/** Both answers want words: they are read by the person and stand in the history. */
function Decide({ view }: { readonly view: WaitingView }) {
  const [words, setWords] = useState('');
  const decide = useDecide();
  const refusal = words.trim().length < 3 ? 'Write a reason first. The person reads it.' : undefined;
  const answer = (goesOn: boolean) =>
    decide.mutate(
      { id: view.id, goesOn, words: words.trim() },
      {
        onSuccess: () =>
          toast.success(
            goesOn ? 'The movement is allowed' : 'The movement is refused. The person is told why.',
          ),
      },
    );
  return (
    <div className="mt-1 flex items-end gap-2">
      <TextField
        className="flex-1"
        label="Why"
        maxLength={4000}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <Button look="main" refusal={refusal} onClick={() => answer(true)}>
        Allow
      </Button>
      <Button look="stop" reasonIsShown refusal={refusal} onClick={() => answer(false)}>
        Refuse
      </Button>
      {decide.isError && <Notice look="stop">{errorSentence(decide.error)}</Notice>}
    </div>
  );
}
