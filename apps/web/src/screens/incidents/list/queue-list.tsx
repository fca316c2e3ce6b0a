import type { GroupRow, IncidentRow, MatchRow, MovementRow } from '@lantern/contracts';
import type { FieldName } from '@lantern/core/incidents';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import type { ListedRow } from '../../../data/queue';
import { isPicked, type Picked } from '../../../stores/desk-store';
import { Loading, Notice } from '../../../ui/notice';
import { LISTED_WORDS } from '../../../wording/desk';
import { errorSentence } from '../../../wording/errors';
import type { DeskState } from '../desk-state';
import { GroupLine } from './group-line';
import { IncidentLine, MatchLine, MovementLine } from './rows';

/** What stands in the list, in its order. */
export type ListItem =
  | { readonly kind: 'row'; readonly key: string; readonly row: ListedRow }
  | {
      readonly kind: 'group';
      readonly key: string;
      readonly group: GroupRow;
      readonly filter: string;
      readonly isOpen: boolean;
    };

const HEIGHTS = { compact: 37, detailed: 56 } as const;
/** Rows before the end at which the next page is fetched. */
const AHEAD = 20;

interface Props {
  readonly state: DeskState;
  /** The filter that the rows stand under: of the open group, or of the list. */
  readonly rowsFilter: string;
  readonly items: readonly ListItem[];
  readonly by: readonly FieldName[];
  readonly chosen: string | null;
  readonly picked: Picked;
  readonly error: Error | null;
  readonly isLoading: boolean;
  readonly onChoose: (item: ListItem) => void;
  readonly onPick: ((number: number, isUnder: boolean) => void) | undefined;
  readonly onPickGroup: ((item: Extract<ListItem, { kind: 'group' }>) => void) | undefined;
  /** Fetches the next page; absent at the end. */
  readonly onMore: (() => void) | undefined;
}

/** One list for every kind of row: only what is in sight is drawn, and pages are fetched as it is scrolled. */
export function QueueList({
  state,
  rowsFilter,
  items,
  by,
  chosen,
  picked,
  error,
  isLoading,
  onChoose,
  onPick,
  onPickGroup,
  onMore,
}: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const height = HEIGHTS[state.density];
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    getItemKey: (index) => items[index]?.key ?? index,
    overscan: 10,
  });
  useEffect(() => virtual.measure(), [virtual, height]);
  const index = items.findIndex(({ key }) => key === chosen);
  useEffect(() => {
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
  }, [index, virtual]);
  const shown = virtual.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (onMore && last >= items.length - AHEAD) onMore();
  }, [onMore, last, items.length]);
  return (
    <>
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      {isLoading && items.length === 0 && <Loading what="the list" />}
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
        <ol
          className="relative"
          style={{ height: virtual.getTotalSize() }}
          aria-label={LISTED_WORDS[state.listed]}
        >
          {shown.map((item) => {
            const listed = items[item.index];
            return listed ? (
              <li
                key={listed.key}
                aria-setsize={onMore ? -1 : items.length}
                aria-posinset={item.index + 1}
                className="absolute inset-x-0 top-0"
                style={{ height, transform: `translateY(${item.start}px)` }}
              >
                {listed.kind === 'group' ? (
                  <GroupLine
                    by={by}
                    group={listed.group}
                    isOpen={listed.isOpen}
                    chosen={listed.key === chosen}
                    onOpen={() => onChoose(listed)}
                    onPick={onPickGroup && (() => onPickGroup(listed))}
                  />
                ) : (
                  <Line
                    state={state}
                    rowsFilter={rowsFilter}
                    row={listed.row}
                    chosen={listed.key === chosen}
                    picked={picked}
                    onChoose={() => onChoose(listed)}
                    onPick={onPick}
                  />
                )}
              </li>
            ) : null;
          })}
        </ol>
      </div>
    </>
  );
}

interface LineProps {
  readonly state: DeskState;
  readonly rowsFilter: string;
  readonly row: ListedRow;
  readonly chosen: boolean;
  readonly picked: Picked;
  readonly onChoose: () => void;
  readonly onPick: ((number: number, isUnder: boolean) => void) | undefined;
}

function Line({ state, rowsFilter, row, chosen, picked, onChoose, onPick }: LineProps) {
  if ('policy' in row) return <MatchLine row={row as MatchRow} chosen={chosen} onChoose={onChoose} />;
  if (!('number' in row))
    return <MovementLine row={row as MovementRow} chosen={chosen} onChoose={onChoose} />;
  const incident = row as IncidentRow;
  // Rows of an open group stand under its filter, and under that of the whole list.
  const isUnder = (filter: string) => filter === state.filter || filter === rowsFilter;
  return (
    <IncidentLine
      row={incident}
      chosen={chosen}
      detailed={state.density === 'detailed'}
      picked={isPicked(picked, incident.number, isUnder)}
      onChoose={onChoose}
      onPick={onPick && (() => onPick(incident.number, picked.kind !== 'all' || isUnder(picked.filter)))}
    />
  );
}
