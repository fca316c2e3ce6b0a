import { Link } from 'react-router';
import { useCompareScim, useScim, useSetScim } from '../../data/directory';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { people } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { exactTime, shortTime } from '../../wording/times';

/** People whom an identity provider tells of as they come, change and leave. */
export function ScimSection({ compared }: { readonly compared: (id: string) => void }) {
  const scim = useScim();
  const set = useSetScim();
  const compare = useCompareScim();
  const mayMakeKeys = useMay('accounts.manage');
  const waits = scim.data?.waits ?? false;
  return (
    <section aria-labelledby="from-scim">
      <h2 id="from-scim" className="mb-1">
        From an identity provider (SCIM)
      </h2>
      <p className="mb-2 max-w-xl text-ink-2">
        The provider sends people and groups itself. Enter this address there, and a key of a{' '}
        {mayMakeKeys ? <Link to="/administration/programs">service account</Link> : 'service account'} whose
        role can change the directory:
      </p>
      <p className="mb-3">
        <code className="select-all">{`${window.location.origin}/api/scim/v2`}</code>
      </p>
      {scim.isPending && <Loading what="what the provider sent" />}
      {scim.isError && <Notice look="stop">{errorSentence(scim.error)}</Notice>}
      {scim.data && (
        <>
          <p className="mb-2">
            {scim.data.users === 0 && scim.data.groups === 0
              ? 'Nothing was sent yet.'
              : `${people(scim.data.users)} and ${scim.data.groups} ${scim.data.groups === 1 ? 'group' : 'groups'} were sent.`}
          </p>
          {scim.data.lastAt !== null && (
            <p className="mb-2 text-ink-2" title={exactTime(scim.data.lastAt)}>
              {shortTime(scim.data.lastAt, new Date())}: {scim.data.lastOutcome}
            </p>
          )}
          <label className="mb-3 flex items-baseline gap-2">
            <input
              type="checkbox"
              checked={scim.data.reviewed}
              onChange={(event) => set.mutate(event.target.checked)}
            />
            <span>
              Review every change before it is applied
              <span className="block text-[12.5px] text-ink-2">
                Otherwise only changes that remove many people wait for you.
              </span>
            </span>
          </label>
          {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
          {compare.isError && <Notice look="stop">{errorSentence(compare.error)}</Notice>}
          {scim.data.users > 0 || waits ? (
            <Button
              look={waits ? 'main' : undefined}
              refusal={compare.isPending ? 'Comparing …' : undefined}
              onClick={() => compare.mutate(undefined, { onSuccess: ({ id }) => compared(id) })}
            >
              Compare with the directory
            </Button>
          ) : null}
        </>
      )}
    </section>
  );
}
