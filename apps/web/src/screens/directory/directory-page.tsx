import type { ReactNode } from 'react';
import { useMay } from '../../data/session';
import { AreaPage } from '../../ui/area-page';
import { Notice } from '../../ui/notice';

const PARTS = [
  ['/administration/directory', 'People'],
  ['/administration/directory/groups', 'Groups'],
  ['/administration/directory/machines', 'Machines and places'],
  ['/administration/directory/import', 'Import'],
  ['/administration/directory/organisation', 'Domains and partners'],
] as const;

/** Frame of every screen of the directory. */
export function DirectoryPage({ bar, children }: { readonly bar?: ReactNode; readonly children: ReactNode }) {
  const may = useMay('people.manage');
  return (
    <AreaPage title="Directory" parts={PARTS} bar={may ? bar : undefined}>
      {may ? (
        children
      ) : (
        <div className="px-5 py-4">
          <Notice>Your account may not change the directory. An administrator can.</Notice>
        </div>
      )}
    </AreaPage>
  );
}
