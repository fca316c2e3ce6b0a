import { useState } from 'react';
import { toast } from 'sonner';
import { useChangeMasterKey, useKeptKeys } from '../../data/retention';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';

/** The keys that kept content is encrypted with, and a change of the one that wraps them. */
export function KeysSection() {
  const keys = useKeptKeys();
  const change = useChangeMasterKey();
  const [isAsked, setAsked] = useState(false);
  const start = () =>
    change.mutate(undefined, {
      onSuccess: () => toast('The master key is being changed.'),
      onSettled: () => setAsked(false),
    });
  return (
    <section className="mb-7 max-w-3xl" aria-label="Encryption keys">
      <h2 className="mb-1">Encryption keys</h2>
      <p className="mb-2 text-ink-2">
        Each movement has its own data key. Deleting its content destroys the key, so that copies of the
        database cannot be read either. A master key outside the database protects the data keys.
      </p>
      {keys.isPending && <Loading what="the keys" />}
      {keys.isError && <Notice look="stop">{errorSentence(keys.error)}</Notice>}
      {keys.data && (
        <p className="mb-2 text-[13px]">
          <span className="tabular-nums">{keys.data.dataKeys.toLocaleString('en')}</span> data keys, master
          key <code>{keys.data.master}</code>
        </p>
      )}
      {keys.data?.running && (
        <div role="status" className="mb-2 text-[13px]">
          <progress
            className="mr-2 w-48 align-middle"
            aria-label="Data keys that use the new master key"
            max={keys.data.dataKeys}
            value={keys.data.dataKeys - keys.data.left}
          />
          {keys.data.left === 0
            ? 'Finishing …'
            : `${keys.data.left.toLocaleString('en')} data keys still use the earlier master key. You can go on working.`}
        </div>
      )}
      {keys.data && !keys.data.running && !isAsked && (
        <Button
          refusal={
            keys.data.canChange
              ? undefined
              : 'The master key was given to the server in its environment. Change it there'
          }
          onClick={() => setAsked(true)}
        >
          Change master key …
        </Button>
      )}
      {isAsked && (
        <Notice look="stop">
          <p className="mb-1.5">
            A new master key is made and written to <code>secrets.json</code>, and the old one is removed.
            Backups that were made before can only be restored with a copy of the old file. Make a new backup
            afterwards.
          </p>
          <span className="flex gap-2">
            <Button look="main" onClick={start}>
              Change master key
            </Button>
            <Button onClick={() => setAsked(false)}>Cancel</Button>
          </span>
        </Notice>
      )}
      {change.isError && <Notice look="stop">{errorSentence(change.error)}</Notice>}
    </section>
  );
}
