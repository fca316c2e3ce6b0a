import type { IncidentPage, IncidentRow } from '@lantern/contracts';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type RefObject, useEffect, useRef } from 'react';
import { Beam } from '../../shared/beam/beam';
import { Link } from 'react-router';
import { usePatternNames } from '../../data/patterns';
import { useWaiting } from '../../data/waiting';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { incidentTitle } from '../../wording/incidents';
import { CHANNEL_WORDS, OUTCOME_WORDS, SEVERITY_WORDS } from '../../wording/terms';
import { exactTime, shortTime } from '../../wording/times';
import { FilterBar } from './filter-bar';
import type { QueueFilters } from './filters';
import { SeverityTicks } from './severity-ticks';

const ROW_HEIGHT = 54;

interface Props {
  readonly page: IncidentPage | undefined;
  readonly error: Error | null;
  readonly chosen: number | null;
  readonly filters: QueueFilters;
  readonly onFilters: (filters: QueueFilters) => void;
  readonly onChoose: (number: number) => void;
  readonly searchBox: RefObject<HTMLInputElement | null>;
}

const TITLES = { open: 'Waiting', decided: 'Decided', all: 'All incidents' } as const;

/** The queue: thousands of rows, the most urgent first, of which only those in sight are drawn. */
export function Queue({ page, error, chosen, filters, onFilters, onChoose, searchBox }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = page?.rows ?? [];
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  });
  const index = rows.findIndex((row) => row.number === chosen);
  useEffect(() => {
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
  }, [index, virtual]);
  return (
    <section aria-label="Queue" className="row-span-full flex min-h-0 flex-col">
      <div className="border-b border-rule px-3.5 pt-3 pb-2">
        <div className="flex items-baseline justify-between">
          <h1>{TITLES[filters.show]}</h1>
          {page && (
            <p role="status" className="text-ink-2">
              {page.total} {page.total === 1 ? 'incident' : 'incidents'}, {page.matches}{' '}
              {page.matches === 1 ? 'match' : 'matches'}
            </p>
          )}
        </div>
        <WaitingLink />
        <FilterBar filters={filters} rows={rows} onChange={onFilters} searchBox={searchBox} />
      </div>
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      {!page && !error && <Loading what="the queue" />}
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
        <ol className="relative" style={{ height: virtual.getTotalSize() }} aria-label="Incidents">
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            return row ? (
              <li
                key={row.number}
                className="absolute inset-x-0 top-0"
                style={{ height: ROW_HEIGHT, transform: `translateY(${item.start}px)` }}
              >
                <Row row={row} chosen={row.number === chosen} onChoose={onChoose} />
              </li>
            ) : null;
          })}
        </ol>
      </div>
      {page && page.rows.length < page.total && (
        <p className="border-t border-rule px-3.5 py-1.5 text-[12.5px] text-ink-2">
          The first {page.rows.length} of {page.total} are listed. Use filters to find others.
        </p>
      )}
    </section>
  );
}

/** What waits for a decision stands on a page of its own; here only that something does. */
function WaitingLink() {
  const waiting = useWaiting();
  const count = (waiting.data ?? []).filter(
    ({ state, kind }) => state === 'waiting' && kind !== 'ask',
  ).length;
  return (
    <p className="text-[12.5px]">
      <Link className="part" to="/incidents/waiting">
        {count === 0
          ? 'No pending decisions'
          : `${count} ${count === 1 ? 'pending decision' : 'pending decisions'}`}
      </Link>
    </p>
  );
}

interface RowProps {
  readonly row: IncidentRow;
  readonly chosen: boolean;
  readonly onChoose: (number: number) => void;
}

function Row({ row, chosen, onChoose }: RowProps) {
  const names = usePatternNames();
  const first = row.counts[0];
  const held = first ? `${first.distinct} distinct` : row.unreadableParts > 0 ? 'could not be read' : '';
  return (
    <button
      type="button"
      aria-current={chosen ? 'true' : undefined}
      onClick={() => onChoose(row.number)}
      className={`flex h-full w-full flex-col justify-center gap-0.5 border-b border-l-[3px] border-b-rule px-3 text-left ${chosen ? 'border-l-ink bg-sheet' : 'border-l-transparent hover:bg-press-soft'}`}
    >
      <span className="flex w-full items-baseline gap-1.5">
        <SeverityTicks severity={row.severity} />
        <b className="truncate">{incidentTitle({ ...row, destinations: [] }, names)}</b>
        <span className="min-w-0 flex-1 truncate text-[12.5px]">
          {held}
          {row.reported && <b>, reported as a false finding</b>}
        </span>
        <span className="text-[12.5px] whitespace-nowrap text-ink-2" title={exactTime(row.at)}>
          {shortTime(row.at, new Date())}
        </span>
      </span>
      <span className="flex w-full items-center gap-3">
        <span className="min-w-0 flex-1">
          <Beam
            from={row.person.name}
            by={CHANNEL_WORDS[row.channel]}
            to={row.destinations[0] ?? ''}
            answer={row.answer}
            lit={row.counts.length > 0}
          />
        </span>
        <span className="text-[12.5px] whitespace-nowrap text-ink-2" title={`Urgency ${row.urgency}`}>
          {row.outcome
            ? OUTCOME_WORDS[row.outcome]
            : row.status === 'new'
              ? `${SEVERITY_WORDS[row.severity]} ${row.urgency}`
              : `${row.assignee ?? ''} ${row.urgency}`}
        </span>
      </span>
    </button>
  );
}
