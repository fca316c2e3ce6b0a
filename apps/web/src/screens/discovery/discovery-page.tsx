import type { ReactNode } from 'react';
import { AreaPage } from '../../ui/area-page';

const PARTS = [
  ['/discovery', 'Places'],
  ['/discovery/runs', 'Jobs and runs'],
  ['/discovery/items', 'What was found'],
  ['/discovery/machines', 'Machines'],
] as const;

/** Frame of every screen of Discovery. */
export function DiscoveryPage({ bar, children }: { readonly bar?: ReactNode; readonly children: ReactNode }) {
  return (
    <AreaPage title="Discovery" parts={PARTS} bar={bar}>
      {children}
    </AreaPage>
  );
}

/** Address of the list of items under a filter. */
export const itemsPath = (filter: string): string => `/discovery/items?${new URLSearchParams({ filter })}`;
