import { LEAST_PASSWORD, type OwnSessionView } from '@lantern/contracts';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useChangePassword, useEndSessions, useOwnSessions } from '../../data/accounts';
import { useSession } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { exactTime, shortTime } from '../../wording/times';
import { Absences } from './absences';
import { browserWords } from './browser-words';
import { Passkeys } from './passkeys';
import { SecondFactor } from './second-factor';

/** What everybody may do with their own account. */
export function OwnAccountPage() {
  const { data } = useSession();
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <h1 className="mb-1">Your account</h1>
      <p className="mb-5 text-ink-2">
        {data?.account.name}, {data?.account.email}
      </p>
      <Sessions />
      <Passkeys />
      <SecondFactor />
      <Absences />
      <Password />
    </div>
  );
}

function Sessions() {
  const sessions = useOwnSessions();
  const end = useEndSessions();
  const others = sessions.data?.filter(({ isThis }) => !isThis).length ?? 0;
  return (
    <section aria-labelledby="sessions" className="mb-8 max-w-4xl">
      <h2 id="sessions" className="mb-1">
        Where you are signed in
      </h2>
      <p className="mb-2 text-[13px] text-ink-2">
        A session ends after 12 hours, or after 4 hours without use.
      </p>
      {sessions.isPending && <Loading what="your sessions" />}
      {sessions.isError && <Notice look="stop">{errorSentence(sessions.error)}</Notice>}
      {sessions.data && (
        <table className="mb-3 w-full text-[13px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="py-1 font-normal">browser</th>
              <th className="font-normal">network address</th>
              <th className="font-normal">signed in</th>
              <th className="font-normal">last used</th>
              <th className="font-normal">
                <span className="sr-only">act</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {sessions.data.map((session) => (
              <SessionRow key={session.id} session={session} end={() => end.mutate(session.id)} />
            ))}
          </tbody>
        </table>
      )}
      <Button
        onClick={() => end.mutate(null, { onSuccess: () => toast('Your other sessions have ended.') })}
        refusal={others === 0 ? 'You are signed in here only' : undefined}
      >
        End all other sessions
      </Button>
      {end.isError && <Notice look="stop">{errorSentence(end.error)}</Notice>}
    </section>
  );
}

function SessionRow({ session, end }: { readonly session: OwnSessionView; readonly end: () => void }) {
  const { agent, address, signedInAt, lastSeen, isThis } = session;
  return (
    <tr className="border-t border-rule">
      <td className="py-1.5 pr-3" title={agent}>
        {browserWords(agent)}
      </td>
      <td className="pr-3 font-mono text-[12.5px]">{address}</td>
      <td className="pr-3" title={exactTime(signedInAt)}>
        {shortTime(signedInAt, new Date())}
      </td>
      <td className="pr-3" title={exactTime(lastSeen)}>
        {shortTime(lastSeen, new Date())}
      </td>
      <td className="text-right">
        {isThis ? (
          <span className="text-ink-2">this session</span>
        ) : (
          <Button onClick={end}>End session</Button>
        )}
      </td>
    </tr>
  );
}

const EMPTY = { current: '', next: '', again: '' };

function Password() {
  const change = useChangePassword();
  const [draft, setDraft] = useState(EMPTY);
  const differs = draft.again !== '' && draft.again !== draft.next;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (draft.next !== draft.again) return;
    const { current, next } = draft;
    change.mutate(
      { current, next },
      {
        onSuccess: () => {
          setDraft(EMPTY);
          toast('Your password is changed. Your other sessions have ended.');
        },
      },
    );
  };
  const field = (name: keyof typeof EMPTY) => ({
    type: 'password',
    required: true,
    value: draft[name],
    onChange: (event: { target: { value: string } }) => setDraft({ ...draft, [name]: event.target.value }),
  });
  return (
    <section aria-labelledby="password" className="max-w-sm">
      <h2 id="password" className="mb-2">
        Password
      </h2>
      <form onSubmit={submit} className="flex flex-col gap-3">
        <TextField label="Present password" autoComplete="current-password" {...field('current')} />
        <TextField
          label="New password"
          hint={`At least ${LEAST_PASSWORD} characters. A sentence is easy to remember.`}
          autoComplete="new-password"
          minLength={LEAST_PASSWORD}
          {...field('next')}
        />
        <TextField
          label="New password again"
          autoComplete="new-password"
          error={differs ? 'The two passwords differ.' : undefined}
          {...field('again')}
        />
        {change.isError && <Notice look="stop">{errorSentence(change.error)}</Notice>}
        <div>
          <Button look="main" type="submit">
            Change password
          </Button>
        </div>
      </form>
    </section>
  );
}
