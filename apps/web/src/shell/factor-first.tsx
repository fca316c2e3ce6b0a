import { useSignOut } from '../data/session';
import { Passkeys } from '../screens/own-account/passkeys';
import { SecondFactor } from '../screens/own-account/second-factor';
import { Button } from '../ui/button';

/** The role of an account needs a second factor: it is set up before anything else. */
export function FactorFirst({ isDone, goOn }: { readonly isDone: boolean; readonly goOn: () => void }) {
  const signOut = useSignOut();
  return (
    <main className="mx-auto max-w-2xl p-10">
      <h1 className="mb-2">{isDone ? 'Your second factor is on' : 'Set up a second factor first'}</h1>
      <p className="mb-4 text-ink-2">
        {isDone
          ? 'Store the recovery codes where you can find them without your phone.'
          : 'Your role needs a second factor. Turn it on to use this account.'}
      </p>
      <SecondFactor />
      <Passkeys />
      <span className="flex gap-2">
        <Button look="main" onClick={goOn} refusal={isDone ? undefined : 'Turn the second factor on first'}>
          Continue
        </Button>
        <Button look="quiet" onClick={() => signOut.mutate()}>
          Sign out
        </Button>
      </span>
    </main>
  );
}
