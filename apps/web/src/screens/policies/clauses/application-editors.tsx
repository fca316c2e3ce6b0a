import { SIGN_IN_PROOFS, USE_DEEDS, USE_WAYS } from '@lantern/core/movement';
import {
  type ColumnsCondition,
  type FieldsCondition,
  type RightsCondition,
  type SignInCondition,
  type UseCondition,
} from '@lantern/core/policy';
import { SelectField, TextArea } from '../../../ui/field';
import { DEED_WORDS, PROOF_WORDS, WAY_WORDS } from '../../../wording/applications';
import { ChooseSeveral } from './choose-several';
import { NumberField } from '../../../ui/number-field';
import { type EditorProps, PatternField } from './content-editors';

const lines = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

export function UseEditor({ clause, onChange }: EditorProps<UseCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <ChooseSeveral
        label="Activity"
        hint="None selected: any activity."
        options={USE_DEEDS.map((value) => ({ value, label: DEED_WORDS[value] }))}
        chosen={clause.deeds}
        onChange={(deeds) => onChange({ ...clause, deeds })}
      />
      <SelectField
        label="Access"
        value={clause.by ?? ''}
        options={[
          { value: '', label: 'screen or interface' },
          ...USE_WAYS.map((value) => ({ value, label: WAY_WORDS[value] })),
        ]}
        onChange={(by) => onChange({ ...clause, by: USE_WAYS.find((way) => way === by) ?? null })}
      />
      <Patterns
        label="Kinds of record, one per line"
        hint="* matches anything. Empty: any kind."
        values={clause.objects}
        onChange={(objects) => onChange({ ...clause, objects })}
      />
      <Patterns
        label="Reports, one per line"
        hint="* matches anything, as in Customers*. Empty: any report."
        values={clause.reports}
        onChange={(reports) => onChange({ ...clause, reports })}
      />
    </div>
  );
}

export function ColumnsEditor({ clause, onChange }: EditorProps<ColumnsCondition>) {
  return (
    <NumberField
      label="Minimum number of fields"
      value={clause.atLeast}
      onChange={(atLeast) => onChange({ ...clause, atLeast })}
    />
  );
}

export function FieldsEditor({ clause, onChange }: EditorProps<FieldsCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <PatternField value={clause.pattern} onChange={(pattern) => onChange({ ...clause, pattern })} />
      <div className="grid grid-cols-2 gap-2.5">
        <NumberField
          label="Columns, at least"
          value={clause.atLeast}
          onChange={(atLeast) => onChange({ ...clause, atLeast })}
        />
        <NumberField
          label="Certainty of at least"
          least={0}
          most={100}
          value={clause.certainty}
          onChange={(certainty) => onChange({ ...clause, certainty })}
        />
      </div>
    </div>
  );
}

export function RightsEditor({ clause, onChange }: EditorProps<RightsCondition>) {
  return (
    <Patterns
      label="Rights, one per line"
      hint="One match is enough. * matches anything, as in *export*."
      values={clause.rights}
      onChange={(rights) => onChange({ ...clause, rights })}
    />
  );
}

export function SignInEditor({ clause, onChange }: EditorProps<SignInCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <TextArea
        label="Countries of the sign-in"
        hint="Two letters each (ISO 3166-1), for example NO, DE. Empty: any country."
        rows={2}
        defaultValue={clause.countries.join(' ')}
        onChange={(event) =>
          onChange({
            ...clause,
            countries: event.target.value
              .toUpperCase()
              .split(/[\s,;]+/)
              .filter(Boolean),
          })
        }
      />
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={clause.elsewhere}
          onChange={(event) => onChange({ ...clause, elsewhere: event.target.checked })}
        />
        any country except these; an unknown country matches
      </label>
      <ChooseSeveral
        label="Signed in with"
        hint="None selected: any method."
        options={SIGN_IN_PROOFS.map((value) => ({ value, label: PROOF_WORDS[value] }))}
        chosen={clause.proofs}
        onChange={(proofs) => onChange({ ...clause, proofs })}
      />
      <NumberField
        label="Minimum age in minutes"
        least={0}
        most={44_640}
        hint="0: any age."
        value={clause.olderThanMinutes ?? 0}
        onChange={(minutes) => onChange({ ...clause, olderThanMinutes: minutes === 0 ? null : minutes })}
      />
    </div>
  );
}

interface PatternsProps {
  readonly label: string;
  readonly hint: string;
  readonly values: readonly string[];
  readonly onChange: (values: string[]) => void;
}

function Patterns({ label, hint, values, onChange }: PatternsProps) {
  return (
    <TextArea
      label={label}
      hint={hint}
      rows={3}
      defaultValue={values.join('\n')}
      onChange={(event) => onChange(lines(event.target.value))}
    />
  );
}
