import { LEAST_PASSWORD } from '@lantern/contracts';
import { type FormEvent, useState } from 'react';
import { Link, useParams } from 'react-router';
import { useChoosePassword, useWelcome } from '../data/accounts';
import { Button } from '../ui/button';
import { TextField } from '../ui/field';
import { Loading, Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';
import { exactTime, shortTime } from '../wording/times';

/** Where the link of an invitation leads: its holder chooses a password. */
export function Welcome() {
  const { token = '' } = useParams();
  const welcome = useWelcome(token);
  if (welcome.isPending) return <Loading what="your invitation" />;
  return (
    <main className="grid min-h-screen place-items-center p-6">
      <div className="w-96">
        <div className="mb-5 flex items-center gap-3">
          <img src="/lantern.svg" alt="" className="h-9" />
          <h1>{welcome.data ? `Welcome, ${welcome.data.name}` : 'Invitation'}</h1>
        </div>
        {welcome.isError ? (
          <Notice look="stop">{errorSentence(welcome.error)}</Notice>
        ) : (
          <ChoosePassword token={token} email={welcome.data.email} expiresAt={welcome.data.expiresAt} />
        )}
        <p className="mt-4 text-[13px]">
          <Link className="part" to="/">
            Go to sign-in
          </Link>
        </p>
      </div>
    </main>
  );
}

function ChoosePassword({
  token,
  email,
  expiresAt,
}: {
  readonly token: string;
  readonly email: string;
  readonly expiresAt: string;
}) {
  const choose = useChoosePassword(token);
  const [password, setPassword] = useState('');
  const [again, setAgain] = useState('');
  const differs = again !== '' && again !== password;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (password === again) choose.mutate(password);
  };
  if (choose.isSuccess) return <Notice look="go">Your password is set. Sign in as {email}.</Notice>;
  return (
    <form onSubmit={submit} className="flex flex-col gap-3">
      <p className="text-ink-2">
        Choose a password for {email}. This link works until{' '}
        <time dateTime={expiresAt} title={exactTime(expiresAt)}>
          {shortTime(expiresAt, new Date())}
        </time>
        .
      </p>
      <input type="hidden" autoComplete="username" value={email} readOnly />
      <TextField
        label="Password"
        hint={`At least ${LEAST_PASSWORD} characters. A sentence is easy to remember.`}
        type="password"
        autoComplete="new-password"
        required
        minLength={LEAST_PASSWORD}
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      <TextField
        label="Password again"
        error={differs ? 'The two passwords differ.' : undefined}
        type="password"
        autoComplete="new-password"
        required
        value={again}
        onChange={(event) => setAgain(event.target.value)}
      />
      {choose.isError && <Notice look="stop">{errorSentence(choose.error)}</Notice>}
      <Button
        look="main"
        type="submit"
        className="justify-center py-1.5"
        refusal={differs ? 'Repeat the same password' : undefined}
        reasonIsShown
      >
        Set password
      </Button>
    </form>
  );
}
