import { FolderStore } from './folder.js';
import type { OpenStore, StoreOpening } from './store.js';

/** Opens a place by its kind; each package is loaded when its kind is asked for. Throws a {@link StoreFault}. */
export async function openStore(opening: StoreOpening): Promise<OpenStore> {
  switch (opening.store) {
    case 'folder':
      return FolderStore.open(opening);
    case 'webdav':
      return (await import('./webdav.js')).WebdavStore.open(opening);
    case 'objects':
      return (await import('./objects.js')).ObjectStore.open(opening);
    case 'mailbox':
      return (await import('./mailbox.js')).MailboxStore.open(opening);
    case 'tables':
      return (await import('./tables.js')).TableStore.open(opening);
  }
}
