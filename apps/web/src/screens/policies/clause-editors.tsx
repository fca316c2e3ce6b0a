import type { Condition, DomainCondition, FindingsCondition, RecipientCondition } from '@lantern/core';
import { usePatterns } from '../../data/patterns';
import { SelectField, TextArea, TextField } from '../../ui/field';

interface Props<Clause> {
  readonly clause: Clause;
  readonly onChange: (clause: Condition) => void;
}

/** What is looked for, how many, how certain. Impossible numbers are kept and marked, not swallowed. */
export function FindingsEditor({ clause, onChange }: Props<FindingsCondition>) {
  const patterns = usePatterns();
  const options = (patterns.data ?? []).map((pattern) => ({ value: pattern.id, label: pattern.name }));
  const known = options.some((option) => option.value === clause.pattern);
  return (
    <div className="flex flex-col gap-2.5">
      <SelectField
        label="Pattern"
        value={clause.pattern}
        options={known ? options : [{ value: clause.pattern, label: 'a pattern that is gone' }, ...options]}
        onChange={(pattern) => onChange({ ...clause, pattern })}
      />
      <div className="grid grid-cols-2 gap-2.5">
        <TextField
          label="At least"
          type="number"
          min={1}
          value={clause.atLeast}
          onChange={(event) => onChange({ ...clause, atLeast: event.target.valueAsNumber || 0 })}
        />
        <TextField
          label="Certain to"
          type="number"
          min={0}
          max={100}
          value={clause.certainty}
          onChange={(event) => onChange({ ...clause, certainty: event.target.valueAsNumber || 0 })}
        />
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={clause.distinct}
          onChange={(event) => onChange({ ...clause, distinct: event.target.checked })}
        />
        count equal values once
      </label>
    </div>
  );
}

const QUANTITIES = [
  { value: 'any', label: 'any recipient is' },
  { value: 'every', label: 'all recipients are' },
] as const;

export function RecipientEditor({ clause, onChange }: Props<RecipientCondition>) {
  return (
    <div className="grid grid-cols-2 gap-2.5">
      <SelectField
        label="Recipients"
        value={clause.quantity}
        options={QUANTITIES}
        onChange={(quantity) => onChange({ ...clause, quantity })}
      />
      <SelectField
        label="Where"
        value={clause.side}
        options={[
          { value: 'outside', label: 'outside' },
          { value: 'inside', label: 'inside' },
        ]}
        onChange={(side) => onChange({ ...clause, side })}
      />
    </div>
  );
}

export function DomainEditor({ clause, onChange }: Props<DomainCondition>) {
  return (
    <div className="flex flex-col gap-2.5">
      <SelectField
        label="Recipients"
        value={clause.quantity}
        options={QUANTITIES}
        onChange={(quantity) => onChange({ ...clause, quantity })}
      />
      <TextArea
        label="Domains, one a line"
        hint="Hosts under a domain count as well."
        rows={4}
        defaultValue={clause.domains.join('\n')}
        onChange={(event) =>
          onChange({ ...clause, domains: event.target.value.split(/[\s,;]+/).filter(Boolean) })
        }
      />
    </div>
  );
}
