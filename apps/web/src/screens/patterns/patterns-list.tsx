import type { PatternSummary } from '@lantern/contracts';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { usePatterns } from '../../data/patterns';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { countryName } from '../../wording/countries';
import { errorSentence } from '../../wording/errors';
import { KIND_WORDS, STATE_WORDS } from '../../wording/terms';
import { countriesOf, isNoisy, narrowPatterns, type PatternFilter } from './narrow';

const SHOWS = [
  ['used', 'used by a rule'],
  ['unused', 'no rule yet'],
  ['noisy', 'noisy'],
  ['changed', 'changed in the draft'],
] as const;

/** Own and ready patterns in one list. */
export function PatternsList() {
  const patterns = usePatterns();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const mayWrite = useMay('patterns.write');
  const filter: PatternFilter = {
    kind: search.get('kind') ?? '',
    country: search.get('country') ?? '',
    show: search.get('show') ?? '',
    words: search.get('words') ?? '',
  };
  const put = (key: keyof PatternFilter, value: string) => {
    // Two changes may come before the first is drawn: each is made to the address as it stands.
    const next = new URLSearchParams(window.location.search);
    if (value) next.set(key, value);
    else next.delete(key);
    setSearch(next, { replace: true });
  };
  const all = patterns.data ?? [];
  const shown = narrowPatterns(all, filter);
  return (
    <div className="flex h-full flex-col px-7 py-4">
      <div className="mb-2 flex items-center gap-4">
        <h1 className="flex-1">
          Patterns{' '}
          <span className="font-normal text-ink-2" role="status">
            {shown.length === all.length ? `${all.length}` : `${shown.length} of ${all.length}`}
          </span>
        </h1>
        <Button
          onClick={() => void navigate('/patterns/new-documents')}
          refusal={mayWrite ? undefined : 'This account reads patterns and does not write them'}
        >
          Learn from samples
        </Button>
        <Button
          onClick={() => void navigate('/patterns/new-records')}
          refusal={mayWrite ? undefined : 'This account reads patterns and does not write them'}
        >
          Import records
        </Button>
        <Button
          onClick={() => void navigate('/patterns/new-expression')}
          refusal={mayWrite ? undefined : 'This account reads patterns and does not write them'}
        >
          Create expression
        </Button>
        <Button
          look="main"
          onClick={() => void navigate('/patterns/new')}
          refusal={mayWrite ? undefined : 'This account reads patterns and does not write them'}
        >
          Create word list
        </Button>
      </div>
      <PatternFilters all={all} filter={filter} put={put} />
      {patterns.isPending && <Loading what="the patterns" />}
      {patterns.isError && <Notice look="stop">{errorSentence(patterns.error)}</Notice>}
      {patterns.data && shown.length === 0 && (
        <Empty title="No pattern matches these filters">Remove a filter or change the search.</Empty>
      )}
      {shown.length > 0 && <PatternTable patterns={shown} />}
    </div>
  );
}

interface FilterProps {
  readonly all: readonly PatternSummary[];
  readonly filter: PatternFilter;
  readonly put: (key: keyof PatternFilter, value: string) => void;
}

function PatternFilters({ all, filter, put }: FilterProps) {
  const kinds = [...new Set(all.map((pattern) => pattern.kind))];
  return (
    <div className="mb-2 flex flex-wrap items-center gap-1.5">
      <input
        aria-label="Search patterns"
        placeholder="Any name, country or check"
        className="field mr-1 max-w-60"
        value={filter.words}
        onChange={(event) => put('words', event.target.value)}
      />
      <select
        aria-label="Country"
        className="field mr-1 max-w-44"
        value={filter.country}
        onChange={(event) => put('country', event.target.value)}
      >
        <option value="">any country</option>
        {countriesOf(all).map(({ code, name }) => (
          <option key={code} value={code}>
            {name}
          </option>
        ))}
      </select>
      <select
        aria-label="Which patterns"
        className="field mr-1 max-w-44"
        value={filter.show}
        onChange={(event) => put('show', event.target.value)}
      >
        <option value="">used or not</option>
        {SHOWS.map(([show, words]) => (
          <option key={show} value={show}>
            {words}
          </option>
        ))}
      </select>
      {kinds.map((each) => (
        <button
          key={each}
          type="button"
          aria-pressed={filter.kind === each}
          onClick={() => put('kind', filter.kind === each ? '' : each)}
          className={`rounded-[3px] border px-2 py-0.5 text-[12.5px] ${filter.kind === each ? 'border-press bg-press-soft font-semibold' : 'border-rule-strong bg-sheet'}`}
        >
          {KIND_WORDS[each]}
          {filter.kind === each && ' ×'}
        </button>
      ))}
    </div>
  );
}

const ROW_HEIGHT = 52;
const COLUMNS =
  'grid grid-cols-[minmax(0,6fr)_minmax(0,2fr)_minmax(0,2fr)_minmax(0,3fr)_minmax(0,2fr)_84px] gap-3 px-3';

function PatternTable({ patterns }: { readonly patterns: readonly PatternSummary[] }) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: patterns.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  return (
    <div
      role="table"
      aria-label="Patterns"
      aria-rowcount={patterns.length + 1}
      className="flex min-h-0 flex-1 flex-col bg-sheet"
    >
      <div
        role="row"
        className={`${COLUMNS} border-b border-rule-strong py-1.5 text-[12.5px] font-semibold text-ink-2`}
      >
        {['Pattern', 'Kind', 'Country', 'Checked by', 'Rules', 'State'].map((heading) => (
          <span key={heading} role="columnheader">
            {heading}
          </span>
        ))}
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto"
        role="rowgroup"
        tabIndex={0}
        aria-label="Rows of patterns"
      >
        <div className="relative" role="presentation" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((item) => {
            const pattern = patterns[item.index];
            return (
              pattern && <PatternRow key={pattern.id} pattern={pattern} index={item.index} top={item.start} />
            );
          })}
        </div>
      </div>
    </div>
  );
}

function PatternRow({
  pattern,
  index,
  top,
}: {
  readonly pattern: PatternSummary;
  readonly index: number;
  readonly top: number;
}) {
  const { countries } = pattern;
  const places =
    countries.length === 0
      ? 'everywhere'
      : countries.length > 3
        ? `${countries.length} countries`
        : countries.map(countryName).join(', ');
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`${COLUMNS} absolute inset-x-0 items-baseline border-b border-rule py-1.5 hover:bg-press-soft`}
      style={{ top, height: ROW_HEIGHT }}
    >
      <span role="cell" className="min-w-0">
        <Link className="part inline-block max-w-full truncate align-bottom" to={`/patterns/${pattern.id}`}>
          {pattern.name}
        </Link>
        <span className="block truncate text-[12.5px] text-ink-2" title={pattern.about}>
          {pattern.about}
        </span>
      </span>
      <span role="cell">{KIND_WORDS[pattern.kind]}</span>
      <span role="cell" className="truncate">
        {places}
      </span>
      <span role="cell" className="truncate text-[12.5px]" title={pattern.check}>
        {pattern.check || 'context only'}
      </span>
      <span role="cell" className="truncate text-[12.5px]" title={pattern.usedBy.join(', ')}>
        {pattern.usedBy.join(', ') || 'no rule'}
      </span>
      <span role="cell" className="text-[12.5px]">
        {pattern.origin === 'ready' && pattern.state === 'published' ? 'ready' : STATE_WORDS[pattern.state]}
        {isNoisy(pattern) && (
          <span className="block font-semibold">
            noisy: {pattern.falsePositives} of {pattern.decided} false
          </span>
        )}
      </span>
    </div>
  );
}
