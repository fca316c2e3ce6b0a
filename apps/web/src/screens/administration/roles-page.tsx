import { ROLE_IDS, ROLES } from '@lantern/contracts';
import type { OwnRoleView } from '@lantern/contracts/access';
import { useState } from 'react';
import { toast } from 'sonner';
import { useOwnRoles, useRemoveRole } from '../../data/access';
import { usePolicies } from '../../data/policies';
import { useMay } from '../../data/session';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { limitsLine, PERMISSION_WORDS } from '../../wording/permissions';
import { ROLE_WORDS } from '../../wording/roles';
import { shortTime } from '../../wording/times';
import { AccountPlaces } from './account-places';
import { emptyRole, RoleForm } from './role-form';

/** Roles that ship, and the organisation's own. */
export function RolesPage() {
  const may = useMay('accounts.manage');
  const roles = useOwnRoles();
  const [open, setOpen] = useState<string | null>(null);
  if (!may)
    return (
      <div className="px-7 py-4">
        <h1 className="mb-2">Roles</h1>
        <Notice>Your account may not manage roles. An administrator can.</Notice>
      </div>
    );
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <AccountPlaces />
      <h1 className="mb-1">Roles</h1>
      <section aria-labelledby="own-roles" className="mb-7 max-w-5xl">
        <div className="mb-1 flex items-baseline justify-between gap-4">
          <h2 id="own-roles">Your own roles</h2>
          <Button look="main" onClick={() => setOpen('new')}>
            Add role
          </Button>
        </div>
        <p className="mb-2 max-w-3xl text-ink-2">
          You can limit a role. Its holders then see and decide only the incidents it covers, in every list,
          chart and export.
        </p>
        {roles.isPending && <Loading what="your roles" />}
        {roles.isError && <Notice look="stop">{errorSentence(roles.error)}</Notice>}
        {roles.data?.length === 0 && open !== 'new' && (
          <p className="text-ink-2">No roles of your own yet.</p>
        )}
        {open === 'new' && <RoleForm role={emptyRole()} id={null} done={() => setOpen(null)} />}
        {roles.data?.map((role) => (
          <OwnRole
            key={role.id}
            role={role}
            isOpen={open === role.id}
            toggle={() => setOpen(open === role.id ? null : role.id)}
          />
        ))}
      </section>
      <ShippedRoles />
    </div>
  );
}

interface OwnRoleProps {
  readonly role: OwnRoleView;
  readonly isOpen: boolean;
  readonly toggle: () => void;
}

function OwnRole({ role, isOpen, toggle }: OwnRoleProps) {
  const remove = useRemoveRole();
  const policies = usePolicies();
  const nameOf = (id: string) =>
    policies.data?.find(({ policy }) => policy.id === id)?.policy.name ?? 'a removed policy';
  const { id, name, description, permissions, limits, holders } = role;
  return (
    <article aria-label={name} className="border-t border-rule py-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h3 className="text-[13px] font-semibold">{name}</h3>
        <span className="text-ink-2">{description}</span>
        <span className="ml-auto flex gap-2">
          <Button onClick={toggle} aria-expanded={isOpen}>
            {isOpen ? 'Close' : 'Change'}
            <span className="sr-only"> {name}</span>
          </Button>
          {holders.length > 0 ? (
            <Button look="quiet" refusal="Give its holders another role first">
              Remove<span className="sr-only"> {name}</span> …
            </Button>
          ) : (
            <AskFirst
              name={`Remove ${name}`}
              effect={`The role ${name} is removed for good. Nobody has it.`}
              does="Remove role"
              onDo={() => remove.mutate(id, { onSuccess: () => toast(`The role ${name} is removed.`) })}
            />
          )}
        </span>
      </div>
      <p>
        <span className="text-ink-2">Covers </span>
        {limitsLine(limits, nameOf)}
        <span className="text-ink-2">. Held by </span>
        {holders.length === 0 ? 'nobody' : holders.join(', ')}
        <span className="text-ink-2">
          . Changed {shortTime(role.changedAt, new Date())} by {role.changedBy}.
        </span>
      </p>
      <p className="text-ink-2">{permissions.map((permission) => PERMISSION_WORDS[permission]).join(', ')}</p>
      {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
      {isOpen && <RoleForm role={role} id={id} done={toggle} />}
    </article>
  );
}

function ShippedRoles() {
  return (
    <section aria-labelledby="shipped-roles" className="max-w-5xl">
      <h2 id="shipped-roles" className="mb-1">
        Built-in roles
      </h2>
      <p className="mb-2 text-ink-2">
        Built-in roles cover everyone. To limit one, copy its permissions into your own role.
      </p>
      {ROLE_IDS.map((id) => (
        <details key={id} className="border-t border-rule py-1.5">
          <summary className="cursor-pointer">
            <span className="font-semibold">{ROLE_WORDS[id].name}</span>{' '}
            <span className="text-ink-2">{ROLE_WORDS[id].does}</span>
          </summary>
          <p className="mt-1 pl-4 text-ink-2">
            {ROLES[id].map((permission) => PERMISSION_WORDS[permission]).join(', ')}
          </p>
        </details>
      ))}
    </section>
  );
}
