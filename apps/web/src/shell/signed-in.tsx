import { type FormEvent, lazy, Suspense, useState } from 'react';
import { Outlet } from 'react-router';
import { ApiError } from '../data/client';
import { useSession, useSignIn } from '../data/session';
import { useSignInByPasskey } from '../data/passkeys';
import { Button } from '../ui/button';
import { TextField } from '../ui/field';
import { Loading, Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';

const FactorFirst = lazy(() =>
  import('./factor-first').then(({ FactorFirst: default_ }) => ({ default: default_ })),
);

/** Shows what is behind the door, or the door. The address stays, so that a link works after signing in. */
export function SignedIn() {
  const session = useSession();
  if (session.isPending) return <Loading what="Uncut Lantern" />;
  if (session.isError) return <ServerGone retry={() => void session.refetch()} />;
  if (!session.data) return <SignIn />;
  return <Behind demanded={session.data.account.factorDemanded} />;
}

/** What is behind the door; where the role of the account needs a second factor, that comes first. */
function Behind({ demanded }: { readonly demanded: boolean }) {
  // Once it is set up, its recovery codes are still to be read.
  const [isSetting, setSetting] = useState(demanded);
  if (demanded && !isSetting) setSetting(true);
  if (!isSetting) return <Outlet />;
  return (
    <Suspense fallback={<Loading what="the second factor" />}>
      <FactorFirst isDone={!demanded} goOn={() => setSetting(false)} />
    </Suspense>
  );
}

function ServerGone({ retry }: { readonly retry: () => void }) {
  return (
    <main className="mx-auto max-w-md p-12">
      <h1 className="mb-3">The server is not responding</h1>
      <p className="mb-4">Everything saved is safe. The server may be starting. Try again in a moment.</p>
      <Button look="main" onClick={retry}>
        Try again
      </Button>
    </main>
  );
}

const isAsking = (error: unknown): boolean =>
  error instanceof ApiError && error.code === 'second-factor-needed';

const isAskingForPasskey = (error: unknown): boolean =>
  error instanceof ApiError && isAsking(error) && error.body.details?.['with'] === 'passkey';

function SignIn() {
  const signIn = useSignIn();
  const byPasskey = useSignInByPasskey();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  // Asked for once the password is right.
  const [asked, setAsked] = useState(false);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate(asked ? { email, password, code } : { email, password }, {
      onError: (error) => {
        if (isAsking(error)) setAsked(true);
      },
    });
  };
  return (
    <main className="grid min-h-screen place-items-center p-6">
      <form onSubmit={submit} className="w-80" aria-labelledby="sign-in">
        <div className="mb-5 flex items-center gap-3">
          <img src="/lantern.svg" alt="" className="h-9" />
          <h1 id="sign-in">Uncut Lantern</h1>
        </div>
        <div className="flex flex-col gap-3">
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
              label={isAskingForPasskey(signIn.error) ? 'Recovery code' : 'Code of your second factor'}
              hint={
                isAskingForPasskey(signIn.error)
                  ? 'Or sign in with your passkey below.'
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
        </div>
      </form>
    </main>
  );
}
