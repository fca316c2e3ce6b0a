import type { AccountView } from '@lantern/contracts';
import { MOST_KEY_DAYS, type NewServiceKeyView, type ServiceKeyView } from '@lantern/contracts/access';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useAddService, useMakeKey, useServiceKeys, useWithdrawKey } from '../../data/access';
import { useAccounts, useChangeAccount } from '../../data/accounts';
import { useMay } from '../../data/session';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { exactTime, shortTime } from '../../wording/times';
import { AccountPlaces } from './account-places';
import { RoleChoice, useRoleNames } from './role-choice';

/** Programs that call the interface in their own name. */
export function ProgramsPage() {
  const may = useMay('accounts.manage');
  const accounts = useAccounts();
  const keys = useServiceKeys();
  const [made, setMade] = useState<NewServiceKeyView | null>(null);
  if (!may)
    return (
      <div className="px-7 py-4">
        <h1 className="mb-2">Service accounts</h1>
        <Notice>Your account cannot manage service accounts. An administrator can.</Notice>
      </div>
    );
  const services = accounts.data?.filter(({ kind }) => kind === 'service') ?? [];
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <AccountPlaces />
      <h1 className="mb-1">Service accounts</h1>
      <p className="mb-4 max-w-3xl text-ink-2">
        A program calls the API with a key in the header <code>Authorization: Bearer</code>. Its roles and
        their limits say what it can do. It cannot manage accounts. The audit trail records it by name.
      </p>
      {(accounts.isPending || keys.isPending) && <Loading what="the service accounts" />}
      {accounts.isError && <Notice look="stop">{errorSentence(accounts.error)}</Notice>}
      {keys.isError && <Notice look="stop">{errorSentence(keys.error)}</Notice>}
      {made && <KeyNotice made={made} close={() => setMade(null)} />}
      {accounts.data && services.length === 0 && <p className="mb-4 text-ink-2">No service accounts yet.</p>}
      <div className="mb-6 max-w-5xl">
        {services.map((account) => (
          <Service
            key={account.id}
            account={account}
            keys={keys.data?.filter(({ accountId }) => accountId === account.id) ?? []}
            onMade={setMade}
          />
        ))}
      </div>
      <AddService />
    </div>
  );
}

function KeyNotice({ made, close }: { readonly made: NewServiceKeyView; readonly close: () => void }) {
  return (
    <div className="mb-4 max-w-3xl">
      <Notice look="go">
        <p className="mb-1">
          Copy this key now. It is not shown again. It works until {exactTime(made.key.expiresAt)}.
        </p>
        <code className="mb-2 block break-all select-all">{made.secret}</code>
        <Button look="quiet" onClick={close}>
          Hide key
        </Button>
      </Notice>
    </div>
  );
}

interface ServiceProps {
  readonly account: AccountView;
  readonly keys: readonly ServiceKeyView[];
  readonly onMade: (made: NewServiceKeyView) => void;
}

function Service({ account, keys, onMade }: ServiceProps) {
  const nameOf = useRoleNames();
  const [isOpen, setOpen] = useState(false);
  const { name, email, roles, state } = account;
  return (
    <article aria-label={name} className="border-t border-rule py-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[13px] font-semibold">{name}</h2>
        <span className="text-ink-2">{email}</span>
        <span>{roles.map(nameOf).join(', ')}</span>
        {state === 'disabled' && <span className="text-stop">Disabled</span>}
        <span className="ml-auto">
          <Button onClick={() => setOpen(!isOpen)} aria-expanded={isOpen}>
            {isOpen ? 'Close' : 'Change'}
            <span className="sr-only"> {name}</span>
          </Button>
        </span>
      </div>
      {isOpen && <ServiceEditor account={account} done={() => setOpen(false)} />}
      <Keys keys={keys} />
      <MakeKey account={account} onMade={onMade} />
    </article>
  );
}

function ServiceEditor({ account, done }: { readonly account: AccountView; readonly done: () => void }) {
  const change = useChangeAccount();
  const [roles, setRoles] = useState<readonly string[]>(account.roles);
  const { id, name, seesSilent, state } = account;
  const disabled = state === 'disabled';
  const save = (over: { readonly disabled: boolean }, said: string) =>
    change.mutate({ id, roles: [...roles], seesSilent, ...over }, { onSuccess: () => (toast(said), done()) });
  return (
    <div className="my-2 flex flex-col gap-3 bg-sunk px-3 py-3">
      <RoleChoice roles={roles} onChange={setRoles} />
      <span className="flex gap-2">
        <Button
          look="main"
          refusal={roles.length === 0 ? 'Choose a role first' : undefined}
          onClick={() => save({ disabled }, `Roles of ${name} saved.`)}
        >
          Save roles
        </Button>
        <Button
          look={disabled ? 'plain' : 'stop'}
          onClick={() =>
            save({ disabled: !disabled }, disabled ? `${name} is enabled.` : `${name} is disabled.`)
          }
        >
          {disabled ? 'Enable account' : 'Disable account'}
        </Button>
      </span>
      {change.isError && <Notice look="stop">{errorSentence(change.error)}</Notice>}
    </div>
  );
}

const STATES: Readonly<Record<ServiceKeyView['state'], string>> = {
  valid: 'valid',
  expired: 'expired',
  withdrawn: 'revoked',
};

function Keys({ keys }: { readonly keys: readonly ServiceKeyView[] }) {
  const withdraw = useWithdrawKey();
  return (
    <>
      {keys.map(({ id, begins, state, createdAt, createdBy, expiresAt, lastUsed }) => (
        <div key={id} className="flex flex-wrap items-baseline gap-x-3 text-[13px]">
          <code>{begins}…</code>
          <span className={state === 'valid' ? '' : 'text-ink-2'}>
            {STATES[state]}
            {state !== 'withdrawn' &&
              `, ${state === 'expired' ? 'since' : 'until'} ${shortTime(expiresAt, new Date())}`}
          </span>
          <span className="text-ink-2">
            created {shortTime(createdAt, new Date())} by {createdBy},{' '}
            {lastUsed ? `last used ${shortTime(lastUsed, new Date())}` : 'never used'}
          </span>
          {state === 'valid' && (
            <AskFirst
              name="Revoke"
              effect={`The key ${begins}… stops working at once. Programs that use it are refused.`}
              does="Revoke key"
              onDo={() => withdraw.mutate(id, { onSuccess: () => toast('The key is revoked.') })}
            />
          )}
        </div>
      ))}
      {withdraw.isError && <Notice look="stop">{errorSentence(withdraw.error)}</Notice>}
    </>
  );
}

const DAY_MS = 86_400_000;
const day = (days: number): string => new Date(Date.now() + days * DAY_MS).toISOString().slice(0, 10);

function MakeKey({ account, onMade }: Pick<ServiceProps, 'account' | 'onMade'>) {
  const make = useMakeKey();
  const [until, setUntil] = useState(() => day(90));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate({ account: account.id, expiresAt: `${until}T23:59:59Z` }, { onSuccess: onMade });
  };
  return (
    <form
      onSubmit={submit}
      aria-label={`New key of ${account.name}`}
      className="mt-1 flex flex-wrap items-end gap-2"
    >
      <TextField
        label="New key, valid until the end of"
        type="date"
        required
        min={day(0)}
        max={day(MOST_KEY_DAYS - 1)}
        value={until}
        onChange={(event) => setUntil(event.target.value)}
      />
      <Button type="submit">Create key</Button>
      {make.isError && <Notice look="stop">{errorSentence(make.error)}</Notice>}
    </form>
  );
}

function AddService() {
  const add = useAddService();
  const [name, setName] = useState('');
  const [roles, setRoles] = useState<readonly string[]>([]);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate(
      { name, roles: [...roles] },
      { onSuccess: () => (toast(`${name} is added. Create a key for it.`), setName(''), setRoles([])) },
    );
  };
  const refusal =
    name.trim().length < 2 ? 'Enter a name' : roles.length === 0 ? 'Choose a role first' : undefined;
  return (
    <section aria-labelledby="add-service" className="max-w-3xl">
      <h2 id="add-service" className="mb-2">
        Add a service account
      </h2>
      <form onSubmit={submit} aria-label="New service account" className="flex flex-col gap-3">
        <TextField
          label="Name of the program"
          className="w-80"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <RoleChoice roles={roles} onChange={setRoles} />
        {add.isError && <Notice look="stop">{errorSentence(add.error)}</Notice>}
        <div>
          <Button look="main" type="submit" refusal={refusal}>
            Add service account
          </Button>
        </div>
      </form>
    </section>
  );
}
