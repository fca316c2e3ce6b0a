import { type DeskActRequest, DISCOVERY_ORIGIN, type IncidentDetail } from '@lantern/contracts';
import { HARM_CAUSES } from '@lantern/core/incidents';
import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { type FormEvent, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { useAssignees } from '../../../data/desk';
import { useAct, useNote } from '../../../data/incidents';
import { useMay } from '../../../data/session';
import { useWaiting } from '../../../data/waiting';
import { PendingRow } from '../../../shared/pending/pending-row';
import { Button, Key } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { EditorPopover } from '../../../ui/popover';
import { RespondButton } from './respond-button';
import { errorSentence } from '../../../wording/errors';
import { URGENCY_WORDS } from '../../../wording/evidence';
import { historyWords } from '../../../wording/incidents';
import { CAUSE_WORDS, OUTCOME_WORDS, SEVERITY_WORDS, STATUS_WORDS } from '../../../wording/terms';
import { exactTime, shortTime } from '../../../wording/times';

/** Keys that wait for an answer; more is somebody who leans on the keyboard. */
const MOST_WAITING = 5;

/** The two questions, each with two keys; undo instead of asking twice. */
export function Decision({ incident }: { readonly incident: IncidentDetail }) {
  const act = useAct(incident.number);
  const may = useMay('incidents.decide');
  const noteField = useRef<HTMLTextAreaElement>(null);
  // Keys come faster than answers: what is pressed meanwhile waits for the version that the answer brings.
  const shown = useRef(incident.number);
  const sending = useRef<number | null>(null);
  const waiting = useRef<DeskActRequest[]>([]);
  useEffect(() => {
    shown.current = incident.number;
    waiting.current = [];
  }, [incident.number]);
  const send = (
    wanted: DeskActRequest,
    { version, outcome }: Pick<IncidentDetail, 'version' | 'outcome'>,
  ) => {
    const { number } = incident;
    sending.current = number;
    act.mutate(
      { ...wanted, version },
      {
        onSuccess: (after) => {
          sending.current = null;
          if (after.outcome && after.outcome !== outcome) {
            toast(`Incident ${number}: ${OUTCOME_WORDS[after.outcome].toLowerCase()}`, {
              action: { label: 'Undo', onClick: () => act.mutate({ act: 'reopen', version: after.version }) },
            });
          }
          const next = shown.current === number ? waiting.current.shift() : undefined;
          if (next) send(next, after);
        },
        onError: (error) => {
          sending.current = null;
          waiting.current = [];
          toast.error(errorSentence(error));
        },
      },
    );
  };
  const run = (wanted: DeskActRequest) => {
    if (!may) return;
    if (sending.current !== incident.number) send(wanted, incident);
    else if (waiting.current.length < MOST_WAITING) waiting.current.push(wanted);
  };
  const lookedFor = (yes: boolean) => run({ act: 'answer-looked-for', yes });
  const allRight = (yes: boolean) => run({ act: 'answer-all-right', yes });
  useHotkeys('y', () => lookedFor(true), [incident]);
  useHotkeys('n', () => lookedFor(false), [incident]);
  useHotkeys('u', () => allRight(true), [incident]);
  useHotkeys('m', () => allRight(false), [incident]);
  useHotkeys('t', () => run({ act: 'take' }), [incident]);
  useHotkeys('w', () => run({ act: 'wait' }), [incident]);
  useHotkeys('z', () => run({ act: 'reopen' }), [incident]);
  useHotkeys(
    ['1', '2', '3'],
    (event) => {
      const cause = HARM_CAUSES[Number(event.key) - 1];
      // Whether it is harm may be on its way.
      const mayBeHarm = incident.outcome === 'harm' || sending.current === incident.number;
      if (cause && mayBeHarm) run({ act: 'name-cause', cause });
    },
    [incident],
  );
  useHotkeys('c', () => noteField.current?.focus(), { preventDefault: true });
  return (
    <div className="flex flex-col gap-4">
      {!may && <Notice>Your account may read incidents but not decide them.</Notice>}
      <Pending number={incident.number} />
      {may && (
        <Question
          title="Was it what we look for?"
          keys={['Y', 'N']}
          answer={incident.lookedFor}
          onAnswer={lookedFor}
        />
      )}
      {may && (
        <Question
          title={
            incident.origin === DISCOVERY_ORIGIN
              ? 'Is it all right that it lies there?'
              : 'Was it all right to move it?'
          }
          keys={['U', 'M']}
          answer={incident.allRight}
          onAnswer={allRight}
          refusal={incident.lookedFor === false ? 'Not needed: this is not what we look for' : undefined}
        />
      )}
      <State incident={incident} run={run} may={may} />
      <Urgency incident={incident} />
      {may && <Arrange incident={incident} run={run} />}
      <RespondButton numbers={[incident.number]} />
      {may && <NoteForm incident={incident} field={noteField} />}
      <History incident={incident} />
    </div>
  );
}

interface QuestionProps {
  readonly title: string;
  readonly keys: readonly [string, string];
  readonly answer: boolean | null;
  readonly onAnswer: (yes: boolean) => void;
  readonly refusal?: string | undefined;
}

function Question({ title, keys, answer, onAnswer, refusal }: QuestionProps) {
  const look = (yes: boolean) => (answer === yes ? '!border-press !bg-press-soft font-semibold' : '');
  return (
    <div role="group" aria-label={title}>
      <h2 className="mb-1.5">{title}</h2>
      <div className="grid grid-cols-2 gap-2">
        <Button
          className={`justify-between ${look(true)}`}
          aria-pressed={answer === true}
          refusal={refusal}
          onClick={() => onAnswer(true)}
        >
          Yes <Key>{keys[0]}</Key>
        </Button>
        <Button
          className={`justify-between ${look(false)}`}
          aria-pressed={answer === false}
          refusal={refusal}
          onClick={() => onAnswer(false)}
        >
          No <Key>{keys[1]}</Key>
        </Button>
      </div>
    </div>
  );
}

interface StateProps {
  readonly incident: IncidentDetail;
  readonly run: (act: DeskActRequest) => void;
  readonly may: boolean;
}

function State({ incident, run, may }: StateProps) {
  const mayReplay = useMay('replay.run');
  return (
    <div role="status" aria-label="Status">
      <p className="mb-1.5">
        <b>{incident.outcome ? OUTCOME_WORDS[incident.outcome] : STATUS_WORDS[incident.status]}</b>
        {incident.assignee && <span className="text-ink-2">, {incident.assignee}</span>}
      </p>
      {mayReplay && incident.outcome === 'false-positive' && (
        <p className="mb-2">
          <Link className="part" to={`/insight/prevent?incident=${incident.number}`}>
            Prevent this
          </Link>{' '}
          <span className="text-[12.5px] text-ink-2">
            with a change of the rule, and what that would cost
          </span>
        </p>
      )}
      {may && incident.outcome === 'harm' && (
        <div role="group" aria-label="Cause" className="mb-2 flex flex-col gap-1.5">
          <h2>What caused it?</h2>
          {HARM_CAUSES.map((cause, index) => (
            <Button
              key={cause}
              className={`justify-between ${incident.cause === cause ? '!border-press !bg-press-soft font-semibold' : ''}`}
              aria-pressed={incident.cause === cause}
              onClick={() => run({ act: 'name-cause', cause })}
            >
              {CAUSE_WORDS[cause]} <Key>{index + 1}</Key>
            </Button>
          ))}
        </div>
      )}
      {may && (
        <div className="flex flex-wrap gap-1.5">
          {incident.status !== 'decided' && incident.status !== 'taken' && (
            <Button onClick={() => run({ act: 'take' })}>
              Assign to me <Key>T</Key>
            </Button>
          )}
          {incident.status !== 'decided' && incident.status !== 'waiting' && (
            <Button onClick={() => run({ act: 'wait' })}>
              Wait <Key>W</Key>
            </Button>
          )}
          {incident.status !== 'new' && (
            <Button onClick={() => run({ act: 'reopen' })}>
              Undo <Key>Z</Key>
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

/** What waits for a decision about this movement, with the evidence in view. */
function Pending({ number }: { readonly number: number }) {
  const waiting = useWaiting();
  const own = (waiting.data ?? []).filter((one) => one.incident === number && one.kind !== 'ask');
  if (own.length === 0) return null;
  return (
    <ul aria-label="Pending">
      {own.map((view) => (
        <PendingRow key={view.id} view={view} beside />
      ))}
    </ul>
  );
}

/** Hands the incident on, sets its severity, marks our own test. */
function Arrange({ incident, run }: Omit<StateProps, 'may'>) {
  const assignees = useAssignees();
  const [to, setTo] = useState('');
  const [reason, setReason] = useState('');
  const trigger = useRef<HTMLButtonElement>(null);
  useHotkeys('h', () => trigger.current?.click(), { preventDefault: true });
  return (
    <div className="flex flex-col gap-1.5">
      <div className="flex flex-wrap gap-1.5">
        <EditorPopover
          label="Hand on"
          trigger={
            <button ref={trigger} type="button" className="part text-[12.5px]">
              Hand on <Key>H</Key>
            </button>
          }
        >
          <div className="flex flex-col gap-2">
            <SelectField
              label="Hand to"
              value={to}
              options={[
                { value: '', label: 'nobody' },
                ...(assignees.data ?? []).map(({ name, email }) => ({ value: email, label: name })),
              ]}
              onChange={setTo}
            />
            <TextField
              label="Note for them"
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
            <Button
              look="main"
              refusal={incident.status === 'decided' ? 'It is decided' : undefined}
              onClick={() => run({ act: 'assign', to, ...(reason.trim() ? { reason: reason.trim() } : {}) })}
            >
              Hand on
            </Button>
          </div>
        </EditorPopover>
        <button
          type="button"
          className="part text-[12.5px]"
          onClick={() => run({ act: 'mark-test', yes: !incident.test })}
        >
          {incident.test ? 'Not our test' : 'Our own test'}
        </button>
      </div>
      <SelectField<Severity>
        label="Severity"
        value={incident.severity}
        hint={
          incident.firstSeverity === incident.severity
            ? undefined
            : `${SEVERITY_WORDS[incident.firstSeverity]} by the rules`
        }
        options={SEVERITIES.map((value) => ({ value, label: SEVERITY_WORDS[value] }))}
        onChange={(severity) => run({ act: 'set-severity', severity })}
      />
    </div>
  );
}

function Urgency({ incident }: { readonly incident: IncidentDetail }) {
  return (
    <section aria-label="Urgency">
      <h2 className="mb-1">
        Urgency {incident.urgency}
        {incident.dueAt && incident.status !== 'decided' && (
          <span className={incident.overdue ? 'text-stop' : ''} title={exactTime(incident.dueAt)}>
            , {incident.overdue ? 'was due' : 'due'} {shortTime(incident.dueAt, new Date())}
          </span>
        )}
      </h2>
      <ul className="text-[12.5px]">
        {incident.urgencyParts.parts.map((part) => (
          <li key={part.code} className="flex justify-between border-b border-dotted border-rule py-0.5">
            {URGENCY_WORDS[part.code]} <span className="font-mono">+{part.points}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function NoteForm({
  incident,
  field,
}: {
  readonly incident: IncidentDetail;
  readonly field: React.RefObject<HTMLTextAreaElement | null>;
}) {
  const note = useNote(incident.number);
  const [text, setText] = useState('');
  const submit = (event?: FormEvent) => {
    event?.preventDefault();
    if (text.trim() !== '') note.mutate({ text: text.trim() }, { onSuccess: () => setText('') });
  };
  return (
    <form onSubmit={submit} aria-label="Note">
      <label htmlFor="note" className="mb-1 flex justify-between text-[12.5px] font-semibold text-ink-2">
        Note <Key>C</Key>
      </label>
      <textarea
        id="note"
        ref={field}
        rows={2}
        maxLength={4000}
        placeholder="@address tells a colleague"
        className="field"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) submit();
          if (event.key === 'Escape') event.currentTarget.blur();
        }}
      />
      {note.isError && <Notice look="stop">{errorSentence(note.error)}</Notice>}
      <Button type="submit" className="mt-1" refusal={text.trim() === '' ? 'Write a note first' : undefined}>
        Add note
      </Button>
    </form>
  );
}

function History({ incident }: { readonly incident: IncidentDetail }) {
  return (
    <section aria-label="History">
      <h2 className="mb-1">History</h2>
      <ol className="text-[12.5px]">
        {[...incident.history].reverse().map((entry, index) => (
          <li key={incident.history.length - index} className="py-0.5">
            <span className="text-ink-2" title={exactTime(entry.at)}>
              {shortTime(entry.at, new Date())}
            </span>{' '}
            {historyWords(entry)}
            {entry.kind !== 'recorded' && <span className="text-ink-2">, {entry.by}</span>}
          </li>
        ))}
      </ol>
    </section>
  );
}
