import { ROLE_IDS, type Role } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useFactorRoles, useSetFactorRoles } from '../../data/accounts';
import { useSession } from '../../data/session';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { ROLE_WORDS } from '../../wording/roles';

/** Which roles need a second factor. */
export function FactorRoles() {
  const demanded = useFactorRoles();
  if (!demanded.data) return null;
  return (
    <Choice key={demanded.data.roles.join(' ')} saved={demanded.data.roles} without={demanded.data.without} />
  );
}

function Choice({ saved, without }: { readonly saved: readonly Role[]; readonly without: number }) {
  const set = useSetFactorRoles();
  const { data: session } = useSession();
  const [roles, setRoles] = useState(saved);
  const unchanged = ROLE_IDS.every((role) => roles.includes(role) === saved.includes(role));
  return (
    <section aria-labelledby="factor-roles" className="mb-7 max-w-3xl">
      <h2 id="factor-roles" className="mb-1">
        Second factor
      </h2>
      <p className="mb-2 text-ink-2">
        Accounts with these roles must set up a second factor before they can do anything else. This takes
        effect at once.
        {saved.length > 0 &&
          without > 0 &&
          ` ${without} ${without === 1 ? 'account has' : 'accounts have'} none yet.`}
        {session?.account.secondFactor === false && ' Your own account has none.'}
      </p>
      <fieldset className="mb-2 flex flex-wrap gap-x-5 gap-y-1">
        <legend className="sr-only">Roles that need a second factor</legend>
        {ROLE_IDS.map((role) => (
          <label key={role} className="flex min-h-7 items-center gap-2">
            <input
              type="checkbox"
              checked={roles.includes(role)}
              onChange={(event) =>
                setRoles(event.target.checked ? [...roles, role] : roles.filter((each) => each !== role))
              }
            />
            {ROLE_WORDS[role].name}
          </label>
        ))}
      </fieldset>
      <Button
        refusal={unchanged ? 'Nothing has changed' : undefined}
        onClick={() => set.mutate(roles, { onSuccess: () => toast('Saved.') })}
      >
        Save second factor roles
      </Button>
      {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
    </section>
  );
}
