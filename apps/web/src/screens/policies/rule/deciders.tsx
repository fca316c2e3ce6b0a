import type { HoldTerms, Rule } from '@lantern/core/policy';
import { EVERYBODY } from '@lantern/core/directory';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { SelectField } from '../../../ui/field';
import { NumberField } from '../../../ui/number-field';
import { spanWords } from '../../../wording/times';

interface EditorProps {
  readonly rule: Rule;
  readonly onChange: (change: Partial<Rule>) => void;
}

/** Where a reply or a time that runs out leads. */
export const LEADS = [
  { value: 'goes-on', label: 'it goes on' },
  { value: 'stays', label: 'it stays' },
] as const;

/** Who may ask for an override of a block, and who gives it. */
export function OverrideEditor({ rule, onChange }: EditorProps) {
  const { override } = rule;
  return (
    <div className="flex flex-col gap-2.5">
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={override !== null}
          onChange={(event) =>
            onChange({ override: event.target.checked ? { mayAsk: EVERYBODY, decides: 'approvers' } : null })
          }
        />
        The person may request an override
      </label>
      {override && (
        <>
          <AudienceEditor
            audience={override.mayAsk}
            onChange={(mayAsk) => onChange({ override: { ...override, mayAsk } })}
          />
          <SelectField
            label="Who decides"
            value={override.decides}
            options={[
              { value: 'approvers', label: 'anyone who may decide overrides' },
              { value: 'authors', label: 'anyone who may edit policies' },
            ]}
            onChange={(decides) => onChange({ override: { ...override, decides } })}
          />
          <TwoPeople
            isOn={override.approvers === 2}
            onChange={(isOn) => onChange({ override: withTwo(override, isOn) })}
          />
        </>
      )}
    </div>
  );
}

/** The same terms, with a second person who must allow it or without. */
function withTwo<Terms extends { readonly approvers?: 2 }>(terms: Terms, isOn: boolean): Terms {
  const { approvers: _approvers, ...rest } = terms;
  return (isOn ? { ...rest, approvers: 2 } : rest) as Terms;
}

function TwoPeople({
  isOn,
  onChange,
}: {
  readonly isOn: boolean;
  readonly onChange: (isOn: boolean) => void;
}) {
  return (
    <label className="flex min-h-6 items-center gap-2">
      <input type="checkbox" checked={isOn} onChange={(event) => onChange(event.target.checked)} />
      Two people must allow it
    </label>
  );
}

const A_DAY: HoldTerms = { minutes: 480, next: null, otherwise: 'stays' };
const NOBODY_NEXT = 'nobody';

/** By when a held item is decided, by whom after that, and what follows without a decision. */
export function HoldEditor({ rule, onChange }: EditorProps) {
  const { hold } = rule;
  const change = (part: Partial<HoldTerms>) => onChange({ hold: { ...A_DAY, ...hold, ...part } });
  return (
    <div className="flex flex-col gap-2.5">
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={hold !== undefined}
          onChange={(event) =>
            event.target.checked
              ? onChange({ hold: A_DAY })
              : onChange({ hold: undefined } as unknown as Partial<Rule>)
          }
        />
        Held items need a decision within a set time
      </label>
      {hold && (
        <>
          <NumberField
            label="Minutes to decide"
            hint={spanWords(hold.minutes)}
            value={hold.minutes}
            onChange={(minutes) => change({ minutes })}
          />
          <SelectField
            label="Who decides next"
            value={hold.next ?? NOBODY_NEXT}
            options={[
              { value: NOBODY_NEXT, label: 'no one else' },
              { value: 'approvers', label: 'anyone who may decide overrides' },
              { value: 'authors', label: 'anyone who may edit policies' },
            ]}
            onChange={(next) => change({ next: next === NOBODY_NEXT ? null : next })}
          />
          <SelectField
            label="If no one decides"
            value={hold.otherwise}
            options={LEADS}
            onChange={(otherwise) => change({ otherwise })}
          />
          <TwoPeople
            isOn={hold.approvers === 2}
            onChange={(isOn) => onChange({ hold: withTwo(hold, isOn) })}
          />
          <p className="text-[12.5px] text-ink-2">Whoever decides next gets a mail without the content.</p>
        </>
      )}
    </div>
  );
}
