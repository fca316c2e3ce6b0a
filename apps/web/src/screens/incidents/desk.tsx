import { useCallback, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { useIncident, useIncidents } from '../../data/incidents';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { Decision } from './decision';
import { Evidence } from './evidence';
import { changedFilters, neighbour, type QueueFilters, readFilters, writeFilters } from './filters';
import { Queue } from './queue';

/** Queue, evidence and decision side by side; the queue never loses its place. */
export function IncidentsDesk() {
  const { number } = useParams();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const searchBox = useRef<HTMLInputElement>(null);
  const filters = readFilters(search);
  const query = writeFilters(filters);
  const page = useIncidents(query);
  const rows = page.data?.rows ?? [];
  const chosen = number === undefined ? (rows[0]?.number ?? null) : Number(number);
  const incident = useIncident(chosen);
  const go = useCallback(
    (to: number | null) => {
      if (to !== null)
        void navigate({ pathname: `/incidents/${to}`, search: query }, { replace: number === undefined });
    },
    [navigate, query, number],
  );
  const change = (next: QueueFilters) => {
    // Two changes may come before the first is drawn: each is made to the address as it stands.
    const standing = readFilters(new URLSearchParams(window.location.search));
    const merged = { ...standing, ...changedFilters(filters, next) };
    void navigate(
      { pathname: chosen ? `/incidents/${chosen}` : '/incidents', search: writeFilters(merged) },
      { replace: true },
    );
  };
  const numbers = rows.map((row) => row.number);
  useHotkeys('j', () => go(neighbour(numbers, chosen, 1)), [numbers, chosen, go]);
  useHotkeys('k', () => go(neighbour(numbers, chosen, -1)), [numbers, chosen, go]);
  useHotkeys('/', () => searchBox.current?.focus(), { preventDefault: true, useKey: true });
  return (
    <div className="@container h-full">
      <div className="grid h-full grid-cols-[372px_minmax(0,1fr)_256px] @max-[1000px]:grid-cols-[290px_minmax(0,1fr)] @max-[1000px]:grid-rows-[minmax(0,1fr)_auto]">
        <Queue
          page={page.data}
          error={page.error}
          chosen={chosen}
          filters={filters}
          onFilters={change}
          onChoose={go}
          searchBox={searchBox}
        />
        <section aria-label="Evidence" className="overflow-auto border-x border-rule bg-sheet" tabIndex={-1}>
          {chosen === null && page.data && (
            <Empty title="No incident matches">
              New incidents appear here at once. Remove a filter, or send a mail from the mail stand-in.
            </Empty>
          )}
          {incident.isError && (
            <div className="p-6">
              <Notice look="stop">{errorSentence(incident.error)}</Notice>
            </div>
          )}
          {chosen !== null && incident.isPending && <Loading what={`incident ${chosen}`} />}
          {incident.data && <Evidence key={incident.data.number} incident={incident.data} />}
        </section>
        <aside
          aria-label="Decision"
          className="overflow-auto p-4 @max-[1000px]:col-start-2 @max-[1000px]:max-h-60 @max-[1000px]:border-t @max-[1000px]:border-l @max-[1000px]:border-rule"
        >
          {incident.data && <Decision key={incident.data.number} incident={incident.data} />}
        </aside>
      </div>
    </div>
  );
}
