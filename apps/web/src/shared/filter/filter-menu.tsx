import type { FieldValue } from '@lantern/contracts';
import {
  allOf,
  chipOf,
  conjunctsOf,
  type FieldName,
  fieldOf,
  type Filter,
  type FilterValue,
  type Listed,
  printFilter,
  toggled,
} from '@lantern/core/incidents';
import { useState } from 'react';
import { useFieldValues } from '../../data/queue';
import { Button } from '../../ui/button';
import { FIELD_GROUPS, FIELD_WORDS, valueWords } from '../../wording/desk';

interface Props {
  readonly filter: Filter;
  readonly listed: Listed;
  readonly onChange: (filter: Filter) => void;
  /** The field it opens with; left out, the fields are listed. */
  readonly begin?: FieldName;
}

/** Chooses a field and values of it, each with its count under the other filters. */
export function FilterMenu({ filter, listed, onChange, begin }: Props) {
  const [field, setField] = useState<FieldName | null>(begin ?? null);
  if (field === null) return <Fields onChoose={setField} />;
  const { kind } = fieldOf(field);
  return (
    <div className="flex flex-col gap-2">
      <div className="flex items-center justify-between">
        <b>{FIELD_WORDS[field]}</b>
        {begin === undefined && (
          <Button look="quiet" onClick={() => setField(null)}>
            All fields
          </Button>
        )}
      </div>
      {kind === 'time' ? (
        <Times field={field} filter={filter} onChange={onChange} />
      ) : field === 'urgency' ? (
        <AtLeast field={field} filter={filter} onChange={onChange} />
      ) : (
        <Values field={field} filter={filter} listed={listed} onChange={onChange} />
      )}
    </div>
  );
}

function Fields({ onChoose }: { readonly onChoose: (field: FieldName) => void }) {
  const [typed, setTyped] = useState('');
  const wanted = typed.trim().toLowerCase();
  return (
    <div>
      <input
        aria-label="Search fields"
        placeholder="Search fields"
        className="field mb-2 !py-1"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <div className="grid max-h-[55vh] grid-cols-2 gap-x-4 gap-y-2 overflow-auto">
        {FIELD_GROUPS.map(({ title, fields }) => {
          const found = fields.filter((name) => FIELD_WORDS[name].toLowerCase().includes(wanted));
          return found.length === 0 ? null : (
            <div key={title}>
              <h2>{title}</h2>
              {found.map((name) => (
                <button
                  key={name}
                  type="button"
                  className="block w-full rounded-[3px] px-1 text-left hover:bg-press-soft"
                  onClick={() => onChoose(name)}
                >
                  {FIELD_WORDS[name]}
                </button>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}

interface FieldProps {
  readonly field: FieldName;
  readonly filter: Filter;
  readonly onChange: (filter: Filter) => void;
}

function Values({ field, filter, listed, onChange }: FieldProps & { readonly listed: Listed }) {
  const [search, setSearch] = useState('');
  const values = useFieldValues({ listed, filter: printFilter(filter), field }, search.trim());
  const chips = conjunctsOf(filter).flatMap((part) => {
    const chip = chipOf(part);
    return chip?.field === field ? [chip] : [];
  });
  const has = (value: FilterValue, excluded: boolean) =>
    chips.some((chip) => chip.excluded === excluded && chip.values.includes(value));
  const set = (value: FilterValue, excluded: boolean) =>
    onChange(toggled(filter, field, { value, excluded }));
  const withoutField = conjunctsOf(filter).filter(
    (part) => !(part.kind === 'not' && part.part.kind === 'present' && part.part.field === field),
  );
  const none: Filter = { kind: 'not', part: { kind: 'present', field } };
  const hasNone = withoutField.length < conjunctsOf(filter).length;
  return (
    <>
      <input
        aria-label={`Search ${FIELD_WORDS[field]}`}
        placeholder="Search values"
        className="field !py-1"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      <ul aria-label={FIELD_WORDS[field]} className="max-h-[46vh] overflow-auto">
        {(values.data ?? []).map((each: FieldValue) => {
          const { value } = each;
          const words = valueWords(field, value, each.label);
          return (
            <li key={String(value)} className="flex items-center gap-1 py-px">
              <button
                type="button"
                aria-pressed={value === null ? hasNone : has(value, false)}
                className={`flex min-w-0 flex-1 justify-between gap-2 rounded-[3px] px-1.5 py-0.5 text-left hover:bg-press-soft ${(value === null ? hasNone : has(value, false)) ? 'bg-press-soft font-semibold' : ''}`}
                onClick={() =>
                  value === null
                    ? onChange(allOf(hasNone ? withoutField : [...withoutField, none]))
                    : set(value, false)
                }
              >
                <span className="truncate">{words}</span>
                <span className="text-ink-2">{each.count.toLocaleString('en-GB')}</span>
              </button>
              {value !== null && (
                <button
                  type="button"
                  aria-pressed={has(value, true)}
                  aria-label={`Exclude ${words}`}
                  className={`rounded-[3px] border px-1.5 text-[12px] ${has(value, true) ? 'border-press bg-press-soft font-semibold' : 'border-rule text-ink-2 hover:bg-press-soft'}`}
                  onClick={() => set(value, true)}
                >
                  not
                </button>
              )}
            </li>
          );
        })}
        {values.data?.length === 0 && <li className="text-ink-2">No value matches.</li>}
        {values.isPending && <li className="text-ink-2">Counting …</li>}
      </ul>
    </>
  );
}

const SPANS = [
  '1 hour ago',
  '24 hours ago',
  '7 days ago',
  '10 days ago',
  '4 weeks ago',
  '12 weeks ago',
] as const;
const SPAN_WORDS: Readonly<Record<(typeof SPANS)[number], string>> = {
  '1 hour ago': 'Last hour',
  '24 hours ago': 'Last 24 hours',
  '7 days ago': 'Last 7 days',
  '10 days ago': 'Last 10 days',
  '4 weeks ago': 'Last 4 weeks',
  '12 weeks ago': 'Last 12 weeks',
};

/** A rolling stretch, or fixed days. */
function Times({ field, filter, onChange }: FieldProps) {
  const others = conjunctsOf(filter).filter((part) => !(part.kind === 'compare' && part.field === field));
  const own = conjunctsOf(filter).flatMap((part) =>
    part.kind === 'compare' && part.field === field ? [part] : [],
  );
  const valueOf = (operator: string) => String(own.find((part) => part.operator === operator)?.value ?? '');
  const set = (operator: 'ge' | 'lt', value: string) => {
    const rest = own.filter((part) => part.operator !== operator);
    onChange(
      allOf([...others, ...rest, ...(value ? [{ kind: 'compare' as const, field, operator, value }] : [])]),
    );
  };
  return (
    <>
      <div className="grid grid-cols-2 gap-1">
        {SPANS.map((span) => (
          <button
            key={span}
            type="button"
            aria-pressed={valueOf('ge') === span}
            className={`rounded-[3px] border px-1.5 py-0.5 text-left ${valueOf('ge') === span ? 'border-press bg-press-soft font-semibold' : 'border-rule hover:bg-press-soft'}`}
            onClick={() => set('ge', valueOf('ge') === span ? '' : span)}
          >
            {SPAN_WORDS[span]}
          </button>
        ))}
      </div>
      {(['ge', 'lt'] as const).map((operator) => (
        <label key={operator} className="flex items-center justify-between gap-2 text-[12.5px] text-ink-2">
          {operator === 'ge' ? 'From' : 'Before'}
          <input
            type="date"
            className="field !w-44 !py-1"
            value={/^\d{4}-\d{2}-\d{2}/.exec(valueOf(operator))?.[0] ?? ''}
            onChange={(event) => set(operator, event.target.value)}
          />
        </label>
      ))}
    </>
  );
}

function AtLeast({ field, filter, onChange }: FieldProps) {
  const others = conjunctsOf(filter).filter((part) => !(part.kind === 'compare' && part.field === field));
  const own = conjunctsOf(filter).find((part) => part.kind === 'compare' && part.field === field);
  return (
    <label className="flex items-center justify-between gap-2 text-[12.5px] text-ink-2">
      At least
      <input
        type="number"
        min={0}
        max={100}
        className="field !w-24 !py-1"
        value={own?.kind === 'compare' ? String(own.value) : ''}
        onChange={(event) => {
          const value = Number(event.target.value);
          onChange(
            allOf([
              ...others,
              ...(event.target.value === ''
                ? []
                : [{ kind: 'compare' as const, field, operator: 'ge' as const, value }]),
            ]),
          );
        }}
      />
    </label>
  );
}
