import { MAX_APPROVAL_DAYS, namesFor } from '@lantern/core/policy';
import { NumberField } from '../../ui/number-field';

/** Terms of a standing approval, as they are chosen. */
export interface AgainTerms {
  readonly days: number;
  readonly to: readonly string[];
}

const USUAL_DAYS = 14;

interface Props {
  readonly destinations: readonly string[];
  readonly terms: AgainTerms | null;
  readonly onChange: (terms: AgainTerms | null) => void;
}

/** Chooses whether the same stays allowed, for how many days, and to which destinations. */
export function AllowAgain({ destinations, terms, onChange }: Props) {
  return (
    <div className="flex w-full flex-col gap-1.5 text-[13px]">
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={terms !== null}
          onChange={(event) => onChange(event.target.checked ? { days: USUAL_DAYS, to: destinations } : null)}
        />
        Also allow the same for this person from now on
      </label>
      {terms && (
        <div className="flex flex-wrap items-start gap-4 pl-6">
          <div className="w-32">
            <NumberField
              label="For how many days"
              hint={`${MAX_APPROVAL_DAYS} at most`}
              value={terms.days}
              onChange={(days) => onChange({ ...terms, days })}
            />
          </div>
          {destinations.length > 0 && (
            <fieldset>
              <legend className="text-ink-2">To</legend>
              {destinations.map((destination) => (
                <Destination key={destination} name={destination} terms={terms} onChange={onChange} />
              ))}
            </fieldset>
          )}
          <p className="max-w-sm text-[12.5px] text-ink-2">
            This applies to the rules that stopped this movement, on this channel only. It takes effect at
            once. You can end it under Standing approvals.
          </p>
        </div>
      )}
    </div>
  );
}

function Destination({
  name,
  terms,
  onChange,
}: {
  readonly name: string;
  readonly terms: AgainTerms;
  readonly onChange: (terms: AgainTerms) => void;
}) {
  const domain = namesFor(name)[1] ?? null;
  const without = terms.to.filter((each) => each !== name && each !== domain);
  const chosen = terms.to.includes(name) ? name : domain && terms.to.includes(domain) ? domain : '';
  const choices = [
    [name, name],
    ...(domain ? [[domain, `anyone at ${domain.slice(1)}`]] : []),
    ['', 'not allowed again'],
  ] as const;
  return (
    <select
      aria-label={`What stays allowed to ${name}`}
      className="field mb-1 block !py-0.5 text-[12.5px]"
      value={chosen}
      onChange={(event) => {
        const { value } = event.target;
        onChange({ ...terms, to: value === '' ? without : [...without, value] });
      }}
    >
      {choices.map(([value, label]) => (
        <option key={value} value={value}>
          {label}
        </option>
      ))}
    </select>
  );
}

/** What is missing before the terms can be sent; null for nothing. */
export function missingIn(terms: AgainTerms | null, destinations: readonly string[]): string | null {
  if (!terms) return null;
  if (!Number.isInteger(terms.days) || terms.days < 1 || terms.days > MAX_APPROVAL_DAYS)
    return `Choose 1 to ${MAX_APPROVAL_DAYS} days.`;
  return destinations.length > 0 && terms.to.length === 0
    ? 'Choose at least one destination that stays allowed.'
    : null;
}
