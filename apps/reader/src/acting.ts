import { lstat, mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Work } from '@lantern/contracts/discovery';
import type { Label } from '@lantern/core/labels';
import { COMPANION_ENDING } from '@lantern/files';
import { moveFile } from './stores/move-file.js';
import type { ReadingPool } from './reading/reading-pool.js';
import { type FolderStore, putBack, quarantine } from './stores/folder.js';

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
      return moveOver(whole, path, to);
    case 'put-back': {
      const done = await putBack(kept, whole);
      return done === 'done' ? null : done === 'taken' ? 'something-stands-there' : 'not-here';
    }
  }
}

/** A file with the label beside it, at the same path; dates, owner and rights stay where the disk is the same. */
async function moveOver(whole: string, path: string, to: FolderStore | null): Promise<string | null> {
  if (!to) return 'not-allowed';
  const there = to.pathOf(path);
  // Moved before, by a reader that fell silent before it could say so.
  if (!(await isThere(whole))) return (await isThere(there)) ? null : 'enoent';
  if (await isThere(there)) return 'something-stands-there';
  await mkdir(dirname(there), { recursive: true });
  await moveFile(whole, there);
  if (await isThere(whole + COMPANION_ENDING))
    await moveFile(whole + COMPANION_ENDING, there + COMPANION_ENDING);
  return null;
}

const isThere = (path: string): Promise<boolean> =>
  lstat(path).then(
    () => true,
    () => false,
  );

function noteFor({ by, place }: Extract<Work, { kind: 'act' }>): string {
  return [
    'This file was put into quarantine, because of what it holds.',
    `Put there by: ${by}`,
    `Ask about it: ${place.owner || 'the data security desk'}`,
    'It can be put back. Nothing was deleted.',
    '',
  ].join('\n');
}
