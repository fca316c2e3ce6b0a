import type { RoleLimits } from '@lantern/contracts/access';
import { CHANNELS } from '@lantern/core/movement';
import { SEVERITIES } from '@lantern/core/policy';
import { useLimitChoices } from '../../data/access';
import { usePolicies } from '../../data/policies';
import { ChosenTerms } from '../../ui/chosen-terms';
import { CHANNEL_WORDS, SEVERITY_WORDS } from '../../wording/terms';

interface Props {
  readonly limits: RoleLimits;
  readonly onChange: (limits: RoleLimits) => void;
}

/** What a role is limited to. An incident has to meet every limit that is set. */
export function LimitFields({ limits, onChange }: Props) {
  const choices = useLimitChoices();
  const policies = usePolicies();
  const named = (policies.data ?? []).map(({ policy }) => ({ id: policy.id, name: policy.name }));
  const nameOf = (id: string) => named.find((policy) => policy.id === id)?.name ?? 'a removed policy';
  return (
    <div className="mb-3 grid gap-x-6 gap-y-3 md:grid-cols-2">
      <ChosenTerms
        label="Departments"
        none="All departments"
        placeholder="Type a department"
        terms={limits.departments}
        words={(name) => name}
        suggest={(typed) =>
          like(typed, choices.data?.departments ?? [], limits.departments).map((name) => ({
            term: name,
            words: name,
          }))
        }
        onChange={(departments) => onChange({ ...limits, departments: [...departments] })}
      />
      <ChosenTerms
        label="Policies"
        none="All policies"
        placeholder="Type the name of a policy"
        terms={limits.policies}
        words={nameOf}
        suggest={(typed) =>
          named
            .filter(({ id, name }) => isLike(typed, name) && !limits.policies.includes(id))
            .map(({ id, name }) => ({ term: id, words: name }))
        }
        onChange={(next) => onChange({ ...limits, policies: [...next] })}
      />
      <Some
        label="Channels"
        none="None selected: all channels"
        all={CHANNELS}
        chosen={limits.channels}
        words={CHANNEL_WORDS}
        onChange={(channels) => onChange({ ...limits, channels })}
      />
      <Some
        label="Severities"
        none="None selected: all severities"
        all={SEVERITIES}
        chosen={limits.severities}
        words={SEVERITY_WORDS}
        onChange={(severities) => onChange({ ...limits, severities })}
      />
      <label className="flex min-h-7 items-baseline gap-2">
        <input
          type="checkbox"
          checked={limits.ownTeam}
          onChange={(event) => onChange({ ...limits, ownTeam: event.target.checked })}
        />
        <span>
          People who report to the holder
          <span className="text-[12.5px] text-ink-2"> (manager in the directory)</span>
        </span>
      </label>
      <label className="flex min-h-7 items-baseline gap-2">
        <input
          type="checkbox"
          checked={limits.hidesNames === true}
          onChange={(event) => onChange({ ...limits, hidesNames: event.target.checked })}
        />
        <span>
          Hide names of people
          <span className="text-[12.5px] text-ink-2">
            {' '}
            (a code for each person, until values of an incident are shown with a reason)
          </span>
        </span>
      </label>
    </div>
  );
}

interface SomeProps<Term extends string> {
  readonly label: string;
  readonly none: string;
  readonly all: readonly Term[];
  readonly chosen: readonly Term[];
  readonly words: Readonly<Record<Term, string>>;
  readonly onChange: (chosen: Term[]) => void;
}

function Some<Term extends string>({ label, none, all, chosen, words, onChange }: SomeProps<Term>) {
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">{label}</legend>
      {all.map((term) => (
        <label key={term} className="mr-4 inline-flex min-h-6 items-baseline gap-2">
          <input
            type="checkbox"
            checked={chosen.includes(term)}
            onChange={(event) =>
              onChange(all.filter((each) => (each === term ? event.target.checked : chosen.includes(each))))
            }
          />
          {words[term]}
        </label>
      ))}
      <p className="text-[12.5px] text-ink-2">{none}.</p>
    </fieldset>
  );
}

const isLike = (typed: string, name: string): boolean =>
  name.toLowerCase().includes(typed.trim().toLowerCase());

const like = (typed: string, all: readonly string[], but: readonly string[]): readonly string[] =>
  all.filter((name) => isLike(typed, name) && !but.includes(name));
