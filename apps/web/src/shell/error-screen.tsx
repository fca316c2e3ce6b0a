import { Link, useRouteError } from 'react-router';
import { errorSentence } from '../wording/errors';

/** A screen that broke: what happened, what is safe, and two ways on. */
export function ErrorScreen() {
  const error = useRouteError();
  return (
    <main className="mx-auto max-w-lg p-12">
      <h1 className="mb-3">This screen failed</h1>
      <p className="mb-4">{errorSentence(error)}</p>
      <p className="flex gap-4">
        <button type="button" className="part" onClick={() => window.location.reload()}>
          Reload this screen
        </button>
        <a className="part" href="/incidents">
          Go to the incidents
        </a>
      </p>
    </main>
  );
}

export function LostScreen() {
  return (
    <div className="mx-auto max-w-lg p-12">
      <h1 className="mb-3">This page does not exist</h1>
      <p>
        It may have been removed, or the link may be incomplete.{' '}
        <Link className="part" to="/incidents">
          Go to the incidents
        </Link>
      </p>
    </div>
  );
}
