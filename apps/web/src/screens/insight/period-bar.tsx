import { CUT_FIELDS, type CutField } from '@lantern/contracts/insight';
import { LISTED, type Listed } from '@lantern/core/incidents';
import { addDays, format } from 'date-fns';
import { useState } from 'react';
import { FilterChips } from '../../shared/filter/filter-chips';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { EditorPopover } from '../../ui/popover';
import { FIELD_WORDS, LISTED_MEANING, LISTED_WORDS } from '../../wording/desk';
import { type InsightState, instantsOf, type Span, SPANS } from './insight-state';

interface Props {
  readonly state: InsightState;
  readonly onChange: (changed: Partial<InsightState>) => void;
  /** Kinds of rows that can be counted; none where the screen counts one kind. */
  readonly listed?: boolean;
  readonly by?: boolean;
}

const SPAN_WORDS: Readonly<Record<Span, string>> = {
  yesterday: 'Since yesterday',
  week: 'This week',
  'four-weeks': 'This week and 4 before',
  quarter: 'This week and 12 before',
};
const SMALL = 'part text-[12.5px]';
const TAB = 'border-b-2 px-2 pb-0.5';
const tab = (on: boolean): string =>
  `${TAB} ${on ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`;

/** Which period, what is counted, how it is divided, and under which filter. */
export function PeriodBar({ state, onChange, listed = false, by = false }: Props) {
  return (
    <div role="search" aria-label="Period and filter" className="py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <PeriodMenu state={state} onChange={onChange} />
        {listed && (
          <div role="group" aria-label="What is counted" className="flex">
            {LISTED.map((each: Listed) => (
              <button
                key={each}
                type="button"
                title={LISTED_MEANING[each]}
                aria-pressed={state.listed === each}
                className={tab(state.listed === each)}
                onClick={() => onChange({ listed: each })}
              >
                {LISTED_WORDS[each]}
              </button>
            ))}
          </div>
        )}
        {by && (
          <label className="flex items-center gap-1.5 text-[12.5px] text-ink-2">
            divided by
            <select
              className="field !w-auto !py-1 text-[12.5px]"
              value={state.by ?? ''}
              onChange={(event) => onChange({ by: (event.target.value || null) as CutField | null })}
            >
              <option value="">nothing</option>
              {CUT_FIELDS.map((field) => (
                <option key={field} value={field}>
                  {FIELD_WORDS[field].toLowerCase()}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      <FilterChips line={state.filter} listed={state.listed} onChange={(filter) => onChange({ filter })} />
    </div>
  );
}

function PeriodMenu({ state, onChange }: Pick<Props, 'state' | 'onChange'>) {
  const { from, to } = instantsOf(state.period, new Date());
  const span = state.period.kind === 'span' ? state.period.span : null;
  return (
    <div role="group" aria-label="Period" className="-ml-2 flex items-center">
      {SPANS.map((each) => (
        <button
          key={each}
          type="button"
          aria-pressed={span === each}
          className={tab(span === each)}
          onClick={() => onChange({ period: { kind: 'span', span: each } })}
        >
          {SPAN_WORDS[each]}
        </button>
      ))}
      <EditorPopover
        label="Choose dates"
        trigger={
          <button
            type="button"
            className={span === null ? `${TAB} border-ink font-semibold` : `${SMALL} ml-2`}
          >
            {span === null ? periodWords(from, to) : 'Choose dates'}
          </button>
        }
      >
        <DatesEditor
          from={format(from, 'yyyy-MM-dd')}
          to={format(new Date(to.getTime() - 1), 'yyyy-MM-dd')}
          onChange={onChange}
        />
      </EditorPopover>
    </div>
  );
}

interface DatesProps extends Pick<Props, 'onChange'> {
  readonly from: string;
  readonly to: string;
}

function DatesEditor({ from, to, onChange }: DatesProps) {
  const [dates, setDates] = useState({ from, to });
  const turned = dates.from > dates.to ? 'The last day is before the first.' : undefined;
  const missing = !dates.from || !dates.to ? 'Both dates are needed.' : undefined;
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!turned && !missing) onChange({ period: { kind: 'days', ...dates } });
      }}
    >
      <TextField
        label="First day"
        type="date"
        value={dates.from}
        onChange={(event) => setDates({ ...dates, from: event.target.value })}
      />
      <TextField
        label="Last day"
        type="date"
        value={dates.to}
        error={turned ?? missing}
        onChange={(event) => setDates({ ...dates, to: event.target.value })}
      />
      <Button look="main" type="submit" refusal={turned ?? missing} reasonIsShown>
        Show period
      </Button>
    </form>
  );
}

/** A period as dates, with times where it does not begin or end at midnight. */
function periodWords(from: Date, to: Date): string {
  const isMidnight = (at: Date) => format(at, 'HH:mm:ss') === '00:00:00';
  if (!isMidnight(from) || !isMidnight(to))
    return `${format(from, 'd MMM yyyy HH:mm')} to ${format(to, 'd MMM yyyy HH:mm')}`;
  const last = addDays(to, -1);
  return from.getTime() === last.getTime()
    ? format(from, 'EEEE d MMM yyyy')
    : `${format(from, 'd MMM yyyy')} to ${format(last, 'd MMM yyyy')}`;
}
