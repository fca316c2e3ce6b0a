import type { IncidentOrder, IncidentRow } from '@lantern/contracts';
import { CHANNELS } from '@lantern/core/movement';
import { ANSWERS, SEVERITIES } from '@lantern/core/policy';
import { type RefObject, useEffect, useState } from 'react';
import { usePatterns } from '../../data/patterns';
import { usePolicies } from '../../data/policies';
import { SelectField } from '../../ui/field';
import { EditorPopover } from '../../ui/popover';
import { ANSWER_DONE, CHANNEL_WORDS, SEVERITY_WORDS } from '../../wording/terms';
import { type ChipKey, chipsOf, type QueueFilters } from './filters';

interface Props {
  readonly filters: QueueFilters;
  readonly rows: readonly IncidentRow[];
  readonly onChange: (filters: QueueFilters) => void;
  readonly searchBox: RefObject<HTMLInputElement | null>;
}

const CHIP_NAMES: Readonly<Record<ChipKey, string>> = {
  severity: 'Severity',
  answer: 'Answer',
  pattern: 'Found',
  policy: 'Policy',
  department: 'Department',
  channel: 'Channel',
  reported: 'Person reported',
  cut: 'Answer reduced by',
  search: 'Search',
};

const FILTER_FIELDS = [
  ...(['severity', 'answer', 'pattern', 'policy', 'department', 'channel', 'reported', 'cut'] as const),
];

/** Filters that add up, as chips that can be taken off, and the order. */
export function FilterBar({ filters, rows, onChange, searchBox }: Props) {
  const patterns = usePatterns().data ?? [];
  const policies = usePolicies().data ?? [];
  const [typed, setTyped] = useState(filters.search);
  useEffect(() => {
    if (typed === filters.search) return;
    const timer = setTimeout(() => onChange({ ...filters, search: typed }), 250);
    return () => clearTimeout(timer);
  }, [typed, filters, onChange]);
  const options: Readonly<Record<Exclude<ChipKey, 'search'>, readonly { value: string; label: string }[]>> = {
    severity: SEVERITIES.map((value) => ({ value, label: SEVERITY_WORDS[value] })),
    answer: ANSWERS.map((value) => ({ value, label: ANSWER_DONE[value] })),
    pattern: patterns.map(({ id, name }) => ({ value: id, label: name })),
    policy: policies.map(({ policy }) => ({ value: policy.id, label: policy.name })),
    department: [...new Set(rows.map((row) => row.person.department))]
      .sort()
      .map((value) => ({ value, label: value })),
    channel: CHANNELS.map((value) => ({ value, label: CHANNEL_WORDS[value] })),
    reported: [{ value: 'yes', label: 'a false finding' }],
    cut: [
      { value: 'made-before', label: 'the date it binds from' },
      { value: 'ceiling', label: 'a ceiling' },
    ],
  };
  const labelOf = (key: Exclude<ChipKey, 'search'>) =>
    options[key].find((option) => option.value === filters[key])?.label ?? filters[key];
  const any = [{ value: '', label: 'any' }];
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1.5">
      <input
        ref={searchBox}
        aria-label="Search the queue"
        placeholder="Person, department, address or number"
        className="field !w-full !py-1 text-[12.5px]"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === 'Escape' && event.currentTarget.blur()}
      />
      {chipsOf(filters).map((key) => (
        <button
          key={key}
          type="button"
          className="inline-flex items-center gap-1.5 rounded-[3px] border border-rule-strong bg-sheet px-1.5 text-[12.5px]"
          aria-label={`Remove filter: ${CHIP_NAMES[key]} ${labelOf(key as Exclude<ChipKey, 'search'>)}`}
          onClick={() => onChange({ ...filters, [key]: '' })}
        >
          {CHIP_NAMES[key]} <b>{labelOf(key as Exclude<ChipKey, 'search'>)}</b> ×
        </button>
      ))}
      <EditorPopover
        label="Filters"
        trigger={
          <button
            type="button"
            className="rounded-[3px] border border-dashed border-press px-1.5 text-[12.5px] text-press"
          >
            Filter and order
          </button>
        }
      >
        <div className="flex flex-col gap-2">
          <SelectField
            label="Show"
            value={filters.show}
            options={[
              { value: 'open', label: 'waiting' },
              { value: 'decided', label: 'decided' },
              { value: 'all', label: 'all' },
            ]}
            onChange={(show) => onChange({ ...filters, show })}
          />
          {FILTER_FIELDS.map((key) => (
            <SelectField
              key={key}
              label={CHIP_NAMES[key]}
              value={filters[key]}
              options={[...any, ...options[key]]}
              onChange={(value) => onChange({ ...filters, [key]: value })}
            />
          ))}
          <SelectField<IncidentOrder>
            label="Order"
            value={filters.order}
            options={[
              { value: 'urgency', label: 'Most urgent first' },
              { value: 'newest', label: 'Newest first' },
              { value: 'oldest', label: 'Oldest first' },
            ]}
            onChange={(order) => onChange({ ...filters, order })}
          />
        </div>
      </EditorPopover>
    </div>
  );
}
