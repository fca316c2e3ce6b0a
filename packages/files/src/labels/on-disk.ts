import { randomBytes } from 'node:crypto';
import { chmod, open, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { MAX_FILE_BYTES } from '../limits.js';
import { COMPANION_ENDING, readCompanion } from './companion.js';
import type { FileLabel, FileLabels, LabelNote, LabelRefusal, LabelToWrite } from './file-label.js';
import { readFileLabels, writeFileLabel } from './label-file.js';

/** What came of labelling a file on disk. */
export type DiskLabelling =
  | {
      readonly status: 'written' | 'beside' | 'unchanged';
      readonly before: FileLabel | null;
      readonly notes: readonly LabelNote[];
    }
  | {
      readonly status: 'refused';
      readonly before: FileLabel | null;
      /** `open`: somebody has it open in a program, or wrote it meanwhile. */
      readonly reason: LabelRefusal | 'read-only' | 'open';
    };

/** Bytes of a file; one over the limit at most, so that a huge one is refused and not read. */
export async function bytesOnDisk(path: string): Promise<Uint8Array> {
  const handle = await open(path, 'r');
  try {
    const { size } = await handle.stat();
    if (size > MAX_FILE_BYTES) return new Uint8Array(MAX_FILE_BYTES + 1);
    return await handle.readFile();
  } finally {
    await handle.close();
  }
}

/** The labels of a file, out of itself or out of the companion beside it. */
export async function labelsOnDisk(path: string, bytes?: Uint8Array): Promise<FileLabels> {
  const inside = await readFileLabels({ name: basename(path), bytes: bytes ?? (await bytesOnDisk(path)) });
  if (inside.own) return inside;
  try {
    const beside = readCompanion(await readFile(`${path}${COMPANION_ENDING}`));
    return beside.own ? { ...beside, foreign: inside.foreign } : inside;
  } catch {
    return inside;
  }
}

/** Any of the write bits: who runs the command may be allowed to write all the same, but the file says it should stay. */
const WRITE_BITS = 0o222;

/** Labels a file, or takes its label off: written beside, then put in its place, so that it is whole at every moment. */
export async function labelOnDisk(path: string, change: LabelToWrite | null): Promise<DiskLabelling> {
  const { mode, mtimeMs, size } = await stat(path);
  const bytes = await bytesOnDisk(path);
  const before = (await labelsOnDisk(path, bytes)).own;
  if ((mode & WRITE_BITS) === 0) return { status: 'refused', before, reason: 'read-only' };
  if (!change && !before) return { status: 'unchanged', before, notes: [] };
  if (await isOpen(path)) return { status: 'refused', before, reason: 'open' };
  const writing = await writeFileLabel({ name: basename(path), bytes }, change);
  switch (writing.status) {
    case 'refused':
      return { status: 'refused', before, reason: writing.reason };
    case 'written': {
      const now = await stat(path);
      // Written by somebody else while the label was put in: theirs stays.
      if (now.mtimeMs !== mtimeMs || now.size !== size) return { status: 'refused', before, reason: 'open' };
      await replaceFile(path, writing.bytes, mode);
      return { status: 'written', before, notes: writing.notes };
    }
    case 'beside': {
      const companion = `${path}${COMPANION_ENDING}`;
      if (writing.companion) await replaceFile(companion, writing.companion, mode);
      else await rm(companion, { force: true });
      return { status: 'beside', before, notes: [] };
    }
  }
}

/** Whether an office program says that it has a file open: each leaves a small file of its own beside it. */
async function isOpen(path: string): Promise<boolean> {
  const name = basename(path);
  const beside = [`.~lock.${name}#`, `~$${name}`, `~$${name.slice(2)}`].map((each) =>
    join(dirname(path), each),
  );
  const found = await Promise.all(
    beside.map((each) =>
      stat(each).then(
        () => true,
        () => false,
      ),
    ),
  );
  return found.includes(true);
}

/** Puts bytes in the place of a file in one step. */
export async function replaceFile(path: string, bytes: Uint8Array, mode: number): Promise<void> {
  const beside = join(dirname(path), `.${basename(path).slice(0, 100)}.${randomBytes(6).toString('hex')}`);
  try {
    await writeFile(beside, bytes, { flag: 'wx' });
    await chmod(beside, mode & 0o777);
    await rename(beside, path);
  } catch (error) {
    await rm(beside, { force: true });
    throw error;
  }
}
