import { ITEM_ORDERS } from '@lantern/contracts/discovery';
import { ITEM_GROUPS, type ItemGroup } from '@lantern/core/discovery';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useItems } from '../../../data/discovery';
import { Notice } from '../../../ui/notice';
import { number } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { DiscoveryPage } from '../discovery-page';
import { ActBar } from './act-bar';
import { Facets } from './facets';
import { ItemBar } from './item-bar';
import { ItemGroupTable } from './item-groups';
import { ItemList } from './item-list';
import { ItemView } from './item-view';

/** Everything that readers found, under any filter. */
export function ItemsPage() {
  const [search, setSearch] = useSearchParams();
  const filter = search.get('filter') ?? '';
  const asked = search.get('order');
  const order = ITEM_ORDERS.find((each) => each === asked) ?? 'holding';
  const by = groupsIn(search.get('by'));
  const items = useItems(filter, order);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const rows = items.data?.pages.flatMap((page) => page.items) ?? [];
  const chosen = search.get('item') ?? rows[0]?.id ?? null;
  const change = (next: Readonly<Record<string, string>>) => {
    const all = new URLSearchParams(search);
    for (const [name, value] of Object.entries(next)) {
      if (value === '') all.delete(name);
      else all.set(name, value);
    }
    setSearch(all, { replace: 'item' in next });
  };
  const narrow = (line: string) => {
    setPicked(new Set());
    change({ filter: line, item: '' });
  };
  const pick = (id: string) => {
    const next = new Set(picked);
    if (!next.delete(id)) next.add(id);
    setPicked(next);
  };
  return (
    <DiscoveryPage>
      <div className="flex h-full flex-col">
        <ItemBar
          question={{ filter, order, by }}
          onNarrow={narrow}
          onAsk={(next) => {
            setPicked(new Set());
            change({
              ...{ filter: next.filter, by: next.by.join(','), item: '' },
              order: next.order === 'holding' ? '' : next.order,
            });
          }}
        />
        {items.error && <Notice look="stop">{errorSentence(items.error)}</Notice>}
        <div
          className={`grid min-h-0 flex-1 ${by.length > 0 ? 'grid-cols-[190px_minmax(0,1fr)]' : 'grid-cols-[190px_minmax(0,1fr)_minmax(0,420px)]'}`}
        >
          <Facets filter={filter} onNarrow={narrow} />
          <section aria-label="Items" className="flex min-h-0 flex-col border-x border-rule">
            <div className="flex items-center border-b border-rule px-3 text-[12.5px]">
              <p role="status" className="py-1 text-ink-2">
                {items.data ? `${number(items.data.pages[0]?.total ?? 0)} items` : 'Loading the items …'}
                {picked.size > 0 && `, ${number(picked.size)} picked`}
              </p>
              <span className="ml-auto flex gap-3">
                {(['csv', 'jsonl'] as const).map((format) => (
                  <a
                    key={format}
                    className="part"
                    download
                    href={`/api/discovery/items/export?${new URLSearchParams({ filter, order, format })}`}
                  >
                    {format === 'csv' ? 'Export as CSV' : 'as JSON lines'}
                  </a>
                ))}
              </span>
            </div>
            {by.length > 0 && (
              <ItemGroupTable
                filter={filter}
                by={by}
                onOpen={(line) => change({ filter: line, by: '', item: '' })}
              />
            )}
            {by.length === 0 && (
              <ItemList
                rows={rows}
                chosen={chosen}
                picked={picked}
                onChoose={(id) => change({ item: id })}
                onPick={pick}
                onMore={
                  items.hasNextPage && !items.isFetchingNextPage
                    ? () => void items.fetchNextPage()
                    : undefined
                }
              />
            )}
            {picked.size > 0 && by.length === 0 && (
              <ActBar items={[...picked]} onDone={() => setPicked(new Set())} />
            )}
          </section>
          {by.length === 0 && (
            <section aria-label="One item" className="min-h-0 overflow-auto px-4 py-3">
              {chosen && <ItemView key={chosen} id={chosen} />}
            </section>
          )}
        </div>
      </div>
    </DiscoveryPage>
  );
}

/** Up to two things out of an address; what is none is left out. */
const groupsIn = (asked: string | null): ItemGroup[] =>
  (asked ?? '')
    .split(',')
    .flatMap((each) => ITEM_GROUPS.find((known) => known === each) ?? [])
    .slice(0, 2);
