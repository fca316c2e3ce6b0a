import { lazy, Suspense, useState } from 'react';
import { Outlet } from 'react-router';
import { useSession } from '../data/session';
import { Button } from '../ui/button';
import { Loading } from '../ui/notice';
import { SignIn } from './sign-in';

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
