import { ITEM_FIELD_TABLE, type ItemField, type ItemGroup } from '@lantern/core/discovery';
import { allOf, parseFilterOver, printFilter } from '@lantern/core/incidents';
import { useState } from 'react';
import { useFacets } from '../../../data/discovery';
import { useItemGroups } from '../../../data/discovery-follow-up';
import {
  GROUP_WORDS,
  groupName,
  ITEM_FIELD_WORDS,
  number,
  REACH_WORDS,
  reasonWords,
  STATE_WORDS,
} from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { narrowed } from './narrowed';

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
export function Facets({
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
      {GATHERED.map((group) => (
        <GatheredFacet key={group} group={group} filter={filter} onNarrow={onNarrow} />
      ))}
    </nav>
  );
}

/** Facets that are gathered from every item's path and time: counted once somebody opens them. */
const GATHERED = ['folder', 'age'] as const satisfies readonly ItemGroup[];
/** Folders shown; the table of groups has them all. */
const MOST_GATHERED = 12;

function GatheredFacet({
  group,
  filter,
  onNarrow,
}: {
  readonly group: (typeof GATHERED)[number];
  readonly filter: string;
  readonly onNarrow: (line: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const groups = useItemGroups(filter, open ? group : '');
  return (
    <details className="mb-2.5" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary className="min-h-6 cursor-pointer text-ink-2">{GROUP_WORDS[group]}</summary>
      {open && groups.error && <p className="text-stop">{errorSentence(groups.error)}</p>}
      {open && groups.isPending && <p className="text-ink-2">Counting …</p>}
      <ul>
        {(open ? (groups.data?.rows ?? []) : []).slice(0, MOST_GATHERED).map(({ values, items }) => (
          <li key={values[0]?.line ?? ''}>
            <button
              type="button"
              className="flex min-h-6 w-full items-baseline gap-2 text-left hover:bg-press-soft"
              onClick={() => onNarrow(narrowed(filter, values))}
            >
              <span className="min-w-0 flex-1 truncate text-press" title={values[0]?.name}>
                {groupName(group, values[0]?.name ?? '')}
              </span>
              <span className="text-ink-2">{number(items)}</span>
            </button>
          </li>
        ))}
      </ul>
      {open && (groups.data?.rows.length ?? 0) > MOST_GATHERED && (
        <p className="text-ink-2">The {MOST_GATHERED} with the most items. Group by folder to see all.</p>
      )}
    </details>
  );
}

function shownName(field: ItemField, name: string): string {
  if (field === 'state') return STATE_WORDS[name as keyof typeof STATE_WORDS] ?? name;
  if (field === 'reach') return REACH_WORDS[name as keyof typeof REACH_WORDS] ?? name;
  return field === 'reason' ? reasonWords(name) : name;
}
