import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

/** Screens of Discovery, by what stands on them. */
const PARTS = [
  ['/discovery', 'Places'],
  ['/discovery/runs', 'Jobs and runs'],
  ['/discovery/items', 'What was found'],
  ['/discovery/readers', 'Readers'],
] as const;

/** The frame of every screen of Discovery. */
export function DiscoveryPage({ bar, children }: { readonly bar?: ReactNode; readonly children: ReactNode }) {
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-[49px] shrink-0 items-end gap-5 border-b border-rule bg-paper px-5 pt-3">
        <h1 className="pb-1">Discovery</h1>
        <nav aria-label="Parts of Discovery" className="flex gap-1">
          {PARTS.map(([to, name]) => (
            <NavLink
              key={to}
              end
              to={to}
              className={({ isActive }) =>
                `border-b-2 px-2 pb-1 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`
              }
            >
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-2 pb-1.5">{bar}</div>
      </div>
      <div className="min-h-0 flex-1">{children}</div>
    </div>
  );
}

/**
 * What an address chooses out of a list: the first where it names none, and nothing while one that was just saved is
 * still on its way, so that no button acts on another one meanwhile.
 */
export function chosenOf<Row extends { readonly id: string }>(
  rows: readonly Row[] | undefined,
  id: string | null,
  isFetching: boolean,
): Row | undefined {
  const named = rows?.find((row) => row.id === id);
  if (named || (id !== null && isFetching)) return named;
  return rows?.[0];
}

/** Address of the list of items under a filter. */
export const itemsPath = (filter: string): string => `/discovery/items?${new URLSearchParams({ filter })}`;
