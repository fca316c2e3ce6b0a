import { lstat, mkdir, opendir, realpath, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { COMPANION_ENDING, MAX_FILE_BYTES } from '@lantern/files/reading';
import { moveFile } from './move-file.js';
import { type OpenStore, type StoreContent, StoreFault, type StoreItem, type StoreOpening } from './store.js';

/** Name of the note that stands where an item was taken away. */
export const NOTE_ENDING = '.in-quarantine.txt';

/** A folder or mounted share of this machine. Links are not followed, and nothing but plain files is opened. */
export class FolderStore implements OpenStore {
  private constructor(readonly root: string) {}

  static async open({ address, allowed }: StoreOpening): Promise<FolderStore> {
    const root = await realpath(resolve(address.at)).catch((error: NodeJS.ErrnoException) => {
      throw new StoreFault(error.code === 'EACCES' ? 'not-allowed' : 'no-such-place');
    });
    const roots = await Promise.all(
      allowed.map((path) => realpath(resolve(path)).catch(() => resolve(path))),
    );
    if (!roots.some((path) => isWithin(path, root))) throw new StoreFault('not-allowed');
    if (!(await stat(root)).isDirectory()) throw new StoreFault('wrong-address');
    await opendir(root).then(
      (folder) => folder.close(),
      () => {
        throw new StoreFault('not-allowed');
      },
    );
    return new FolderStore(root);
  }

  async *list(skips: (folder: string) => boolean): AsyncIterable<StoreItem> {
    const folders = [''];
    for (let below = folders.pop(); below !== undefined; below = folders.pop()) {
      // Opened as a stream: a folder of a million files is never held whole.
      const folder = await opendir(join(this.root, below)).catch(() => null);
      if (!folder) continue;
      for await (const entry of folder) {
        const path = below === '' ? entry.name : `${below}/${entry.name}`;
        if (entry.isDirectory()) {
          if (!skips(path)) folders.push(path);
        } else if (entry.isFile() && !isOurs(entry.name)) {
          const item = await this.itemOf(path);
          if (item) yield item;
        }
      }
    }
  }

  async content(path: string): Promise<StoreContent> {
    const whole = this.pathOf(path);
    try {
      const facts = await lstat(whole);
      if (!facts.isFile()) return { kind: 'unreadable', reason: 'no-file' };
      // Told by its size, before a byte is read: a sparse file can claim a terabyte. A text may be read in pieces.
      return facts.size > MAX_FILE_BYTES
        ? { kind: 'path', path: whole, large: facts.size }
        : { kind: 'path', path: whole };
    } catch (error) {
      return (error as NodeJS.ErrnoException).code === 'ENOENT'
        ? { kind: 'gone' }
        : { kind: 'unreadable', reason: 'not-allowed' };
    }
  }

  /** Path on disk of an item; throws where it would leave the place. */
  pathOf(path: string): string {
    const whole = resolve(this.root, path);
    if (!isWithin(this.root, whole) || whole === this.root) throw new StoreFault('wrong-address');
    return whole;
  }

  close(): Promise<void> {
    return Promise.resolve();
  }

  private async itemOf(path: string): Promise<StoreItem | null> {
    try {
      const { size, mtimeMs, ino } = await lstat(join(this.root, path));
      // A companion holds the label of the file beside it: a new label is a new version.
      const label = await lstat(join(this.root, path + COMPANION_ENDING)).then(
        (facts) => `+${facts.mtimeMs}`,
        () => '',
      );
      const changedAt = new Date(mtimeMs).toISOString();
      return { path, bytes: size, changedAt, marker: `${mtimeMs}-${size}-${ino}${label}` };
    } catch {
      // Gone between listing and looking, or of a time nobody can write.
      return null;
    }
  }
}

/** Moves a file to where only this reader can open it, and leaves a note in its place. */
export async function quarantine(whole: string, kept: string, note: string): Promise<void> {
  await mkdir(dirname(kept), { recursive: true, mode: 0o700 });
  await moveFile(whole, kept);
  await writeFile(whole + NOTE_ENDING, note, { mode: 0o644 });
}

/** Puts a file back where it was; refused where something else stands there by now. */
export async function putBack(kept: string, whole: string): Promise<'done' | 'taken' | 'not-here'> {
  if (!(await exists(kept))) return 'not-here';
  if (await exists(whole)) return 'taken';
  await mkdir(dirname(whole), { recursive: true });
  await moveFile(kept, whole);
  await rm(whole + NOTE_ENDING, { force: true });
  return 'done';
}

/**
 * Moves a file and the label beside it to another path. Dates go with it, and so do owner and rights where the account may
 * set them. Null where it was done, otherwise why not.
 */
export async function moveOver(whole: string, there: string): Promise<string | null> {
  // Moved before, by a reader that fell silent before it could say so.
  if (!(await exists(whole))) return (await exists(there)) ? null : 'enoent';
  if (await exists(there)) return 'something-stands-there';
  await mkdir(dirname(there), { recursive: true });
  await moveFile(whole, there);
  const label = whole + COMPANION_ENDING;
  if (await exists(label)) await moveFile(label, there + COMPANION_ENDING);
  return null;
}

const exists = (path: string): Promise<boolean> =>
  lstat(path).then(
    () => true,
    () => false,
  );

/** Files that we put there: they are no items of their own. */
const isOurs = (name: string): boolean => name.endsWith(COMPANION_ENDING) || name.endsWith(NOTE_ENDING);

export const isWithin = (outer: string, inner: string): boolean => {
  const way = relative(outer, inner);
  return way === '' || (!way.startsWith(`..${sep}`) && way !== '..' && !way.startsWith(sep));
};
