import { FILE_KINDS, PLACES_IN_ITEM, UNREADABLE_REASONS } from '@lantern/core/movement';
import { type FileCondition, type Measure, type UnreadableCondition } from '@lantern/core/policy';
import { usePatterns } from '../../../data/patterns';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { NumberField } from '../../../ui/number-field';
import { FILE_KIND_WORDS, PLACE_WORDS, UNREADABLE_SHORT } from '../../../wording/terms';
import { ChooseSeveral } from './choose-several';

export interface EditorProps<Clause> {
  readonly clause: Clause;
  readonly onChange: (clause: Clause) => void;
}

/** What to look for, how certain, where. Impossible numbers are kept and marked, not swallowed. */
export function MeasureEditor<Value extends Measure & { readonly atLeast?: number }>({
  clause,
  onChange,
}: EditorProps<Value>) {
  return (
    <div className="flex flex-col gap-2.5">
      <PatternField value={clause.pattern} onChange={(pattern) => onChange({ ...clause, pattern })} />
      <div className="grid grid-cols-2 gap-2.5">
        {clause.atLeast !== undefined && (
          <NumberField
            label="At least"
            least={1}
            value={clause.atLeast}
            onChange={(atLeast) => onChange({ ...clause, atLeast })}
          />
        )}
        <NumberField
          label="Certainty of at least"
          least={0}
          most={100}
          value={clause.certainty}
          onChange={(certainty) => onChange({ ...clause, certainty })}
        />
      </div>
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={clause.distinct}
          onChange={(event) => onChange({ ...clause, distinct: event.target.checked })}
        />
        count each distinct value once
      </label>
      <ChooseSeveral
        label="Only in"
        hint="None selected: anywhere in the item. Comments, pending deletions, notes and cells are inside files."
        options={PLACES_IN_ITEM.map((place) => ({ value: place, label: PLACE_WORDS[place] }))}
        chosen={clause.where}
        onChange={(where) => onChange({ ...clause, where })}
      />
    </div>
  );
}

interface PatternProps {
  readonly value: string;
  readonly onChange: (pattern: string) => void;
}

export function PatternField({ value, onChange }: PatternProps) {
  const patterns = usePatterns();
  const options = (patterns.data ?? []).map((pattern) => ({ value: pattern.id, label: pattern.name }));
  const known = options.some((option) => option.value === value);
  return (
    <SelectField
      label="Pattern"
      value={value}
      options={known ? options : [{ value, label: 'a pattern that was removed' }, ...options]}
      onChange={onChange}
    />
  );
}

export function UnreadableEditor({ clause, onChange }: EditorProps<UnreadableCondition>) {
  return (
    <ChooseSeveral
      label="Because"
      hint="None selected: for any reason."
      options={UNREADABLE_REASONS.map((reason) => ({ value: reason, label: UNREADABLE_SHORT[reason] }))}
      chosen={clause.reasons}
      onChange={(reasons) => onChange({ ...clause, reasons })}
    />
  );
}

export function FileEditor({ clause, onChange }: EditorProps<FileCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <ChooseSeveral
        label="Kind of file by its content"
        hint="None selected: any kind."
        options={FILE_KINDS.map((kind) => ({ value: kind, label: FILE_KIND_WORDS[kind] }))}
        chosen={clause.kinds}
        onChange={(kinds) => onChange({ ...clause, kinds })}
      />
      <TextArea
        label="Names, one per line"
        hint="* matches anything, as in *.zip. Empty: any name."
        rows={3}
        defaultValue={clause.names.join('\n')}
        onChange={(event) =>
          onChange({
            ...clause,
            names: event.target.value
              .split('\n')
              .map((name) => name.trim())
              .filter(Boolean),
          })
        }
      />
      <TextField
        label="Minimum size in kilobytes"
        type="number"
        min={1}
        hint="Empty: any size."
        value={clause.atLeastKilobytes ?? ''}
        onChange={(event) =>
          onChange({
            ...clause,
            atLeastKilobytes: event.target.value === '' ? null : event.target.valueAsNumber || 0,
          })
        }
      />
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={clause.misnamed}
          onChange={(event) => onChange({ ...clause, misnamed: event.target.checked })}
        />
        The name does not match the content
      </label>
    </div>
  );
}
