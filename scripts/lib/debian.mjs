import { existsSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { capture } from './processes.mjs';
import { PlainFailure, say } from './say.mjs';

/** Folders in which Debian puts servers, searched beside PATH. */
const SERVER_FOLDERS = ['/usr/sbin', '/usr/local/sbin', '/sbin'];

/** Full path of a program, or undefined. */
export function findProgram(name) {
  const folders = [...(process.env.PATH ?? '').split(delimiter), ...SERVER_FOLDERS];
  return folders.map((folder) => join(folder, name)).find((path) => existsSync(path));
}

/** Installs Debian packages when `program` is missing; says so, and says what to do where that is not possible. */
export async function demandProgram(program, packages) {
  const present = findProgram(program);
  if (present) return present;
  const byHand = `Install it and run this again: sudo apt-get install ${packages.join(' ')}`;
  if (!findProgram('apt-get'))
    throw new PlainFailure(`${program} is missing and this machine has no apt-get.`, byHand);
  if (process.getuid?.() !== 0)
    throw new PlainFailure(`${program} is missing and this account may not install packages.`, byHand);
  say(`Installing ${packages.join(', ')} from Debian's packages …`);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive', LC_ALL: 'C' };
  await capture('apt-get', ['update', '-q'], { env: environment });
  const { code, output } = await capture(
    'apt-get',
    ['install', '-y', '-q', '--no-install-recommends', ...packages],
    { env: environment },
  );
  const installed = findProgram(program);
  if (code !== 0 || !installed) {
    const last = output.trim().split('\n').slice(-3).join('\n');
    throw new PlainFailure(`Installing ${packages.join(', ')} did not work:\n${last}`, byHand);
  }
  return installed;
}
