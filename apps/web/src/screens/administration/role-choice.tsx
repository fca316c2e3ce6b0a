import { ROLE_IDS } from '@lantern/contracts';
import { useOwnRoles } from '../../data/access';
import { ROLE_WORDS } from '../../wording/roles';

interface Props {
  /** Names of roles that ship, and ids of the organisation's own. */
  readonly roles: readonly string[];
  readonly onChange: (roles: readonly string[]) => void;
}

/** Roles of an account: those that ship, and the organisation's own. */
export function RoleChoice({ roles, onChange }: Props) {
  const own = useOwnRoles();
  const all = [
    ...ROLE_IDS.map((id) => ({ id: id as string, ...ROLE_WORDS[id] })),
    ...(own.data ?? []).map(({ id, name, description }) => ({ id, name, does: description })),
  ];
  return (
    <fieldset className="grid gap-x-6 gap-y-1 md:grid-cols-2">
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Roles</legend>
      {all.map(({ id, name, does }) => (
        <label key={id} className="flex min-h-7 items-baseline gap-2">
          <input
            type="checkbox"
            checked={roles.includes(id)}
            onChange={(event) =>
              onChange(event.target.checked ? [...roles, id] : roles.filter((each) => each !== id))
            }
          />
          <span>
            {name}
            <span className="text-[12.5px] text-ink-2"> {does}</span>
          </span>
        </label>
      ))}
    </fieldset>
  );
}

/** Names of roles, for lines of text. */
export function useRoleNames(): (id: string) => string {
  const own = useOwnRoles();
  return (id) =>
    ROLE_IDS.flatMap((role) => (role === id ? [ROLE_WORDS[role].name] : []))[0] ??
    own.data?.find((role) => role.id === id)?.name ??
    'a role';
}
