import {
  chipOf,
  conjunctsOf,
  type Filter,
  FILTER_FIELDS,
  type Listed,
  printFilter,
  withoutConjunct,
} from '@lantern/core/incidents';
import { type RefObject, useState } from 'react';
import { EditorPopover } from '../../ui/popover';
import { partWords } from '../../wording/desk';
import { DESK_VALUES } from './desk-values';
import { filterOf } from './filter-of';
import { FilterLine } from './filter-line';
import { FilterMenu } from './filter-menu';

interface Props {
  readonly line: string;
  readonly listed: Listed;
  readonly onChange: (line: string) => void;
  readonly addButton?: RefObject<HTMLButtonElement | null>;
}

const CHIP = 'inline-flex items-center rounded-[3px] border border-rule-strong bg-sheet text-[12.5px]';
const SMALL = 'part text-[12.5px]';

/** The parts of a filter as chips, or the whole as a line of text. */
export function FilterChips({ line, listed, onChange, addButton }: Props) {
  const [asText, setAsText] = useState(false);
  const filter = filterOf(line);
  const parts = conjunctsOf(filter);
  return (
    <div className="mt-1.5 flex flex-wrap items-start gap-1.5">
      {asText ? (
        <FilterLine
          line={line}
          fields={FILTER_FIELDS}
          placeholder='severity eq "high" and domain ew ".example"'
          useValues={DESK_VALUES[listed]}
          onChange={onChange}
        />
      ) : (
        <>
          {parts.map((part, at) => (
            <PartChip
              key={printFilter(part)}
              part={part}
              line={line}
              listed={listed}
              onChange={onChange}
              onRemove={() => onChange(printFilter(withoutConjunct(filter, at)))}
            />
          ))}
          <EditorPopover
            label="Add filter"
            wide
            trigger={
              <button
                ref={addButton}
                type="button"
                className="rounded-[3px] border border-dashed border-press px-1.5 py-px text-[12.5px] text-press"
              >
                Add filter
              </button>
            }
          >
            <FilterMenu filter={filter} listed={listed} onChange={(next) => onChange(printFilter(next))} />
          </EditorPopover>
          {parts.length > 0 && (
            <button type="button" className={SMALL} onClick={() => onChange('')}>
              Remove all
            </button>
          )}
        </>
      )}
      <button
        type="button"
        aria-pressed={asText}
        className={`${SMALL} ml-auto`}
        onClick={() => setAsText(!asText)}
      >
        {asText ? 'As chips' : 'As text'}
      </button>
    </div>
  );
}

interface ChipProps extends Pick<Props, 'line' | 'listed' | 'onChange'> {
  readonly part: Filter;
  readonly onRemove: () => void;
}

/** One part of the filter; pressing it changes its values. */
function PartChip({ part, line, listed, onChange, onRemove }: ChipProps) {
  const { about, asks } = partWords(part);
  const field = chipOf(part)?.field ?? (part.kind === 'compare' ? part.field : undefined);
  const words = (
    <>
      {about} <b>{asks}</b>
    </>
  );
  return (
    <span className={CHIP}>
      {field && field !== 'any' ? (
        <EditorPopover
          label={`Filter: ${about}`}
          trigger={
            <button type="button" className="max-w-72 truncate px-1.5 py-0.5">
              {words}
            </button>
          }
          wide
        >
          <FilterMenu
            filter={filterOf(line)}
            listed={listed}
            begin={field}
            onChange={(next) => onChange(printFilter(next))}
          />
        </EditorPopover>
      ) : (
        <span className="max-w-72 truncate px-1.5 py-0.5">{words}</span>
      )}
      <button
        type="button"
        aria-label={`Remove filter: ${about} ${asks}`}
        className="min-h-6 min-w-6 border-l border-rule px-1.5 hover:bg-press-soft"
        onClick={onRemove}
      >
        ×
      </button>
    </span>
  );
}
