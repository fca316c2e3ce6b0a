import type { DirectoryServerRequest, DirectoryServerView } from '@lantern/contracts/directory';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useCompare, useRemoveServer, useSaveServer } from '../../data/directory';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';

interface Props {
  readonly server: DirectoryServerView | null;
  readonly compared: (id: string) => void;
}

/** How the directory server is reached, and reading it. */
export function ServerForm({ server, compared }: Props) {
  const save = useSaveServer();
  const remove = useRemoveServer();
  const compare = useCompare();
  const [fields, setFields] = useState({
    address: server?.address ?? 'ldaps://',
    startTls: server?.startTls ?? false,
    authority: server?.authority ?? '',
    user: server?.user ?? '',
    password: '',
    base: server?.base ?? '',
    filter: server?.filter ?? '(objectClass=*)',
    whole: server?.whole ?? true,
    nightly: server?.nightly ?? false,
  });
  const text = (name: 'address' | 'authority' | 'user' | 'password' | 'base' | 'filter') => ({
    value: fields[name],
    onChange: (event: { readonly target: { readonly value: string } }) =>
      setFields({ ...fields, [name]: event.target.value }),
  });
  const tick = (name: 'startTls' | 'whole' | 'nightly') => ({
    type: 'checkbox',
    checked: fields[name],
    onChange: (event: { readonly target: { readonly checked: boolean } }) =>
      setFields({ ...fields, [name]: event.target.checked }),
  });
  const plain = fields.address.toLowerCase().startsWith('ldap:') && !fields.startTls;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { password, ...rest } = fields;
    const request: DirectoryServerRequest = { ...rest, ...(password ? { password } : {}) };
    save.mutate(request, {
      onSuccess: () => {
        toast('Directory server saved.');
        compare.mutate({ whole: fields.whole }, { onSuccess: (found) => compared(found.id) });
      },
    });
  };
  const busy = save.isPending || compare.isPending;
  return (
    <form onSubmit={submit} aria-label="Directory server" className="grid max-w-2xl grid-cols-2 gap-3">
      <TextField
        label="Address"
        required
        placeholder="ldaps://directory.example"
        hint={plain ? 'This connection is not encrypted. Others can read the password.' : undefined}
        {...text('address')}
      />
      <TextField label="Search from" required placeholder="dc=example,dc=org" {...text('base')} />
      <TextField label="Sign in as" placeholder="cn=reader,dc=example,dc=org" {...text('user')} />
      <TextField
        label="Password"
        type="password"
        autoComplete="new-password"
        hint={server?.hasPassword ? 'One is saved. Leave this empty to keep it.' : undefined}
        {...text('password')}
      />
      <TextField label="Filter" required className="col-span-2" {...text('filter')} />
      <details className="col-span-2">
        <summary className="cursor-pointer text-ink-2">Encryption</summary>
        <label className="my-2 flex items-center gap-2">
          <input {...tick('startTls')} />
          Use StartTLS
        </label>
        <TextArea
          label="Certificate of the certificate authority"
          mono
          rows={4}
          hint="PEM. Leave it empty to use the authorities of this system."
          {...text('authority')}
        />
      </details>
      <div className="col-span-2 flex flex-col gap-1.5">
        <label className="flex items-center gap-2">
          <input {...tick('whole')} />
          Remove people who are no longer on the server
        </label>
        <label className="flex items-center gap-2">
          <input {...tick('nightly')} />
          Read the server every night. If many people would be removed, the changes wait for you
        </label>
      </div>
      {(save.isError || compare.isError || remove.isError) && (
        <div className="col-span-2">
          <Notice look="stop">{errorSentence(save.error ?? compare.error ?? remove.error)}</Notice>
        </div>
      )}
      {server?.lastOutcome && (
        <p className="col-span-2 text-[12.5px] text-ink-2">
          Last nightly read {server.lastRead ? shortTime(server.lastRead, new Date()) : ''}:{' '}
          {server.lastOutcome}
        </p>
      )}
      <div className="col-span-2 flex flex-wrap gap-2">
        <Button look="main" type="submit" refusal={busy ? 'Reading the server …' : undefined}>
          Save and compare
        </Button>
        {server && (
          <AskFirst
            name="Remove server"
            effect="Its address and password are deleted. The people who came from it stay."
            does="Remove server"
            onDo={() => remove.mutate(undefined, { onSuccess: () => toast('Directory server removed.') })}
          />
        )}
      </div>
    </form>
  );
}
