import type { WaitingView } from '@lantern/contracts';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { useMay } from '../../data/session';
import { useDecide, useJudgeWrong } from '../../data/waiting';
import { Button } from '../../ui/button';
import { type AgainTerms, AllowAgain, missingIn } from '../approvals/allow-again';
import { ReasonPopover } from '../reason-popover';
import { TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { errorSentence, isForSecond } from '../../wording/errors';
import { ago, exactTime, shortTime } from '../../wording/times';

const KINDS = {
  ask: 'was asked and has not replied',
  prove: 'was asked to confirm their identity',
  hold: 'sent something that is held',
  override: 'requests an override',
} as const;
const KINDS_DECIDED = {
  ask: 'was asked',
  prove: 'was asked to confirm their identity',
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

interface Props {
  readonly view: WaitingView;
  /** Beside its incident: the link to it is left out. */
  readonly beside?: boolean;
}

/** A movement or request that waits, or waited, for somebody; decided in place. */
export function PendingRow({ view, beside = false }: Props) {
  const { person, kind, state, words, decidedBy, decidedAt } = view;
  const did = (state === 'waiting' ? KINDS : KINDS_DECIDED)[kind];
  return (
    <li className="list-none border-b border-rule py-2.5" aria-label={`${person.name} ${did}`}>
      <p className={beside ? 'flex flex-wrap items-baseline gap-x-2' : 'flex items-baseline gap-3'}>
        <b>{person.name}</b> {did}
        <span className="text-[12.5px] text-ink-2">{STATES[state]}</span>
        <span className="flex-1" />
        {!beside && (
          <Link className="part" to={`/incidents/${view.incident}`}>
            incident {view.incident}
          </Link>
        )}
        <span className="text-[12.5px] text-ink-2" title={exactTime(view.since)}>
          {shortTime(view.since, new Date())}
        </span>
      </p>
      {words && <p className="border-l-4 border-rule-strong pl-3">"{words}"</p>}
      {view.deadline && state === 'waiting' && (
        <p className="text-[12.5px] text-ink-2">
          {view.next
            ? `Without a decision, ${view.next === 'authors' ? 'policy authors' : 'approvers'} are asked next, `
            : `Without a decision it ${view.otherwise === 'stays' ? 'is taken back' : 'goes on'} `}
          {ago(view.deadline, new Date())}
          {view.whileOpen && ', or when the page that asks is closed'}.
        </p>
      )}
      {view.agreedBy && (
        <p className="text-[12.5px] text-ink-2">
          {view.agreedBy} allowed it
          {view.agreedForDays !== undefined && ` and the same for ${view.agreedForDays} days`}. A second
          person must also allow it
          {view.agreedForDays !== undefined && ', for the same days and destinations'}.
        </p>
      )}
      {decidedBy && decidedAt && (
        <p className="text-[12.5px] text-ink-2">
          By {decidedBy}, {shortTime(decidedAt, new Date())}.
        </p>
      )}
      {kind === 'override' && state === 'went-on' && <JudgedWrong view={view} />}
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
  const [again, setAgain] = useState<AgainTerms | null>(null);
  const refusal = words.trim().length < 3 ? 'Write a reason first. The person reads it.' : undefined;
  const missing = missingIn(again, view.destinations) ?? undefined;
  const answer = (goesOn: boolean) =>
    decide.mutate(
      { id: view.id, goesOn, words: words.trim(), ...(goesOn && again ? { standing: again } : {}) },
      {
        onSuccess: () =>
          toast.success(
            goesOn ? 'The movement is allowed' : 'The movement is refused. The person is told why.',
          ),
      },
    );
  return (
    <div className="mt-1 flex flex-wrap items-end gap-2">
      <TextField
        className="min-w-52 flex-1"
        label="Why"
        maxLength={4000}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <Button look="main" refusal={refusal ?? missing} onClick={() => answer(true)}>
        Allow
      </Button>
      <Button look="stop" reasonIsShown refusal={refusal} onClick={() => answer(false)}>
        Refuse
      </Button>
      <AllowAgain destinations={view.destinations} terms={again} onChange={setAgain} />
      {decide.isError && (
        <Notice look={isForSecond(decide.error) ? 'go' : 'stop'}>{errorSentence(decide.error)}</Notice>
      )}
    </div>
  );
}

/** An approval can turn out wrong: it stays, and the reason stands beside it for good. */
function JudgedWrong({ view }: { readonly view: WaitingView }) {
  const judge = useJudgeWrong();
  const may = useMay('incidents.decide');
  if (view.judgedWrong)
    return (
      <p className="text-[12.5px]">
        <b className="text-stop">Judged wrong</b> by {view.judgedWrong.by}: {view.judgedWrong.reason}
      </p>
    );
  if (!may) return null;
  return (
    <ReasonPopover
      trigger="Judge wrong"
      name="Judge the approval wrong"
      question="Why was it wrong to allow it?"
      hint={`${view.decidedBy ?? 'Whoever approved it'} is told. It counts in the figures of the rule.`}
      button="Judge wrong"
      look="stop"
      most={2_000}
      error={judge.error}
      onGiven={(reason) => judge.mutate({ id: view.id, reason })}
    />
  );
}
