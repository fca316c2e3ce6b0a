import { join } from 'node:path';
import type { Work } from '@lantern/contracts/discovery';
import type { Label } from '@lantern/core/labels';
import type { ReadingPool } from './reading/reading-pool.js';
import { type FolderStore, moveOver, putBack, quarantine } from './stores/folder.js';

/** What an act takes beside the item. */
interface Means {
  readonly store: FolderStore;
  /** The folder that items go to; null for acts that move nothing. */
  readonly to: FolderStore | null;
  /** Of the reader: quarantine lies there. */
  readonly folder: string;
  readonly labels: readonly Label[];
  readonly pool: ReadingPool | null;
}

/** Null where it was done, otherwise why not. */
export async function actOn(
  { store, to, folder, labels, pool }: Means,
  work: Extract<Work, { kind: 'act' }>,
  { id, path }: { readonly id: string; readonly path: string },
): Promise<string | null> {
  const whole = store.pathOf(path);
  const kept = join(folder, 'quarantine', work.place.id, id);
  switch (work.act) {
    case 'label': {
      const label = labels.find((each) => each.id === work.label?.id);
      if (!label || !pool) return 'no-such-label';
      return pool.label({ path: whole, owner: work.place.owner, label, by: work.by });
    }
    case 'quarantine':
      await quarantine(whole, kept, noteFor(work));
      return null;
    case 'move':
      return to ? moveOver(whole, to.pathOf(path)) : 'not-allowed';
    case 'put-back': {
      const done = await putBack(kept, whole);
      return done === 'done' ? null : done === 'taken' ? 'something-stands-there' : 'not-here';
    }
  }
}

function noteFor({ by, place }: Extract<Work, { kind: 'act' }>): string {
  return [
    'This file was put into quarantine, because of what it holds.',
    `Put there by: ${by}`,
    `Ask about it: ${place.owner || 'the data security desk'}`,
    'It can be put back. Nothing was deleted.',
    '',
  ].join('\n');
}
