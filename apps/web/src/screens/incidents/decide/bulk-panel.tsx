import type { BulkRequest, BulkView } from '@lantern/contracts';
import { HARM_CAUSES } from '@lantern/core/incidents';
import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { toast } from 'sonner';
import { useAssignees, useBeginBulk, useBulk, useBulkStep } from '../../../data/desk';
import { useCommon } from '../../../data/queue';
import { useMay } from '../../../data/session';
import { countOf, type Picked, useDesk } from '../../../stores/desk-store';
import { Button, Key } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { FIELD_WORDS, LEFT_WORDS, valueWords } from '../../../wording/desk';
import { errorSentence } from '../../../wording/errors';
import { actWords } from '../../../wording/incidents';
import { CAUSE_WORDS, SEVERITY_WORDS } from '../../../wording/terms';
import { RespondButton } from './respond-button';

type BulkAct = Omit<BulkRequest, 'filter' | 'numbers' | 'except' | 'expected'>;

/** Decides about many incidents as about one; the last decision can be stopped and undone. */
export function BulkPanel({
  last,
  onBegun,
}: {
  readonly last: string | null;
  readonly onBegun: (id: string) => void;
}) {
  const picked = useDesk((store) => store.picked);
  const clear = useDesk((store) => store.clear);
  return (
    <div className="flex flex-col gap-4">
      {last && <Progress id={last} />}
      {picked.kind !== 'none' && <Decide picked={picked} onBegun={onBegun} onClear={clear} />}
    </div>
  );
}

function targetOf(picked: Picked): Pick<BulkRequest, 'filter' | 'numbers' | 'except'> {
  if (picked.kind === 'all') return { filter: picked.filter, except: [...picked.except] };
  return { numbers: picked.kind === 'some' ? [...picked.numbers] : [] };
}

interface DecideProps {
  readonly picked: Exclude<Picked, { kind: 'none' }>;
  readonly onBegun: (id: string) => void;
  readonly onClear: () => void;
}

function Decide({ picked, onBegun, onClear }: DecideProps) {
  const begin = useBeginBulk();
  const may = useMay('incidents.decide');
  const assignees = useAssignees();
  const [reason, setReason] = useState('');
  const count = countOf(picked);
  const common = useCommon(picked.kind === 'all' ? picked.filter : '', picked.kind === 'all');
  const send = (act: BulkAct) => {
    if (!may || count === 0 || begin.isPending) return;
    const words = reason.trim();
    begin.mutate(
      { ...act, ...targetOf(picked), ...(words ? { reason: words } : {}), expected: count },
      {
        onSuccess: ({ id }) => {
          onBegun(id);
          onClear();
        },
        onError: (error) => toast.error(errorSentence(error)),
      },
    );
  };
  const keys = [picked, reason, begin.isPending];
  useHotkeys('y', () => send({ act: 'answer-looked-for', yes: true }), keys);
  useHotkeys('n', () => send({ act: 'answer-looked-for', yes: false }), keys);
  useHotkeys('u', () => send({ act: 'answer-all-right', yes: true }), keys);
  useHotkeys('m', () => send({ act: 'answer-all-right', yes: false }), keys);
  useHotkeys('t', () => send({ act: 'take' }), keys);
  if (!may) return <Notice>Your account may read incidents but not decide them.</Notice>;
  const incidents = `${count.toLocaleString('en-GB')} ${count === 1 ? 'incident' : 'incidents'}`;
  return (
    <section aria-label="Decide together" className="flex flex-col gap-3">
      <div className="flex items-baseline justify-between">
        <h1>{incidents}</h1>
        <Button look="quiet" onClick={onClear}>
          Clear <Key>Esc</Key>
        </Button>
      </div>
      {picked.kind === 'all' && (
        <p className="text-[12.5px] text-ink-2">
          {picked.what}
          {picked.except.size > 0 && `, without ${picked.except.size} taken out by hand`}
        </p>
      )}
      {(common.data ?? []).length > 0 && picked.kind === 'all' && (
        <div>
          <h2>What they have in common</h2>
          <ul className="text-[12.5px]">
            {common.data?.map(({ field, value, share }) => (
              <li
                key={field}
                className="flex justify-between gap-2 border-b border-dotted border-rule py-0.5"
              >
                <span className="truncate">
                  {FIELD_WORDS[field]} <b>{valueWords(field, value.value, value.label)}</b>
                </span>
                <span className="font-mono whitespace-nowrap">{Math.round(share * 100)} %</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      <TextField
        label="Reason, kept in each history"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Pair
        title="Was it what we look for?"
        keys={['Y', 'N']}
        onAnswer={(yes) => send({ act: 'answer-looked-for', yes })}
      />
      <Pair
        title="Was it all right to move it?"
        keys={['U', 'M']}
        onAnswer={(yes) => send({ act: 'answer-all-right', yes })}
      />
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={() => send({ act: 'take' })}>
          Assign to me <Key>T</Key>
        </Button>
        <Button onClick={() => send({ act: 'mark-test', yes: true })}>Mark as our own test</Button>
        <Button onClick={() => send({ act: 'reopen' })}>Reopen</Button>
      </div>
      {picked.kind === 'some' && <RespondButton numbers={[...picked.numbers]} />}
      <SelectField
        label="Hand to"
        value=""
        options={[
          { value: '', label: 'choose …' },
          ...(assignees.data ?? []).map(({ name, email }) => ({ value: email, label: name })),
        ]}
        onChange={(to) => to && send({ act: 'assign', to })}
      />
      <SelectField<Severity | ''>
        label="Set severity"
        value=""
        options={[
          { value: '', label: 'choose …' },
          ...SEVERITIES.map((value) => ({ value, label: SEVERITY_WORDS[value] })),
        ]}
        onChange={(severity) => severity && send({ act: 'set-severity', severity })}
      />
      <SelectField
        label="Cause of harm"
        value=""
        options={[
          { value: '', label: 'choose …' },
          ...HARM_CAUSES.map((value) => ({ value, label: CAUSE_WORDS[value] })),
        ]}
        onChange={(cause) =>
          cause && send({ act: 'name-cause', cause: cause as (typeof HARM_CAUSES)[number] })
        }
      />
    </section>
  );
}

function Pair({
  title,
  keys,
  onAnswer,
}: {
  readonly title: string;
  readonly keys: readonly [string, string];
  readonly onAnswer: (yes: boolean) => void;
}) {
  return (
    <div role="group" aria-label={title}>
      <h2 className="mb-1.5">{title}</h2>
      <div className="grid grid-cols-2 gap-2">
        <Button className="justify-between" onClick={() => onAnswer(true)}>
          Yes <Key>{keys[0]}</Key>
        </Button>
        <Button className="justify-between" onClick={() => onAnswer(false)}>
          No <Key>{keys[1]}</Key>
        </Button>
      </div>
    </div>
  );
}

const STATE_WORDS: Readonly<Record<BulkView['state'], string>> = {
  running: 'Deciding',
  done: 'Decided',
  stopped: 'Stopped',
  undoing: 'Undoing',
  undone: 'Undone',
  'cut-off': 'Interrupted',
};

/** How far the last decision in bulk is, what it left alone, and its undo. */
function Progress({ id }: { readonly id: string }) {
  const bulk = useBulk(id);
  const stop = useBulkStep('stop');
  const undo = useBulkStep('undo');
  useHotkeys('shift+z', () => undo.mutate(id), { enabled: bulk.data?.state === 'done' }, [
    id,
    bulk.data?.state,
  ]);
  if (!bulk.data) return null;
  const { state, act, total, done, skipped, undone, reasons } = bulk.data;
  const isRunning = state === 'running' || state === 'undoing';
  return (
    <section
      aria-label="Last decision together"
      className="border-l-4 border-press bg-press-soft px-3 py-2 text-[12.5px]"
    >
      <p role="status">
        <b>{STATE_WORDS[state]}</b>: {actWords(act).toLowerCase()}.{' '}
        {state === 'undoing' || state === 'undone'
          ? `${undone} of ${done} put back.`
          : `${done + skipped} of ${total}${skipped > 0 ? `, ${skipped} left alone` : ''}.`}
      </p>
      {isRunning && <progress className="w-full" max={total} value={done + skipped} aria-label="Progress" />}
      {reasons.map(({ reason, count }) => (
        <p key={reason} className="text-ink-2">
          {count} {LEFT_WORDS[reason] ?? reason}
        </p>
      ))}
      <div className="mt-1 flex gap-1.5">
        {state === 'running' && <Button onClick={() => stop.mutate(id)}>Stop</Button>}
        {(state === 'done' || state === 'stopped' || state === 'cut-off') && done > 0 && (
          <Button onClick={() => undo.mutate(id)}>
            Undo all <Key>Shift Z</Key>
          </Button>
        )}
      </div>
    </section>
  );
}
