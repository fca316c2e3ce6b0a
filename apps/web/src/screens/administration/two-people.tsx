import { TWO_PEOPLE_KINDS, type TwoPeopleKind } from '@lantern/contracts/access';
import { useState } from 'react';
import { toast } from 'sonner';
import { useSetTwoPeople, useTwoPeople } from '../../data/access';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { errorSentence, isForSecond } from '../../wording/errors';
import { TWO_PEOPLE_WORDS } from '../../wording/permissions';

/** Which acts take two people. */
export function TwoPeople() {
  const setting = useTwoPeople();
  if (!setting.data) return null;
  return <Choice key={setting.data.kinds.join(' ')} saved={setting.data.kinds} />;
}

function Choice({ saved }: { readonly saved: readonly TwoPeopleKind[] }) {
  const set = useSetTwoPeople();
  const [kinds, setKinds] = useState(saved);
  const unchanged = TWO_PEOPLE_KINDS.every((kind) => kinds.includes(kind) === saved.includes(kind));
  return (
    <section aria-labelledby="two-people" className="mb-7 max-w-3xl">
      <h2 id="two-people" className="mb-1">
        Two-person approval
      </h2>
      <p className="mb-2 text-ink-2">
        These actions take effect when a second person with the same permission repeats them. Two
        administrators must agree to turn one off.
      </p>
      <div className="mb-2 flex flex-col">
        {TWO_PEOPLE_KINDS.map((kind) => (
          <label key={kind} className="flex min-h-7 items-center gap-2">
            <input
              type="checkbox"
              checked={kinds.includes(kind)}
              onChange={(event) =>
                setKinds(event.target.checked ? [...kinds, kind] : kinds.filter((each) => each !== kind))
              }
            />
            {TWO_PEOPLE_WORDS[kind]}
          </label>
        ))}
      </div>
      {set.isError && (
        <Notice look={isForSecond(set.error) ? 'go' : 'stop'}>{errorSentence(set.error)}</Notice>
      )}
      <Button
        refusal={unchanged ? 'Nothing was changed' : undefined}
        onClick={() => set.mutate(kinds, { onSuccess: () => toast('Two-person approval is saved.') })}
      >
        Save two-person approval
      </Button>
    </section>
  );
}
