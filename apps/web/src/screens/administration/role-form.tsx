import { type Permission, ROLE_IDS, ROLES } from '@lantern/contracts';
import {
  NARROWED_PERMISSIONS,
  type RoleLimits,
  type RoleRequest,
  UNTOUCHED_PERMISSIONS,
} from '@lantern/contracts/access';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useSaveRole } from '../../data/access';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { PERMISSION_GROUPS, PERMISSION_WORDS } from '../../wording/permissions';
import { ROLE_WORDS } from '../../wording/roles';
import { LimitFields } from './limit-fields';

type Draft = Pick<RoleRequest, 'name' | 'description' | 'limits' | 'needsFactor'> & {
  readonly permissions: readonly Permission[];
};

export const emptyRole = (): Draft => ({
  name: '',
  description: '',
  permissions: [],
  limits: null,
  needsFactor: false,
});

const NO_LIMITS: RoleLimits = { departments: [], policies: [], channels: [], severities: [], ownTeam: false };
const CAN_BE_LIMITED: readonly Permission[] = [...NARROWED_PERMISSIONS, ...UNTOUCHED_PERMISSIONS];

interface Props {
  readonly role: { readonly [Key in keyof Draft]: Draft[Key] };
  /** Null for a new one. */
  readonly id: string | null;
  readonly done: () => void;
}

/** Name, permissions and limits of a role. */
export function RoleForm({ role, id, done }: Props) {
  const save = useSaveRole();
  const [draft, setDraft] = useState<Draft>({
    name: role.name,
    description: role.description,
    permissions: role.permissions,
    limits: role.limits,
    needsFactor: role.needsFactor,
  });
  const { name, description, permissions, limits, needsFactor } = draft;
  const tooWide = limits ? permissions.filter((permission) => !CAN_BE_LIMITED.includes(permission)) : [];
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(
      { id, name, description, limits, needsFactor, permissions: [...permissions] },
      { onSuccess: () => (toast(`The role ${name} is saved.`), done()) },
    );
  };
  const refusal =
    name.trim().length < 2
      ? 'Enter a name'
      : permissions.length === 0
        ? 'Choose a permission'
        : tooWide.length > 0
          ? 'Remove the permissions that cannot be limited'
          : undefined;
  return (
    <form
      onSubmit={submit}
      aria-label={id === null ? 'New role' : `Role ${role.name}`}
      className="mb-3 bg-sunk px-3 py-3"
    >
      <div className="mb-3 grid max-w-3xl grid-cols-2 gap-3">
        <TextField
          label="Name"
          maxLength={60}
          value={name}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
        <TextField
          label="Description"
          maxLength={300}
          value={description}
          onChange={(event) => setDraft({ ...draft, description: event.target.value })}
        />
      </div>
      <Permissions
        chosen={permissions}
        isLimited={limits !== null}
        onChange={(next) => setDraft({ ...draft, permissions: next })}
      />
      <fieldset className="mb-3">
        <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Covers</legend>
        <label className="mr-5 inline-flex min-h-7 items-center gap-2">
          <input
            type="radio"
            checked={limits === null}
            onChange={() => setDraft({ ...draft, limits: null })}
          />
          Everyone
        </label>
        <label className="inline-flex min-h-7 items-center gap-2">
          <input
            type="radio"
            checked={limits !== null}
            onChange={() => setDraft({ ...draft, limits: limits ?? NO_LIMITS })}
          />
          Some incidents only
        </label>
      </fieldset>
      {limits && <LimitFields limits={limits} onChange={(next) => setDraft({ ...draft, limits: next })} />}
      <label className="mb-2 flex min-h-7 items-center gap-2">
        <input
          type="checkbox"
          checked={needsFactor}
          onChange={(event) => setDraft({ ...draft, needsFactor: event.target.checked })}
        />
        Its holders need a second factor
      </label>
      {tooWide.length > 0 && (
        <Notice look="stop">
          These permissions cannot be limited:{' '}
          {tooWide.map((permission) => PERMISSION_WORDS[permission]).join(', ')}. Move them to a role without
          limits.
        </Notice>
      )}
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <span className="mt-2 flex gap-2">
        <Button look="main" type="submit" refusal={refusal}>
          Save role
        </Button>
        <Button onClick={done}>Cancel</Button>
      </span>
      {id !== null && (
        <p className="mt-1 text-[12.5px] text-ink-2">
          Saving ends the sessions of everybody who has this role.
        </p>
      )}
    </form>
  );
}

interface PermissionsProps {
  readonly chosen: readonly Permission[];
  readonly isLimited: boolean;
  readonly onChange: (permissions: readonly Permission[]) => void;
}

function Permissions({ chosen, isLimited, onChange }: PermissionsProps) {
  const options = [
    { value: '', label: 'nothing' },
    ...ROLE_IDS.map((value) => ({ value: value as string, label: ROLE_WORDS[value].name })),
  ];
  const copy = (from: string) => {
    const role = ROLE_IDS.find((each) => each === from);
    if (!role) return;
    const all: readonly Permission[] = ROLES[role];
    onChange(isLimited ? all.filter((permission) => CAN_BE_LIMITED.includes(permission)) : all);
  };
  return (
    <>
      <div className="mb-2 w-64">
        <SelectField label="Copy permissions from" value="" options={options} onChange={copy} />
      </div>
      <div className="mb-3 grid gap-x-6 gap-y-3 md:grid-cols-3">
        {PERMISSION_GROUPS.map(([about, permissions]) => (
          <fieldset key={about}>
            <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">{about}</legend>
            {permissions.map((permission) => (
              <label key={permission} className="flex min-h-6 items-baseline gap-2">
                <input
                  type="checkbox"
                  checked={chosen.includes(permission)}
                  disabled={isLimited && !CAN_BE_LIMITED.includes(permission) && !chosen.includes(permission)}
                  onChange={(event) =>
                    onChange(
                      event.target.checked
                        ? [...chosen, permission]
                        : chosen.filter((each) => each !== permission),
                    )
                  }
                />
                {PERMISSION_WORDS[permission]}
              </label>
            ))}
          </fieldset>
        ))}
      </div>
    </>
  );
}
