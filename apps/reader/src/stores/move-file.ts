import { constants } from 'node:fs';
import { chown, copyFile, lstat, open, rename, rm, utimes } from 'node:fs/promises';

/** Moves a file, also to another disk: then it is written there whole before it goes here. */
export async function moveFile(from: string, to: string): Promise<void> {
  try {
    await rename(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
    await copyWhole(from, to);
    await rm(from);
  }
}

async function copyWhole(from: string, to: string): Promise<void> {
  const before = await lstat(from);
  try {
    await copyFile(from, to, constants.COPYFILE_EXCL);
    // Dates and owner go with it; an account that may not give files away keeps the copy.
    await utimes(to, before.atime, before.mtime);
    await chown(to, before.uid, before.gid).catch(() => undefined);
    const handle = await open(to, 'r+');
    try {
      await handle.sync();
    } finally {
      await handle.close();
    }
    const [now, copy] = await Promise.all([lstat(from), lstat(to)]);
    if (now.mtimeMs !== before.mtimeMs || now.size !== copy.size)
      throw new Error('The file was written while it was moved');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') await rm(to, { force: true });
    throw error;
  }
}
