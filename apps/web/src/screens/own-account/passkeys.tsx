import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useAddPasskey, usePasskeys, useRemovePasskey } from '../../data/passkeys';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { RecoveryCodes } from './recovery-codes';

/** Devices that prove who is there. */
export function Passkeys() {
  const passkeys = usePasskeys();
  const remove = useRemovePasskey();
  const [codes, setCodes] = useState<readonly string[]>([]);
  const here = passkeys.data?.address === window.location.origin;
  return (
    <section aria-labelledby="passkeys" className="mb-8 max-w-2xl">
      <h2 id="passkeys" className="mb-1">
        Passkeys
      </h2>
      <p className="mb-2 text-[13px] text-ink-2">
        A passkey on your device replaces your password and code. It also counts as a second factor.
      </p>
      {codes.length > 0 && (
        <RecoveryCodes codes={codes} close={() => setCodes([])}>
          Your passkey is saved. Copy these recovery codes now. They are not shown again. Each works once,
          with your password, if you do not have your passkey.
        </RecoveryCodes>
      )}
      {passkeys.isPending && <Loading what="your passkeys" />}
      {passkeys.isError && <Notice look="stop">{errorSentence(passkeys.error)}</Notice>}
      {passkeys.data?.passkeys.map(({ id, name, createdAt, lastUsed }) => (
        <div key={id} className="flex flex-wrap items-baseline gap-x-3 border-t border-rule py-1.5">
          <span className="font-semibold">{name}</span>
          <span className="text-ink-2">
            added {shortTime(createdAt, new Date())},{' '}
            {lastUsed ? `last used ${shortTime(lastUsed, new Date())}` : 'never used'}
          </span>
          <span className="ml-auto">
            <AskFirst
              name={`Remove ${name}`}
              effect={`The passkey ${name} no longer signs you in. Remove it on the device as well.`}
              does="Remove passkey"
              onDo={() => remove.mutate(id, { onSuccess: () => void toast(`${name} is removed.`) })}
            />
          </span>
        </div>
      ))}
      {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
      {passkeys.data &&
        (here ? (
          <AddPasskey onCodes={setCodes} />
        ) : (
          <p className="text-ink-2">
            Passkeys work only at{' '}
            <a className="part" href={`${passkeys.data.address}/account`}>
              {passkeys.data.address}
            </a>
            , not at this address. Open the workbench there to add one.
          </p>
        ))}
    </section>
  );
}

function AddPasskey({ onCodes }: { readonly onCodes: (codes: readonly string[]) => void }) {
  const add = useAddPasskey();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(
      { name, password },
      {
        onSuccess: ({ codes }) => {
          onCodes(codes);
          toast(`${name} is added.`);
          setName('');
          setPassword('');
        },
      },
    );
  };
  return (
    <form onSubmit={submit} aria-label="New passkey" className="mt-2 flex flex-wrap items-end gap-2">
      <TextField
        label="Name of the device"
        className="w-52"
        required
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <TextField
        label="Present password"
        className="w-52"
        type="password"
        autoComplete="current-password"
        required
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      <Button type="submit" disabled={add.isPending}>
        {add.isPending ? 'Waiting for the device …' : 'Add passkey'}
      </Button>
      {add.isError && <Notice look="stop">{errorSentence(add.error)}</Notice>}
    </form>
  );
}
