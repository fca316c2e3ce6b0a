import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useDeletePersonData, usePersonData } from '../../data/retention';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { PERSON_PART_WORDS, STAY_WORDS } from '../../wording/retention';

/** What is kept about one person, and deleting it on their request. */
export function PersonDataSection() {
  const [typed, setTyped] = useState('');
  const [address, setAddress] = useState('');
  const data = usePersonData(address);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setAddress(typed.trim().toLowerCase());
  };
  return (
    <section aria-labelledby="person-data" className="mb-6 max-w-5xl">
      <h2 id="person-data" className="mb-1">
        Data about one person{' '}
      </h2>
      <form onSubmit={submit} aria-label="Person" className="mb-3 flex items-end gap-2">
        <TextField
          label="Mail address"
          type="email"
          required
          className="w-80"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit">Show</Button>
      </form>
      {address !== '' && data.isPending && <Loading what="the data" />}
      {data.isError && <Notice look="stop">{errorSentence(data.error)}</Notice>}
      {data.data && data.data.parts.length === 0 && (
        <p className="text-ink-2">There is no data about {data.data.address}.</p>
      )}
      {data.data && data.data.parts.length > 0 && (
        <>
          <table className="mb-3 text-[13px]">
            <caption className="mb-1 text-left font-semibold">{data.data.name}</caption>
            <tbody>
              {data.data.parts.map(({ what, count, stays }) => (
                <tr key={what} className="border-t border-rule">
                  <td className="py-1 pr-6">{PERSON_PART_WORDS[what]}</td>
                  <td className="pr-6 text-right tabular-nums">{count.toLocaleString('en')}</td>
                  <td className="text-ink-2">{stays ? STAY_WORDS[stays] : 'can be deleted'}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Deletion
            key={data.data.address}
            address={data.data.address}
            refusal={
              data.data.held
                ? 'This person is under a legal hold'
                : data.data.parts.every(({ stays }) => stays !== null)
                  ? 'None of it can be deleted'
                  : undefined
            }
          />
        </>
      )}
    </section>
  );
}

function Deletion({ address, refusal }: { readonly address: string; readonly refusal: string | undefined }) {
  const remove = useDeletePersonData();
  const [isAsked, setAsked] = useState(false);
  const [reason, setReason] = useState('');
  if (!isAsked)
    return (
      <>
        <Button look="stop" refusal={refusal} onClick={() => setAsked(true)}>
          Delete data …
        </Button>
        {remove.isSuccess && <p role="status">The data was deleted. The list shows what stays.</p>}
      </>
    );
  return (
    <form
      aria-label="Delete"
      className="max-w-xl"
      onSubmit={(event) => {
        event.preventDefault();
        remove.mutate(
          { address, reason },
          { onSuccess: () => (toast('Deleted.'), setAsked(false), setReason('')) },
        );
      }}
    >
      <Notice look="stop">
        <p className="mb-1.5">
          Data marked “can be deleted” is permanently deleted, also from figures and reports. The audit trail
          records your name and reason.
        </p>
        <TextField
          label="Reason"
          maxLength={500}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <span className="mt-2 flex gap-2">
          <Button
            look="stop"
            type="submit"
            refusal={
              reason.trim().length < 10
                ? 'Enter a reason of at least 10 characters'
                : remove.isPending
                  ? 'Deleting …'
                  : undefined
            }
          >
            Delete permanently
          </Button>
          <Button onClick={() => setAsked(false)}>Cancel</Button>
        </span>
      </Notice>
      {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
    </form>
  );
}
