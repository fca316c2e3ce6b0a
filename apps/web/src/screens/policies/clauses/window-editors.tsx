import { LONGEST_WINDOW_HOURS, USUAL_DAYS } from '@lantern/core/movement';
import { AMOUNTS, SUM_SCOPES, type WindowCondition } from '@lantern/core/policy';
import { SelectField } from '../../../ui/field';
import { AMOUNT_WORDS, SCOPE_WORDS } from '../../../wording/applications';
import { NumberField } from '../../../ui/number-field';
import { type EditorProps, PatternField } from './content-editors';

/** What is added up, over which movements, and over how many hours. */
export function WindowEditor({ clause, onChange }: EditorProps<WindowCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      {clause.kind === 'values' ? (
        <PatternField value={clause.pattern} onChange={(pattern) => onChange({ ...clause, pattern })} />
      ) : (
        <SelectField
          label="Total of"
          value={clause.of}
          options={AMOUNTS.map((value) => ({ value, label: AMOUNT_WORDS[value] }))}
          onChange={(of) => onChange({ ...clause, of })}
        />
      )}
      <SelectField
        label="Movements included"
        value={clause.over}
        options={SUM_SCOPES.map((value) => ({ value, label: SCOPE_WORDS[value] }))}
        onChange={(over) => onChange({ ...clause, over })}
      />
      <div className="grid grid-cols-2 gap-2.5">
        {clause.kind === 'usual' && (
          <NumberField
            label="Times the usual"
            least={2}
            hint={`Usual: average of the ${USUAL_DAYS} days before.`}
            value={clause.times}
            onChange={(times) => onChange({ ...clause, times })}
          />
        )}
        <NumberField
          label="At least"
          value={clause.atLeast}
          onChange={(atLeast) => onChange({ ...clause, atLeast })}
        />
        <NumberField
          label="Within hours"
          most={LONGEST_WINDOW_HOURS}
          hint="At most 744, which is 31 days."
          value={clause.hours}
          onChange={(hours) => onChange({ ...clause, hours })}
        />
        {clause.kind === 'values' && (
          <NumberField
            label="Certainty of at least"
            least={0}
            most={100}
            value={clause.certainty}
            onChange={(certainty) => onChange({ ...clause, certainty })}
          />
        )}
      </div>
      <p className="text-[12.5px] text-ink-2">
        The total includes this movement and earlier ones that were allowed.
      </p>
    </div>
  );
}
