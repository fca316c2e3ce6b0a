import { MOST_DEPUTY_DAYS } from '@lantern/contracts/access';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useEndDeputy, useNameDeputy, useOwnDeputies } from '../../data/access';
import { useSession } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';

/** Who stands in for the holder of the account, and for whom they do. */
export function Absences() {
  const { data } = useSession();
  const deputies = useOwnDeputies();
  const end = useEndDeputy();
  const own = data?.account.email;
  return (
    <section aria-labelledby="absences" className="mb-8 max-w-4xl">
      <h2 id="absences" className="mb-1">
        Absences
      </h2>
      <p className="mb-2 text-[13px] text-ink-2">
        While you are away, your deputy also has your roles, with their limits. The audit trail names both of
        you. Your deputy cannot decide about your own movements.
      </p>
      {deputies.isPending && <Loading what="the absences" />}
      {deputies.isError && <Notice look="stop">{errorSentence(deputies.error)}</Notice>}
      {deputies.data?.map(({ id, absent, deputy, from, until, state }) => (
        <div key={id} className="flex flex-wrap items-baseline gap-x-3 border-t border-rule py-1.5">
          <span className="font-semibold">
            {absent.email === own ? `${deputy.name} stands in for you` : `You stand in for ${absent.name}`}
          </span>
          <span className={state === 'now' ? '' : 'text-ink-2'}>
            {shortTime(from, new Date())} to {shortTime(until, new Date())}
            {state === 'now' ? ', now' : state === 'over' ? ', over' : ''}
          </span>
          {absent.email === own && state !== 'over' && (
            <span className="ml-auto">
              <Button onClick={() => end.mutate(id, { onSuccess: () => toast('The absence has ended.') })}>
                {state === 'now' ? 'End absence' : 'Remove'}
              </Button>
            </span>
          )}
        </div>
      ))}
      {end.isError && <Notice look="stop">{errorSentence(end.error)}</Notice>}
      <NameDeputy />
    </section>
  );
}

const localTime = (hoursAhead: number): string => {
  const at = new Date(Date.now() + hoursAhead * 3_600_000);
  at.setMinutes(at.getMinutes() - at.getTimezoneOffset());
  return at.toISOString().slice(0, 16);
};

function NameDeputy() {
  const name = useNameDeputy();
  const [deputy, setDeputy] = useState('');
  const [from, setFrom] = useState(() => localTime(0));
  const [until, setUntil] = useState(() => localTime(7 * 24));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    name.mutate(
      { deputy, from: new Date(from).toISOString(), until: new Date(until).toISOString() },
      { onSuccess: () => (toast(`${deputy} stands in for you.`), setDeputy('')) },
    );
  };
  const refusal =
    deputy.trim() === ''
      ? 'Enter the address of your deputy'
      : !(new Date(until) > new Date(from))
        ? 'The absence must end after it begins'
        : undefined;
  return (
    <form onSubmit={submit} aria-label="New absence" className="mt-3 flex flex-wrap items-end gap-2">
      <TextField
        label="Mail address of your deputy"
        type="email"
        className="w-80"
        maxLength={254}
        value={deputy}
        onChange={(event) => setDeputy(event.target.value)}
      />
      <TextField
        label="From"
        type="datetime-local"
        value={from}
        onChange={(event) => setFrom(event.target.value)}
      />
      <TextField
        label="Until"
        type="datetime-local"
        value={until}
        onChange={(event) => setUntil(event.target.value)}
      />
      <Button type="submit" refusal={refusal}>
        Add absence
      </Button>
      <p className="w-full text-[12.5px] text-ink-2">An absence can last {MOST_DEPUTY_DAYS} days at most.</p>
      {name.isError && <Notice look="stop">{errorSentence(name.error)}</Notice>}
    </form>
  );
}
