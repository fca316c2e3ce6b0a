import { type FormEvent, type ReactNode, useState } from 'react';
import { useSearchParams } from 'react-router';
import { ApiError } from '../data/client';
import { useSignInByPasskey } from '../data/passkeys';
import { useSignIn } from '../data/session';
import { useBeginSignOn, useSignOnOffer } from '../data/sign-on';
import { Button } from '../ui/button';
import { TextField } from '../ui/field';
import { Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';
import { signOnSentence } from '../wording/sign-on';

/** The door: single sign-on where the organisation has it, a passkey, or a password. */
export function SignIn() {
  const offer = useSignOnOffer();
  const [search] = useSearchParams();
  const failed = signOnSentence(search.get('sign-on'));
  const provider = offer.data?.provider ?? null;
  return (
    <main className="grid min-h-screen place-items-center p-6">
      <div className="w-80">
        <div className="mb-5 flex items-center gap-3">
          <img src="/lantern.svg" alt="" className="h-9" />
          <h1 id="sign-in">Uncut Lantern</h1>
        </div>
        {failed && (
          <div className="mb-3">
            <Notice look="stop">{failed}</Notice>
          </div>
        )}
        {provider !== null && <ThroughProvider provider={provider} />}
        <Folded isFolded={offer.data?.onlyWay ?? false}>
          <WithPassword />
        </Folded>
      </div>
    </main>
  );
}

function ThroughProvider({ provider }: { readonly provider: string }) {
  const begin = useBeginSignOn();
  return (
    <div className="mb-5 flex flex-col gap-3 border-b border-rule pb-5">
      <Button look="main" className="justify-center py-1.5" onClick={() => begin.mutate()}>
        {begin.isPending ? 'Opening the sign-in page …' : `Sign in through ${provider}`}
      </Button>
      {begin.isError && <Notice look="stop">{errorSentence(begin.error)}</Notice>}
    </div>
  );
}

/** Passwords stand back where they are for emergencies only. */
function Folded({ isFolded, children }: { readonly isFolded: boolean; readonly children: ReactNode }) {
  if (!isFolded) return children;
  return (
    <details>
      <summary className="mb-3 cursor-pointer text-ink-2">Sign in with the emergency account</summary>
      {children}
    </details>
  );
}

const isAsking = (error: unknown): boolean =>
  error instanceof ApiError && error.code === 'second-factor-needed';

const isAskingForPasskey = (error: unknown): boolean =>
  error instanceof ApiError && isAsking(error) && error.body.details?.['with'] === 'passkey';

function WithPassword() {
  const signIn = useSignIn();
  const byPasskey = useSignInByPasskey();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  // What is asked for once the password is right.
  const [asked, setAsked] = useState<'code' | 'passkey' | null>(null);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate(asked ? { email, password, code } : { email, password }, {
      onError: (error) => {
        if (isAsking(error)) setAsked(isAskingForPasskey(error) ? 'passkey' : 'code');
      },
    });
  };
  return (
    <form onSubmit={submit} aria-labelledby="sign-in" className="flex flex-col gap-3">
      <TextField
        label="Mail address"
        type="email"
        autoComplete="username"
        required
        autoFocus
        value={email}
        onChange={(event) => setEmail(event.target.value)}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      {asked && (
        <TextField
          label={asked === 'passkey' ? 'Recovery code' : 'Code of your second factor'}
          hint={
            asked === 'passkey'
              ? 'Your account has a passkey. Use it below, or enter a recovery code.'
              : 'Six digits from your authenticator, or a recovery code.'
          }
          autoComplete="one-time-code"
          autoFocus
          required
          maxLength={20}
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      )}
      {signIn.isError && !isAsking(signIn.error) && (
        <Notice look="stop">{errorSentence(signIn.error)}</Notice>
      )}
      <Button look="main" type="submit" className="justify-center py-1.5">
        {signIn.isPending ? 'Signing in …' : 'Sign in'}
      </Button>
      <Button className="justify-center py-1.5" onClick={() => byPasskey.mutate()}>
        {byPasskey.isPending ? 'Waiting for the device …' : 'Use a passkey'}
      </Button>
      {byPasskey.isError && <Notice look="stop">{errorSentence(byPasskey.error)}</Notice>}
    </form>
  );
}
