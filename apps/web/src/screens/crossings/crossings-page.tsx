import type { ReactNode } from 'react';
import { AreaPage } from '../../ui/area-page';

const PARTS = [
  ['/automations', 'Flows and assistants'],
  ['/automations/breaches', 'Breaches'],
  ['/automations/sets', 'Data flow rules'],
  ['/automations/services', 'Services'],
] as const;

/** Frame of every screen of Automations. */
export function CrossingsPage({ bar, children }: { readonly bar?: ReactNode; readonly children: ReactNode }) {
  return (
    <AreaPage title="Automations" parts={PARTS} bar={bar}>
      {children}
    </AreaPage>
  );
}
