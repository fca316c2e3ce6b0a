import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { open, readFile, rename } from 'node:fs/promises';
import { dirname } from 'node:path';

/** What the file of secrets holds beside other things. */
interface Secrets {
  readonly masterKey?: string;
  /** From before there were data keys. */
  readonly evidenceKey?: string;
  /** Master keys that some data keys are still wrapped with, while they are changed. */
  readonly earlierKeys?: readonly string[];
}

/** 64 hexadecimal digits as a key; throws an Error that names `where` it came from. */
export function keyFrom(written: string | undefined, where: string): Buffer {
  if (!written || !/^[0-9a-f]{64}$/iu.test(written))
    throw new Error(`${where} must be 64 hexadecimal digits`);
  return Buffer.from(written, 'hex');
}

/** Master keys of a file of secrets, the newest first. */
export function readMasterKeys(file: string): Buffer[] {
  const { masterKey, evidenceKey, earlierKeys = [] } = JSON.parse(readFileSync(file, 'utf8')) as Secrets;
  return [masterKey ?? evidenceKey, ...earlierKeys].map((key) => keyFrom(key, `Each master key in ${file}`));
}

export const newMasterKey = (): Buffer => randomBytes(32);

/** Writes master keys into the file of secrets: it holds the old ones or the new ones, also where the power goes. */
export async function writeMasterKeys(file: string, [newest, ...earlier]: readonly Buffer[]): Promise<void> {
  if (!newest) throw new Error('There is no master key');
  const {
    evidenceKey: _old,
    earlierKeys: _earlier,
    ...rest
  } = JSON.parse(await readFile(file, 'utf8')) as Secrets;
  const secrets: Secrets = {
    ...rest,
    masterKey: newest.toString('hex'),
    ...(earlier.length > 0 ? { earlierKeys: earlier.map((key) => key.toString('hex')) } : {}),
  };
  const part = `${file}.part`;
  const handle = await open(part, 'w', 0o600);
  try {
    await handle.writeFile(JSON.stringify(secrets, null, 2));
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(part, file);
  // The new name is on the disk before any key depends on it.
  const folder = await open(dirname(file), 'r');
  try {
    await folder.sync();
  } finally {
    await folder.close();
  }
}
