import type { Condition, LabelCondition } from '@lantern/core/policy';
import { useLabels } from '../../../data/labels';
import { SelectField } from '../../../ui/field';

interface Props {
  readonly clause: LabelCondition;
  readonly onChange: (clause: Condition) => void;
}

/** Which labels an item or one of its files carries, or that it carries none. */
export function LabelEditor({ clause, onChange }: Props) {
  const labels = useLabels();
  const scale = [...(labels.data?.labels ?? [])].sort((left, right) => right.label.rank - left.label.rank);
  const toggle = (id: string) =>
    onChange({
      ...clause,
      labels: clause.labels.includes(id)
        ? clause.labels.filter((each) => each !== id)
        : [...clause.labels, id],
    });
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label="The item or one of its files has"
        value={clause.carries}
        options={[
          { value: 'one-of', label: 'one of these labels' },
          { value: 'none', label: 'no label at all' },
        ]}
        onChange={(carries) =>
          onChange({ ...clause, carries, labels: carries === 'none' ? [] : clause.labels })
        }
      />
      {clause.carries === 'one-of' && (
        <fieldset>
          <legend className="text-[12.5px] text-ink-2">None selected: any label</legend>
          {scale.map(({ label }) => (
            <label key={label.id} className="flex min-h-[25px] items-center gap-1.5">
              <input
                type="checkbox"
                checked={clause.labels.includes(label.id)}
                onChange={() => toggle(label.id)}
              />
              {label.name} <span className="text-[12.5px] text-ink-2">rank {label.rank}</span>
            </label>
          ))}
        </fieldset>
      )}
    </div>
  );
}
