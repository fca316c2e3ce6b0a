import type { AccountView, InvitationView } from '@lantern/contracts';
import { type FormEvent, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { useAccounts, useChangeAccount, useInvite, useResetAccount } from '../../data/accounts';
import { useMay, useSession } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { ACCOUNT_STATE_WORDS } from '../../wording/roles';
import { exactTime, shortTime } from '../../wording/times';
import { AccountPlaces } from './account-places';
import { FactorRoles } from './factor-roles';
import { TwoPeople } from './two-people';
import { RoleChoice, useRoleNames } from './role-choice';

/** Who may sign in, and what they may do. */
export function AccountsPage() {
  const may = useMay('accounts.manage');
  const accounts = useAccounts();
  const [made, setMade] = useState<InvitationView | null>(null);
  const [open, setOpen] = useState<string | null>(null);
  if (!may)
    return (
      <div className="px-7 py-4">
        <h1 className="mb-2">Accounts</h1>
        <Notice>Your account may not manage accounts. An administrator can.</Notice>
      </div>
    );
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <AccountPlaces />
      <h1 className="mb-1">Accounts</h1>
      <p className="mb-4 max-w-3xl text-ink-2">
        A role is a set of permissions; an account may have several. Changing roles or disabling an account
        ends its sessions.
      </p>
      {accounts.isPending && <Loading what="the accounts" />}
      {accounts.isError && <Notice look="stop">{errorSentence(accounts.error)}</Notice>}
      {made && <LinkNotice made={made} close={() => setMade(null)} />}
      {accounts.data && (
        <table className="mb-6 w-full max-w-5xl text-[13px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="py-1 font-normal">account</th>
              <th className="font-normal">roles</th>
              <th className="font-normal">state</th>
              <th className="pr-3 font-normal whitespace-nowrap">last sign-in</th>
              <th className="pr-3 font-normal">sessions</th>
              <th className="font-normal">
                <span className="sr-only">act</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {people(accounts.data).map((account) => (
              <AccountRow
                key={account.id}
                account={account}
                isOpen={open === account.id}
                toggle={() => setOpen(open === account.id ? null : account.id)}
                onLink={setMade}
              />
            ))}
          </tbody>
        </table>
      )}
      <Invite onMade={setMade} />
      <FactorRoles />
      <TwoPeople />
      <RoleList />
    </div>
  );
}

const people = (accounts: readonly AccountView[]): readonly AccountView[] =>
  accounts.filter(({ kind }) => kind === 'person');

function LinkNotice({ made, close }: { readonly made: InvitationView; readonly close: () => void }) {
  const address = `${window.location.origin}${made.path}`;
  const place = useRef<HTMLDivElement>(null);
  // It stands on top of the page, and whoever made it may be at its end.
  useEffect(() => {
    place.current?.scrollIntoView({ block: 'center' });
    place.current?.focus();
  }, [made]);
  return (
    <div ref={place} tabIndex={-1} className="mb-4 max-w-3xl outline-none">
      <Notice look="go">
        <p className="mb-1">
          Link for {made.account.name}, shown only now. It works once, until{' '}
          <time title={exactTime(made.expiresAt)}>{shortTime(made.expiresAt, new Date())}</time>. Send it to{' '}
          {made.account.email}.
        </p>
        <code className="mb-2 block break-all select-all">{address}</code>
        <span className="flex gap-2">
          <Button
            onClick={() =>
              void navigator.clipboard.writeText(address).then(
                () => toast('Link copied.'),
                () => toast('The browser did not copy the link. Select and copy it.'),
              )
            }
          >
            Copy link
          </Button>
          <Button look="quiet" onClick={close}>
            Hide link
          </Button>
        </span>
      </Notice>
    </div>
  );
}

interface RowProps {
  readonly account: AccountView;
  readonly isOpen: boolean;
  readonly toggle: () => void;
  readonly onLink: (made: InvitationView) => void;
}

function AccountRow({ account, isOpen, toggle, onLink }: RowProps) {
  const { name, email, roles, state, lastSignIn, sessions, permissions } = account;
  const nameOf = useRoleNames();
  const words = roles.map(nameOf).join(', ');
  return (
    <>
      <tr className="border-t border-rule align-baseline">
        <td className="py-1.5 pr-3">
          <span className="font-semibold">{name}</span>
          <span className="block text-[12.5px] text-ink-2">{email}</span>
        </td>
        <td className="pr-3">
          {words === '' ? `${permissions.length} single permissions` : words}
          {account.seesSilent && <span className="block text-[12.5px] text-ink-2">sees silent rules</span>}
        </td>
        <td className="pr-3">
          {ACCOUNT_STATE_WORDS[state]}
          {account.signOn && <span className="block text-[12.5px] text-ink-2">single sign-on</span>}
          {account.secondFactor && <span className="block text-[12.5px] text-ink-2">second factor</span>}
        </td>
        <td className="pr-3" title={lastSignIn ? exactTime(lastSignIn) : undefined}>
          {lastSignIn ? shortTime(lastSignIn, new Date()) : 'never'}
        </td>
        <td className="pr-3 tabular-nums">{sessions}</td>
        <td className="text-right">
          <Button onClick={toggle} aria-expanded={isOpen}>
            {isOpen ? 'Close' : 'Change'}
            <span className="sr-only"> {name}</span>
          </Button>
        </td>
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={6} className="bg-sunk px-3 py-3">
            <AccountEditor account={account} done={toggle} onLink={onLink} />
          </td>
        </tr>
      )}
    </>
  );
}

function AccountEditor({
  account,
  done,
  onLink,
}: {
  readonly account: AccountView;
  readonly done: () => void;
  readonly onLink: (made: InvitationView) => void;
}) {
  const { id, name, state, permissions } = account;
  const { data: session } = useSession();
  const change = useChangeAccount();
  const reset = useResetAccount();
  const [roles, setRoles] = useState<readonly string[]>(account.roles);
  const [seesSilent, setSeesSilent] = useState(account.seesSilent);
  const isOwn = session?.account.id === id;
  const disabled = state === 'disabled';
  const save = (over: { readonly disabled: boolean }, said: string) =>
    change.mutate({ id, roles: [...roles], seesSilent, ...over }, { onSuccess: () => (toast(said), done()) });
  return (
    <div className="flex flex-col gap-3">
      {account.roles.length === 0 && permissions.length > 0 && (
        <p className="text-[12.5px] text-ink-2">
          This account holds {permissions.length} single permissions from before there were roles. Saving
          roles replaces them.
        </p>
      )}
      {account.signOn && (
        <p className="text-[12.5px] text-ink-2">
          The groups at the identity provider set the roles of this account at each sign-in.
        </p>
      )}
      <RoleChoice roles={roles} onChange={setRoles} />
      <label className="flex min-h-7 items-center gap-2">
        <input
          type="checkbox"
          checked={seesSilent}
          onChange={(event) => setSeesSilent(event.target.checked)}
        />
        Sees silent rules and their incidents
      </label>
      <div className="flex flex-wrap gap-2">
        <Button
          look="main"
          onClick={() => save({ disabled }, `Roles of ${name} saved. Their sessions ended.`)}
        >
          Save roles
        </Button>
        <Button
          onClick={() => reset.mutate(id, { onSuccess: (made) => (onLink(made), done()) })}
          refusal={
            isOwn
              ? 'Change your own password under Your account'
              : disabled
                ? 'Enable the account first'
                : undefined
          }
        >
          {state === 'invited' ? 'Create new link' : 'Reset password and second factor'}
        </Button>
        <Button
          look={disabled ? 'plain' : 'stop'}
          onClick={() =>
            save(
              { disabled: !disabled },
              disabled ? `${name} can sign in again.` : `${name} is disabled and signed out.`,
            )
          }
          refusal={isOwn && !disabled ? 'Another administrator can disable your account' : undefined}
        >
          {disabled ? 'Enable account' : 'Disable account'}
        </Button>
      </div>
      {change.isError && <Notice look="stop">{errorSentence(change.error)}</Notice>}
      {reset.isError && <Notice look="stop">{errorSentence(reset.error)}</Notice>}
    </div>
  );
}

function Invite({ onMade }: { readonly onMade: (made: InvitationView) => void }) {
  const invite = useInvite();
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const [roles, setRoles] = useState<readonly string[]>([]);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    invite.mutate(
      { name, email, roles: [...roles] },
      { onSuccess: (made) => (onMade(made), setName(''), setEmail(''), setRoles([])) },
    );
  };
  return (
    <section aria-labelledby="invite" className="mb-7 max-w-3xl">
      <h2 id="invite" className="mb-2">
        Invite somebody
      </h2>
      <form onSubmit={submit} aria-label="Invite somebody" className="flex flex-col gap-3">
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Name"
            required
            minLength={2}
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <TextField
            label="Mail address"
            type="email"
            required
            maxLength={254}
            value={email}
            onChange={(event) => setEmail(event.target.value)}
          />
        </div>
        <RoleChoice roles={roles} onChange={setRoles} />
        {invite.isError && <Notice look="stop">{errorSentence(invite.error)}</Notice>}
        <div>
          <Button look="main" type="submit" refusal={roles.length === 0 ? 'Choose a role first' : undefined}>
            Create invitation
          </Button>
        </div>
      </form>
    </section>
  );
}

function RoleList() {
  return (
    <p className="max-w-3xl text-[12.5px] text-ink-2">
      Nobody publishes, decides and manages accounts by one role alone. Give somebody two roles where your
      organisation is small.
    </p>
  );
}
