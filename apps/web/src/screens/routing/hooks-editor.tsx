import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { useAddHook, useDeliveries, useHooks, useRemoveHook, useSendAgain } from '../../data/response';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { CALL_WORDS } from '../../wording/desk';
import { errorSentence } from '../../wording/errors';
import { exactTime, shortTime } from '../../wording/times';

/** Web hooks that tickets go to, with every delivery and its answer. */
export function HooksEditor() {
  const hooks = useHooks();
  const add = useAddHook();
  const remove = useRemoveHook();
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [shown, setShown] = useState<string | null>(null);
  if (hooks.isError) return <Notice look="stop">{errorSentence(hooks.error)}</Notice>;
  if (!hooks.data) return <Loading what="web hooks" />;
  return (
    <div className="flex flex-col gap-4">
      <p className="max-w-2xl text-ink-2">
        A ticket is an event of CloudEvents 1.0, signed after the Standard Webhooks specification. It names
        what was found by kind and number, never a value. Deliveries are tried for a day.
      </p>
      {hooks.data.length === 0 && (
        <Empty title="No ticket system yet">Add the address that takes events.</Empty>
      )}
      <ul className="flex flex-col gap-2">
        {hooks.data.map((hook) => (
          <li key={hook.id} className="rounded border border-rule bg-sheet px-3.5 py-2.5">
            <div className="flex items-center gap-3">
              <div className="min-w-0 flex-1">
                <b>{hook.name}</b>
                <p className="truncate font-mono text-[12.5px] text-ink-2">{hook.url}</p>
              </div>
              <span className="text-[12.5px] text-ink-2">
                {hook.waiting} waiting{hook.failed > 0 && <b className="text-stop">, {hook.failed} failed</b>}
              </span>
              <Button look="quiet" onClick={() => setShown(shown === hook.id ? null : hook.id)}>
                {shown === hook.id ? 'Hide deliveries' : 'Show deliveries'}
              </Button>
              <Button
                look="stop"
                onClick={() =>
                  remove.mutate(hook.id, { onError: (error) => toast.error(errorSentence(error)) })
                }
              >
                Delete
              </Button>
            </div>
            {shown === hook.id && <Deliveries id={hook.id} />}
          </li>
        ))}
      </ul>
      {add.data?.secret && (
        <Notice look="go">
          Signing key of "{add.data.name}", shown this once:{' '}
          <code className="font-mono">{add.data.secret}</code>
        </Notice>
      )}
      <form
        className="grid grid-cols-[1fr_2fr_auto] items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() && url.trim())
            add.mutate(
              { name: name.trim(), url: url.trim() },
              {
                onSuccess: () => {
                  setName('');
                  setUrl('');
                },
              },
            );
        }}
      >
        <TextField label="Name" value={name} onChange={(event) => setName(event.target.value)} />
        <TextField
          label="Address"
          type="url"
          placeholder="https://tickets.example/in"
          value={url}
          onChange={(event) => setUrl(event.target.value)}
        />
        <Button type="submit" look="main" refusal={name.trim() && url.trim() ? undefined : 'Enter both'}>
          Add web hook
        </Button>
      </form>
      {add.isError && <Notice look="stop">{errorSentence(add.error)}</Notice>}
    </div>
  );
}

function Deliveries({ id }: { readonly id: string }) {
  const deliveries = useDeliveries(id);
  const again = useSendAgain();
  if (!deliveries.data) return <Loading what="deliveries" />;
  if (deliveries.data.length === 0) return <p className="mt-2 text-ink-2">Nothing was sent yet.</p>;
  return (
    <table className="mt-2 w-full text-[12.5px]">
      <thead>
        <tr className="border-b border-rule text-left text-ink-2">
          <th className="font-normal">Time</th>
          <th className="font-normal">Incident</th>
          <th className="font-normal">State</th>
          <th className="font-normal">Last answer</th>
          <th className="font-normal">
            <span className="sr-only">Action</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {deliveries.data.map((one) => (
          <tr key={one.id} className="border-b border-dotted border-rule">
            <td title={exactTime(one.at)}>{shortTime(one.at, new Date())}</td>
            <td>
              <Link className="part" to={`/incidents/${one.incident}`}>
                {one.incident}
              </Link>
            </td>
            <td>
              {one.state}, {one.attempts} {one.attempts === 1 ? 'attempt' : 'attempts'}
              {one.nextAt && `, next ${shortTime(one.nextAt, new Date())}`}
            </td>
            <td>{one.answer === null ? 'none yet' : (CALL_WORDS[one.answer] ?? `HTTP ${one.answer}`)}</td>
            <td className="text-right">
              {one.state !== 'delivered' && (
                <button type="button" className="part" onClick={() => again.mutate(one.id)}>
                  Send again
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
