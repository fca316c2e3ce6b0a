import { HELD_KINDS, type HeldKind, type HoldView } from '@lantern/contracts/retention';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useAddHold, useEndHold, useHolds } from '../../data/retention';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { HELD_WORDS } from '../../wording/retention';
import { shortTime } from '../../wording/times';

/** What is kept in any case, by whom and why. */
export function Holds() {
  const holds = useHolds();
  const inForce = holds.data?.filter(({ endedAt }) => endedAt === null) ?? [];
  const ended = holds.data?.filter(({ endedAt }) => endedAt !== null) ?? [];
  return (
    <section aria-labelledby="holds" className="mb-6 max-w-5xl">
      <h2 id="holds" className="mb-1">
        Legal holds
      </h2>
      {holds.isPending && <Loading what="the legal holds" />}
      {holds.isError && <Notice look="stop">{errorSentence(holds.error)}</Notice>}
      {holds.data && inForce.length === 0 && <p className="mb-2 text-ink-2">No legal hold is in force.</p>}
      {inForce.map((hold) => (
        <Hold key={hold.id} hold={hold} />
      ))}
      {ended.length > 0 && (
        <details className="my-2">
          <summary className="cursor-pointer text-ink-2">Ended ({ended.length})</summary>
          {ended.map(({ id, kind, subject, by, since, endedAt, endedBy, endReason }) => (
            <p key={id} className="border-b border-rule py-1 text-ink-2">
              {HELD_WORDS[kind]} {subject}, from {shortTime(since, new Date())} by {by} to{' '}
              {endedAt ? shortTime(endedAt, new Date()) : ''} by {endedBy}: {endReason}
            </p>
          ))}
        </details>
      )}
      <AddHold />
    </section>
  );
}

function Hold({ hold }: { readonly hold: HoldView }) {
  const end = useEndHold();
  const [isEnding, setEnding] = useState(false);
  const [reason, setReason] = useState('');
  const { id, kind, subject, since, by, movements } = hold;
  const name = `${HELD_WORDS[kind]} ${subject}`;
  return (
    <div className="border-b border-rule py-1.5">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-semibold">{name}</span>
        <span className="text-ink-2">
          {movements.toLocaleString('en')} {movements === 1 ? 'movement' : 'movements'}, since{' '}
          {shortTime(since, new Date())} by {by}: {hold.reason}
        </span>
        {!isEnding && (
          <span className="ml-auto">
            <Button look="quiet" aria-label={`End the legal hold on ${name}`} onClick={() => setEnding(true)}>
              End …
            </Button>
          </span>
        )}
      </div>
      {isEnding && (
        <form
          aria-label={`End the legal hold on ${name}`}
          className="mt-1 flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            end.mutate({ id, reason }, { onSuccess: () => toast(`The legal hold on ${name} ended.`) });
          }}
        >
          <TextField
            label="Reason. Data that is too old is deleted within the hour"
            className="w-96"
            value={reason}
            maxLength={500}
            onChange={(event) => setReason(event.target.value)}
          />
          <Button
            look="stop"
            type="submit"
            refusal={reason.trim().length < 10 ? 'Enter a reason of at least 10 characters' : undefined}
          >
            End legal hold
          </Button>
          <Button onClick={() => setEnding(false)}>Cancel</Button>
        </form>
      )}
      {end.isError && <Notice look="stop">{errorSentence(end.error)}</Notice>}
    </div>
  );
}

const SUBJECTS: Readonly<Record<HeldKind, string>> = {
  person: 'Mail address',
  incident: 'Number of the incident',
  case: 'Number of the case',
};

function AddHold() {
  const add = useAddHold();
  const [kind, setKind] = useState<HeldKind>('person');
  const [subject, setSubject] = useState('');
  const [reason, setReason] = useState('');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(
      { kind, subject: subject.trim(), reason },
      { onSuccess: (hold) => (toast(`Legal hold on ${hold.subject} added.`), setSubject(''), setReason('')) },
    );
  };
  const refusal =
    subject.trim() === ''
      ? 'Enter an address or number'
      : reason.trim().length < 10
        ? 'Enter a reason of at least 10 characters'
        : undefined;
  return (
    <form onSubmit={submit} aria-label="New legal hold" className="mt-3 flex flex-wrap items-end gap-2">
      <SelectField
        label="Applies to"
        value={kind}
        options={HELD_KINDS.map((value) => ({ value, label: HELD_WORDS[value].toLowerCase() }))}
        onChange={setKind}
      />
      <TextField
        label={SUBJECTS[kind]}
        className="w-72"
        value={subject}
        onChange={(event) => setSubject(event.target.value)}
      />
      <TextField
        label="Reason"
        className="w-72"
        maxLength={500}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" refusal={refusal}>
        Add legal hold
      </Button>
      {add.isError && <Notice look="stop">{errorSentence(add.error)}</Notice>}
    </form>
  );
}
