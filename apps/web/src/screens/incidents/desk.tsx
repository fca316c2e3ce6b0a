import type { IncidentDetail, MovementRow } from '@lantern/contracts';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useDeskViews, usePresence } from '../../data/desk';
import { useIncident } from '../../data/incidents';
import { type ListedRow } from '../../data/queue';
import { useLimited, useMay } from '../../data/session';
import { useWaiting } from '../../data/waiting';
import { Beam } from '../../shared/beam/beam';
import { useDesk } from '../../stores/desk-store';
import { Key } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CHANNEL_WORDS } from '../../wording/terms';
import { exactTime } from '../../wording/times';
import { DeskBar } from './bar/desk-bar';
import { BulkPanel } from './decide/bulk-panel';
import { Decision } from './decide/decision';
import { type DeskState, neighbour, readDesk, writeDesk } from './desk-state';
import { type ListItem, QueueList } from './list/queue-list';
import { Alike } from './one/alike';
import { AroundIncident } from './one/around';
import { Case } from './one/case';
import { Evidence } from './one/evidence';
import { useDeskItems } from './use-desk-items';

type Tab = 'evidence' | 'around' | 'alike' | 'case';

/** The queue, one incident and its decision side by side; the queue never loses its place. */
export function IncidentsDesk() {
  const { number } = useParams();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const searchBox = useRef<HTMLInputElement>(null);
  const filterButton = useRef<HTMLButtonElement>(null);
  const state = useMemo(() => readDesk(search), [search]);
  useFirstView(search, number);
  const desk = useDeskItems(state);
  const may = useMay('incidents.decide');
  const { picked, toggle, clear, pickAll } = useDesk();
  const [tab, setTab] = useState<Tab>('evidence');
  const [movement, setMovement] = useState<MovementRow | null>(null);
  const [place, setPlace] = useState<string | null>(null);
  const [lastBulk, setLastBulk] = useState<string | null>(null);
  const firstRow = desk.items.find((item) => item.kind === 'row');
  const chosen = movement ? null : number === undefined ? incidentOf(firstRow) : Number(number);
  const incident = useIncident(chosen);
  const query = writeDesk(state);
  const key = place ?? keyOf(desk.items, chosen);
  const change = useCallback(
    (changed: Partial<DeskState>) => {
      // Two changes may come before the first is drawn: each is made to the address as it stands.
      const standing = readDesk(new URLSearchParams(window.location.search));
      const next = writeDesk({ ...standing, ...changed });
      void navigate({ pathname: window.location.pathname, search: next }, { replace: true });
      setPlace(null);
      setMovement(null);
      // What was picked under another filter may be out of sight now.
      if (changed.filter !== undefined || changed.group !== undefined) clear();
    },
    [navigate, clear],
  );
  const choose = (item: ListItem) => {
    setPlace(item.key);
    if (item.kind === 'group') {
      desk.toggleGroup(item.key);
      return;
    }
    const to = incidentOf(item);
    setMovement(to === null ? (item.row as MovementRow) : null);
    if (to !== null) void navigate({ pathname: `/incidents/${to}`, search: query });
  };
  const step = (by: 1 | -1) => {
    const next = neighbour(
      desk.items.map((item) => item.key),
      key,
      by,
    );
    const item = desk.items.find((one) => one.key === next);
    if (item?.kind === 'group') setPlace(item.key);
    else if (item) choose(item);
  };
  const current = desk.items.find((item) => item.key === key);
  const pickGroup = (item: Extract<ListItem, { kind: 'group' }>) =>
    pickAll({ filter: item.filter, total: item.group.incidents, what: 'All incidents of the group' });
  useDeskKeys({
    step,
    search: () => searchBox.current?.focus(),
    addFilter: () => filterButton.current?.click(),
    show: setTab,
    open: () => current?.kind === 'group' && desk.toggleGroup(current.key),
    pick: () => {
      if (!may) return;
      if (current?.kind === 'group') pickGroup(current);
      else if (chosen !== null)
        toggle(chosen, picked.kind !== 'all' || [state.filter, desk.rowsFilter].includes(picked.filter));
    },
    pickAll: () =>
      may && pickAll({ filter: state.filter, total: desk.total, what: 'Everything under the filter' }),
    clear,
  });
  return (
    <div className="@container flex h-full flex-col">
      <h1 className="sr-only">Incidents</h1>
      <DeskBar state={state} onChange={change} searchBox={searchBox} filterButton={filterButton} />
      <div className="grid min-h-0 flex-1 grid-cols-[392px_minmax(0,1fr)_252px] @max-[1000px]:grid-cols-[300px_minmax(0,1fr)] @max-[1000px]:grid-rows-[minmax(0,1fr)_auto]">
        <section aria-label="Queue" className="row-span-full flex min-h-0 flex-col">
          <ListHead state={state} total={desk.total} onRefresh={desk.refresh} mayPick={may} />
          <QueueList
            state={state}
            rowsFilter={desk.rowsFilter}
            items={desk.items}
            by={state.group}
            chosen={key}
            picked={picked}
            error={desk.error}
            isLoading={desk.isLoading}
            onChoose={choose}
            onPick={may && state.listed === 'incidents' ? toggle : undefined}
            onPickGroup={may ? pickGroup : undefined}
            onMore={desk.more}
          />
        </section>
        <section
          aria-label="Evidence"
          className="flex min-h-0 flex-col border-x border-rule bg-sheet"
          tabIndex={-1}
        >
          {chosen === null && !movement && !desk.isLoading && <NoneChosen total={desk.total} />}
          {movement && <MovementSummary row={movement} />}
          {chosen !== null && <OneIncident number={chosen} tab={tab} onTab={setTab} />}
        </section>
        <aside
          aria-label="Decision"
          className="flex flex-col gap-4 overflow-auto p-4 @max-[1000px]:col-start-2 @max-[1000px]:max-h-60 @max-[1000px]:border-t @max-[1000px]:border-l @max-[1000px]:border-rule"
        >
          {(lastBulk !== null || picked.kind !== 'none') && (
            <BulkPanel last={lastBulk} onBegun={setLastBulk} />
          )}
          {picked.kind === 'none' && incident.data && !movement && (
            <Decision key={incident.data.number} incident={incident.data} />
          )}
        </aside>
      </div>
    </div>
  );
}

/** What stands in the place of an incident while none is chosen. */
function NoneChosen({ total }: { readonly total: number }) {
  return (
    <Empty title={total === 0 ? 'No incident matches' : 'Choose a row'}>
      {total === 0 ? 'Remove a filter, or send a mail from the mail stand-in.' : 'Press J, or open a group.'}{' '}
      New incidents are announced above the list.
    </Empty>
  );
}

interface DeskKeys {
  readonly step: (by: 1 | -1) => void;
  readonly search: () => void;
  readonly addFilter: () => void;
  readonly show: (tab: Tab) => void;
  readonly open: () => void;
  readonly pick: () => void;
  readonly pickAll: () => void;
  readonly clear: () => void;
}

/** Keys of the desk; those of the decision stand with it. */
function useDeskKeys(keys: DeskKeys): void {
  const latest = useRef(keys);
  latest.current = keys;
  useHotkeys('j', () => latest.current.step(1));
  useHotkeys('k', () => latest.current.step(-1));
  useHotkeys('/', () => latest.current.search(), { preventDefault: true, useKey: true });
  useHotkeys('f', () => latest.current.addFilter(), { preventDefault: true });
  useHotkeys('e', () => latest.current.show('evidence'));
  useHotkeys('o', () => latest.current.show('around'));
  useHotkeys('a', () => latest.current.show('alike'));
  useHotkeys('p', () => latest.current.show('case'));
  useHotkeys('enter', (event) => {
    // A button or link in focus is pressed by this key already.
    if (!(event.target as HTMLElement).closest('button, a')) latest.current.open();
  });
  useHotkeys('x', () => latest.current.pick());
  useHotkeys('shift+x', () => latest.current.pickAll());
  useHotkeys('escape', () => latest.current.clear());
}

interface OneProps {
  readonly number: number;
  readonly tab: Tab;
  readonly onTab: (tab: Tab) => void;
}

/** One incident: its evidence, what surrounds it, its look-alikes, its case. */
function OneIncident({ number, tab, onTab }: OneProps) {
  const incident = useIncident(number);
  if (incident.isError)
    return (
      <div className="p-6">
        <Notice look="stop">{errorSentence(incident.error)}</Notice>
      </div>
    );
  if (!incident.data) return <Loading what={`incident ${number}`} />;
  const shown = tab === 'case' && incident.data.case === null ? 'evidence' : tab;
  return (
    <>
      <Tabs incident={incident.data} tab={shown} onTab={onTab} />
      <div className="min-h-0 flex-1 overflow-auto" key={`${number} ${shown}`}>
        {shown === 'evidence' && <Evidence incident={incident.data} />}
        {shown === 'around' && <AroundIncident incident={incident.data} />}
        {shown === 'alike' && <Alike number={number} />}
        {shown === 'case' && <Case number={number} />}
      </div>
    </>
  );
}

/** Opens the view that comes first for the account's role, where the address asks for nothing. */
function useFirstView(search: URLSearchParams, number: string | undefined): void {
  const navigate = useNavigate();
  const views = useDeskViews();
  const asked = useRef(search.size > 0 || number !== undefined);
  const first = views.data?.find((view) => view.first);
  useEffect(() => {
    if (asked.current || !first) return;
    asked.current = true;
    void navigate({ search: writeDesk(first.state) }, { replace: true });
  }, [first, navigate]);
}

/** Number of the incident that a row is about; null for a movement without one, and for groups. */
function incidentOf(item: ListItem | undefined): number | null {
  if (item?.kind !== 'row') return null;
  return numberOf(item.row);
}

const numberOf = (row: ListedRow): number | null => ('number' in row ? row.number : row.incident);

function keyOf(items: readonly ListItem[], chosen: number | null): string | null {
  if (chosen === null) return null;
  return items.find((item) => incidentOf(item) === chosen)?.key ?? null;
}

interface HeadProps {
  readonly state: DeskState;
  readonly total: number;
  readonly onRefresh: () => void;
  readonly mayPick: boolean;
}

/** What waits beside the queue, what came since, and everything picked at once. */
function ListHead({ state, total, onRefresh, mayPick }: HeadProps) {
  const waiting = useWaiting();
  const limited = useLimited();
  const { news, newsSeen, pickAll } = useDesk();
  const count = (waiting.data ?? []).filter((one) => one.state === 'waiting' && one.kind !== 'ask').length;
  return (
    <div className="flex flex-wrap items-center justify-between gap-2 border-b border-rule px-3.5 py-1 text-[12.5px]">
      <Link className="part" to="/incidents/waiting">
        {count === 0 ? 'No pending decisions' : `${count} pending ${count === 1 ? 'decision' : 'decisions'}`}
      </Link>
      {!limited && (
        <Link className="part" to="/incidents/routing">
          Routing
        </Link>
      )}
      {news > 0 && (
        <button
          type="button"
          className="rounded-[3px] bg-press px-1.5 text-press-text"
          onClick={() => {
            newsSeen();
            onRefresh();
          }}
        >
          {news} new, show
        </button>
      )}
      {mayPick && state.listed === 'incidents' && total > 0 && (
        <button
          type="button"
          className="part"
          onClick={() => pickAll({ filter: state.filter, total, what: 'Everything under the filter' })}
        >
          Pick all {total.toLocaleString('en-GB')}
        </button>
      )}
    </div>
  );
}

interface TabsProps {
  readonly incident: IncidentDetail;
  readonly tab: Tab;
  readonly onTab: (tab: Tab) => void;
}

function Tabs({ incident, tab, onTab }: TabsProps) {
  const presence = usePresence(incident.number);
  const tabs: readonly (readonly [Tab, string, string])[] = [
    ['evidence', 'Evidence', 'E'],
    ['around', 'Around', 'O'],
    ['alike', 'Look-alikes', 'A'],
    ...(incident.case === null ? [] : [['case', 'Case', 'P'] as const]),
  ];
  const others = presence.data?.others ?? [];
  return (
    <div className="flex items-center gap-1 border-b border-rule px-4 pt-1.5">
      <div role="tablist" aria-label="Incident" className="flex gap-1">
        {tabs.map(([id, words, letter]) => (
          <button
            key={id}
            type="button"
            role="tab"
            aria-selected={tab === id}
            className={`border-b-2 px-2 pb-1 ${tab === id ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`}
            onClick={() => onTab(id)}
          >
            {words} <Key>{letter}</Key>
          </button>
        ))}
      </div>
      {others.length > 0 && (
        <p role="status" className="ml-auto truncate text-[12.5px] text-ink-2">
          Also open for <b className="text-ink">{others.join(', ')}</b>
        </p>
      )}
    </div>
  );
}

/** A movement that no rule matched: what is known of it. Its content is kept only as the journal says. */
function MovementSummary({ row }: { readonly row: MovementRow }) {
  return (
    <section aria-label="Movement" className="px-5 py-3.5">
      <h1>{row.title ?? 'Movement without a title'}</h1>
      <div className="mt-1 mb-2">
        <Beam
          from={`${row.person.name}, ${row.person.department}`}
          by={CHANNEL_WORDS[row.channel]}
          to={row.destinations.join(', ')}
          answer={row.answer}
          lit={false}
          worded
        />
      </div>
      <p className="text-ink-2" title={exactTime(row.at)}>
        {new Date(row.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'medium' })}
        {row.machine && `, from ${row.machine}`}. No rule matched, so there is no incident and no evidence.
      </p>
    </section>
  );
}
