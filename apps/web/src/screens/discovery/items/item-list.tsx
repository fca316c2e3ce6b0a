import type { ItemRow } from '@lantern/contracts/discovery';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { number, reasonWords, size, STATE_WORDS } from '../../../wording/discovery';

const HEIGHT = 52;
/** Rows before the end at which the next page is fetched. */
const AHEAD = 30;

interface Props {
  readonly rows: readonly ItemRow[];
  readonly chosen: string | null;
  readonly picked: ReadonlySet<string>;
  readonly onChoose: (id: string) => void;
  readonly onPick: (id: string) => void;
  readonly onMore: (() => void) | undefined;
}

/** Items, only those in sight drawn. */
export function ItemList({ rows, chosen, picked, onChoose, onPick, onMore }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => HEIGHT,
    getItemKey: (index) => rows[index]?.id ?? index,
    overscan: 8,
  });
  const shown = virtual.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (onMore && last >= rows.length - AHEAD) onMore();
  }, [onMore, last, rows.length]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
      <ol className="relative" style={{ height: virtual.getTotalSize() }} aria-label="Items found">
        {shown.map(({ index, start }) => {
          const row = rows[index];
          return row ? (
            <li
              key={row.id}
              aria-setsize={onMore ? -1 : rows.length}
              aria-posinset={index + 1}
              className={`absolute inset-x-0 top-0 flex items-center border-b border-rule ${row.id === chosen ? 'bg-sheet shadow-[inset_4px_0_0_var(--ink)]' : ''}`}
              style={{ height: HEIGHT, transform: `translateY(${start}px)` }}
            >
              <label className="flex h-full w-9 items-center justify-center">
                <input
                  type="checkbox"
                  aria-label={`Pick ${row.path}`}
                  checked={picked.has(row.id)}
                  onChange={() => onPick(row.id)}
                />
              </label>
              <button
                type="button"
                aria-current={row.id === chosen}
                className="min-w-0 flex-1 py-1 pr-3 text-left"
                onClick={() => onChoose(row.id)}
              >
                <span className="flex items-baseline gap-2">
                  <b className="truncate">{nameOf(row.path)}</b>
                  {row.quarantined && <span className="shrink-0 text-[12px]">in quarantine</span>}
                  <span className="ml-auto shrink-0 text-[12.5px] text-ink-2">
                    {row.label ?? size(row.bytes)}
                  </span>
                </span>
                <span className="flex gap-2 text-[12.5px] text-ink-2">
                  <span className="truncate">{holdsWords(row)}</span>
                  <span className="ml-auto shrink-0 truncate" title={row.path}>
                    {row.place.name}
                  </span>
                </span>
              </button>
            </li>
          ) : null;
        })}
      </ol>
    </div>
  );
}

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1) || path;

function holdsWords({ found, state, reason }: ItemRow): string {
  if (state === 'unreadable') return `Could not be read: ${reasonWords(reason)}`;
  if (state !== 'read') return STATE_WORDS[state];
  if (found.length === 0) return 'nothing found';
  return [...found]
    .sort((left, right) => right.certainty - left.certainty || right.count - left.count)
    .map(({ name, count, certainty }) => `${number(count)} ${name} (${certainty})`)
    .join(', ');
}
