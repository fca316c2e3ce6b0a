import { EXPORT_FORMATS, type ExportFormat, LIST_ORDERS, type ListOrder } from '@lantern/contracts';
import { conjunctsOf, type FieldName, LISTED, printFilter } from '@lantern/core/incidents';
import { type RefObject, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { useMay } from '../../../data/session';
import { useListCounts } from '../../../data/queue';
import { SelectField } from '../../../ui/field';
import { EditorPopover } from '../../../ui/popover';
import { FIELD_WORDS, GROUP_FIELDS, LISTED_MEANING, LISTED_WORDS, orderWords } from '../../../wording/desk';
import { FilterChips } from '../../../shared/filter/filter-chips';
import { filterOf } from '../../../shared/filter/filter-of';
import { type DeskState, searchOf, withSearch } from '../desk-state';
import { ViewMenu } from './view-menu';

interface Props {
  readonly state: DeskState;
  readonly onChange: (changed: Partial<DeskState>) => void;
  readonly searchBox: RefObject<HTMLInputElement | null>;
  readonly filterButton: RefObject<HTMLButtonElement | null>;
}

const SMALL = 'part text-[12.5px]';
/** Delay between the last key and the search. */
const TYPED_MS = 300;

/** What the desk lists: which kind of rows, under which filters, in which order and groups. */
export function DeskBar({ state, onChange, searchBox, filterButton }: Props) {
  const counts = useListCounts(state.filter);
  return (
    <div role="search" aria-label="Filter" className="border-b border-rule px-3.5 py-2">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <div role="group" aria-label="List" className="flex">
          {LISTED.map((listed) => (
            <button
              key={listed}
              type="button"
              title={LISTED_MEANING[listed]}
              aria-pressed={state.listed === listed}
              className={`border-b-2 px-2 pb-0.5 ${state.listed === listed ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`}
              onClick={() =>
                onChange({ listed, order: listed === 'incidents' ? '-urgency' : '-time', group: [] })
              }
            >
              {LISTED_WORDS[listed]}{' '}
              <span className="tabular-nums">{counts.data?.[listed].toLocaleString('en-GB') ?? '…'}</span>
            </button>
          ))}
        </div>
        <Search key={state.filter} state={state} onChange={onChange} searchBox={searchBox} />
        <span className="ml-auto flex items-center gap-3">
          <PreventLink line={state.filter} />
          <GroupMenu state={state} onChange={onChange} />
          <EditorPopover
            label="Order and rows"
            trigger={
              <button type="button" className={SMALL}>
                {orderWords(state.order)}
              </button>
            }
          >
            <div className="flex flex-col gap-2">
              <SelectField<ListOrder>
                label="Order"
                value={state.order}
                options={ordersOf(state.listed).map((value) => ({ value, label: orderWords(value) }))}
                onChange={(order) => onChange({ order })}
              />
              <SelectField<DeskState['density']>
                label="Rows"
                value={state.density}
                options={[
                  { value: 'compact', label: 'Compact' },
                  { value: 'detailed', label: 'Detailed' },
                ]}
                onChange={(density) => onChange({ density })}
              />
            </div>
          </EditorPopover>
          <ViewMenu state={state} onOpen={onChange} />
          <ExportMenu state={state} rows={counts.data?.[state.listed] ?? 0} />
        </span>
      </div>
      <FilterChips
        line={state.filter}
        listed={state.listed}
        onChange={(filter) => onChange({ filter })}
        addButton={filterButton}
      />
    </div>
  );
}

/** Where only false positives are listed, the way to a change that would have prevented them. */
function PreventLink({ line }: { readonly line: string }) {
  const may = useMay('replay.run');
  const parts = conjunctsOf(filterOf(line));
  const areFalse = parts.some(
    (part) =>
      part.kind === 'compare' &&
      part.field === 'outcome' &&
      part.operator === 'eq' &&
      part.value === 'false-positive',
  );
  return may && areFalse ? (
    <Link className={SMALL} to={`/insight/prevent?${new URLSearchParams({ filter: line }).toString()}`}>
      Prevent these
    </Link>
  ) : null;
}

function Search({ state, onChange, searchBox }: Omit<Props, 'filterButton'>) {
  const filter = filterOf(state.filter);
  const [typed, setTyped] = useState(searchOf(filter));
  useEffect(() => {
    if (typed.trim() === searchOf(filter)) return;
    const timer = setTimeout(() => onChange({ filter: printFilter(withSearch(filter, typed)) }), TYPED_MS);
    return () => clearTimeout(timer);
  }, [typed, filter, onChange]);
  return (
    <input
      ref={searchBox}
      type="search"
      aria-label="Search the queue"
      placeholder="Person, address, file, word of a title, or number"
      className="field !w-80 !py-1 text-[12.5px]"
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={(event) => event.key === 'Escape' && event.currentTarget.blur()}
    />
  );
}

function GroupMenu({ state, onChange }: Pick<Props, 'state' | 'onChange'>) {
  if (state.listed !== 'incidents') return null;
  const [first = '', second = ''] = state.group;
  const options = (other: string) => [
    { value: '', label: 'nothing' },
    ...GROUP_FIELDS.filter((name) => name !== other).map((name) => ({
      value: name,
      label: FIELD_WORDS[name],
    })),
  ];
  const set = (one: string, two: string) =>
    onChange({ group: [one, two].filter((name): name is FieldName => name !== '') });
  return (
    <EditorPopover
      label="Group"
      trigger={
        <button type="button" className={SMALL}>
          {first ? `By ${state.group.map((name) => FIELD_WORDS[name].toLowerCase()).join(' and ')}` : 'Group'}
        </button>
      }
    >
      <div className="flex flex-col gap-2">
        <SelectField
          label="Group by"
          value={first}
          options={options(second)}
          onChange={(value) => set(value, second)}
        />
        <SelectField
          label="and by"
          value={second}
          options={options(first)}
          onChange={(value) => set(first, value)}
        />
      </div>
    </EditorPopover>
  );
}

const FORMAT_WORDS: Readonly<Record<ExportFormat, string>> = {
  csv: 'Table for a spreadsheet (CSV)',
  jsonl: 'One JSON object a line',
  ocsf: 'Security findings (OCSF)',
};

function ExportMenu({ state, rows }: { readonly state: DeskState; readonly rows: number }) {
  const { filter, listed, order } = state;
  return (
    <EditorPopover
      label="Export"
      trigger={
        <button type="button" className={SMALL}>
          Export
        </button>
      }
    >
      <p className="mb-2 text-[12.5px] text-ink-2">
        {rows.toLocaleString('en-GB')} {LISTED_WORDS[listed].toLowerCase()}, exactly what is listed. The
        export is recorded in the audit trail.
      </p>
      <ul>
        {EXPORT_FORMATS.filter((format) => format !== 'ocsf' || listed === 'incidents').map((format) => (
          <li key={format}>
            <a
              className="part"
              download
              href={`/api/incidents/export?${new URLSearchParams({ filter, listed, order, format }).toString()}`}
            >
              {FORMAT_WORDS[format]}
            </a>
          </li>
        ))}
      </ul>
    </EditorPopover>
  );
}

/** Orders that make sense for a list: matches and movements have no urgency of their own. */
function ordersOf(listed: DeskState['listed']): readonly ListOrder[] {
  const fields =
    listed === 'incidents'
      ? null
      : [
          'time',
          'person',
          'department',
          'channel',
          'answer',
          ...(listed === 'matches' ? ['severity', 'number'] : []),
        ];
  return LIST_ORDERS.filter((order) => !fields || fields.includes(order.replace('-', '')));
}
