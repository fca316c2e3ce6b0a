import { ITEM_ORDERS, type ItemOrder } from '@lantern/contracts/discovery';
import { ITEM_FIELD_TABLE, type ItemField } from '@lantern/core/discovery';
import { allOf, parseFilterOver, printFilter } from '@lantern/core/incidents';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useFacets, useItems } from '../../../data/discovery';
import { FilterLine } from '../../../shared/filter/filter-line';
import { Notice } from '../../../ui/notice';
import { ITEM_FIELD_WORDS, number, REACH_WORDS, reasonWords, STATE_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { DiscoveryPage } from '../discovery-page';
import { ActBar } from './act-bar';
import { ItemList } from './item-list';
import { ItemView } from './item-view';

const ORDER_WORDS: Readonly<Record<ItemOrder, string>> = {
  holding: 'What holds most first',
  path: 'By path',
  bytes: 'Largest first',
  changed: 'Changed last first',
  count: 'Most findings first',
};

/** Everything that readers found, under any filter. */
export function ItemsPage() {
  const [search, setSearch] = useSearchParams();
  const filter = search.get('filter') ?? '';
  const asked = search.get('order');
  const order = ITEM_ORDERS.find((each) => each === asked) ?? 'holding';
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
        <div className="flex items-start gap-4 border-b border-rule px-5 py-2">
          <FilterLine
            line={filter}
            fields={ITEM_FIELD_TABLE}
            placeholder='sensitive eq true and reach ge "outside" and not (label pr)'
            useValues={useItemValues}
            onChange={narrow}
          />
          <select
            aria-label="Order"
            className="field !w-48 !py-1"
            value={order}
            onChange={({ target }) =>
              change({ order: target.value === 'holding' ? '' : target.value, item: '' })
            }
          >
            {ITEM_ORDERS.map((value) => (
              <option key={value} value={value}>
                {ORDER_WORDS[value]}
              </option>
            ))}
          </select>
        </div>
        {items.error && <Notice look="stop">{errorSentence(items.error)}</Notice>}
        <div className="grid min-h-0 flex-1 grid-cols-[190px_minmax(0,1fr)_minmax(0,420px)]">
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
            <ItemList
              rows={rows}
              chosen={chosen}
              picked={picked}
              onChoose={(id) => change({ item: id })}
              onPick={pick}
              onMore={
                items.hasNextPage && !items.isFetchingNextPage ? () => void items.fetchNextPage() : undefined
              }
            />
            {picked.size > 0 && <ActBar items={[...picked]} onDone={() => setPicked(new Set())} />}
          </section>
          <section aria-label="One item" className="min-h-0 overflow-auto px-4 py-3">
            {chosen && <ItemView key={chosen} id={chosen} />}
          </section>
        </div>
      </div>
    </DiscoveryPage>
  );
}

/** Values of a field that begin alike, out of the facets of everything. */
function useItemValues(field: ItemField | null, begun: string): readonly string[] {
  const facets = useFacets('');
  const values = field === null ? [] : (facets.data?.[field] ?? []);
  return values.map(({ name }) => name).filter((name) => name.toLowerCase().startsWith(begun.toLowerCase()));
}

const SHOWN = [
  'pattern',
  'place',
  'state',
  'label',
  'suggested',
  'reach',
  'ending',
  'reason',
  'owner',
] as const;

/** Values of the filtered items, each with its count; pressing one narrows the list to it. */
function Facets({
  filter,
  onNarrow,
}: {
  readonly filter: string;
  readonly onNarrow: (line: string) => void;
}) {
  const facets = useFacets(filter);
  const parsed = parseFilterOver(ITEM_FIELD_TABLE, filter);
  const to = (field: ItemField, value: string): string => {
    const more = { kind: 'compare', field, operator: 'eq', value } as const;
    return printFilter(parsed.status === 'read' ? allOf<ItemField>([parsed.filter, more]) : more);
  };
  return (
    <nav aria-label="Narrow down" className="min-h-0 overflow-auto px-3 py-2 text-[12.5px]">
      {SHOWN.map((field) => {
        const values = facets.data?.[field] ?? [];
        if (values.length === 0) return null;
        return (
          <section key={field} aria-label={ITEM_FIELD_WORDS[field]} className="mb-2.5">
            <h2>{ITEM_FIELD_WORDS[field]}</h2>
            <ul>
              {values.map(({ value, name, count }) => (
                <li key={value}>
                  <button
                    type="button"
                    className="flex min-h-6 w-full items-baseline gap-2 text-left hover:bg-press-soft"
                    onClick={() => onNarrow(to(field, name))}
                  >
                    <span className="min-w-0 flex-1 truncate text-press" title={name}>
                      {shownName(field, name)}
                    </span>
                    <span className="text-ink-2">{number(count)}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </nav>
  );
}

function shownName(field: ItemField, name: string): string {
  if (field === 'state') return STATE_WORDS[name as keyof typeof STATE_WORDS] ?? name;
  if (field === 'reach') return REACH_WORDS[name as keyof typeof REACH_WORDS] ?? name;
  return field === 'reason' ? reasonWords(name) : name;
}
