import { EVERYBODY } from '@lantern/core/directory';
import { type Effect, EFFECTS, type EffectTerms, type Grant, type Handling } from '@lantern/core/labels';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { EditorPopover } from '../../../ui/popover';
import { termsWords } from '../../../wording/labels';
import { EFFECT_MEANING, EFFECT_WORDS } from '../../../wording/effects';
import { audienceWords } from '../../../wording/audience';
import { replaced, without } from '../edit';

interface Props {
  readonly handling: Handling;
  readonly readOnly: boolean;
  readonly onChange: (handling: Handling) => void;
}

const KINDS = [
  { value: 'anyone', label: 'anyone, including outside' },
  { value: 'inside', label: 'everyone inside' },
  { value: 'named', label: 'only the people named here' },
  { value: 'setter', label: 'people chosen by whoever sets the label' },
] as const;

/** What a holder may do, effect by effect, as sentences whose ends open their editors. */
export function HandlingEditor({ handling, readOnly, onChange }: Props) {
  const set = (effect: Effect, terms: EffectTerms) => onChange({ ...handling, [effect]: terms });
  return (
    <ul className="border-y border-rule">
      {EFFECTS.map((effect) => (
        <li
          key={effect}
          className="flex items-baseline gap-2 border-b border-dotted border-rule py-1.5 last:border-0"
        >
          <span className="w-44 shrink-0" title={EFFECT_MEANING[effect]}>
            May <b>{EFFECT_WORDS[effect]}</b>:
          </span>
          {readOnly ? (
            <span>{termsWords(handling[effect])}</span>
          ) : (
            <EditorPopover
              wide
              label={`Who may ${EFFECT_WORDS[effect]}`}
              trigger={
                <button type="button" className="part text-left">
                  {termsWords(handling[effect])}
                </button>
              }
            >
              <TermsEditor
                effect={effect}
                terms={handling[effect]}
                onChange={(terms) => set(effect, terms)}
              />
            </EditorPopover>
          )}
        </li>
      ))}
    </ul>
  );
}

function TermsEditor({
  effect,
  terms,
  onChange,
}: {
  readonly effect: Effect;
  readonly terms: EffectTerms;
  readonly onChange: (terms: EffectTerms) => void;
}) {
  return (
    <div className="flex max-h-[60vh] flex-col gap-3 overflow-auto">
      <SelectField
        label={`Who may ${EFFECT_WORDS[effect]}`}
        hint={`Meaning: ${EFFECT_MEANING[effect]}. The owner always may.`}
        value={terms.kind}
        options={KINDS}
        onChange={(kind) =>
          onChange(kind === 'named' ? { kind, grants: terms.kind === 'named' ? terms.grants : [] } : { kind })
        }
      />
      {terms.kind === 'named' && (
        <>
          {terms.grants.map((grant, index) => (
            <GrantEditor
              key={index}
              grant={grant}
              onChange={(change) =>
                onChange({ kind: 'named', grants: replaced(terms.grants, index, change) })
              }
              onRemove={() => onChange({ kind: 'named', grants: without(terms.grants, index) })}
            />
          ))}
          <Button
            onClick={() =>
              onChange({ kind: 'named', grants: [...terms.grants, { to: EVERYBODY, days: null }] })
            }
          >
            Name some people
          </Button>
        </>
      )}
    </div>
  );
}

function GrantEditor({
  grant,
  onChange,
  onRemove,
}: {
  readonly grant: Grant;
  readonly onChange: (change: Partial<Grant>) => void;
  readonly onRemove: () => void;
}) {
  return (
    <fieldset className="border-l-2 border-rule-strong pl-3">
      <legend className="sr-only">{audienceWords(grant.to)}</legend>
      <AudienceEditor audience={grant.to} onChange={(to) => onChange({ to })} />
      <div className="mt-2 flex items-end gap-2">
        <TextField
          label="For how many days"
          placeholder="no end"
          type="number"
          min={1}
          max={3650}
          className="w-40"
          value={grant.days ?? ''}
          onChange={(event) =>
            onChange({ days: event.target.value === '' ? null : Number(event.target.value) })
          }
        />
        <Button look="quiet" onClick={onRemove}>
          Remove these people
        </Button>
      </div>
    </fieldset>
  );
}
