import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, openSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './paths.mjs';
import { capture, stopProcess } from './processes.mjs';

const MAIN = join(ROOT, 'apps/reader/dist/main.js');
/** One: the demo shares its machine with whoever looks at it. */
const PROCESSES = '1';

/**
 * Enrols a reader on this machine with the code that the demo was loaded with, once, for the demo's places. Returns
 * whether there is a reader now.
 */
export async function enrolReader({ address, code, folder }) {
  const data = join(folder, 'reader');
  if (existsSync(join(data, 'reader.json'))) return true;
  if (!code) return false;
  mkdirSync(data, { recursive: true, mode: 0o700 });
  // A folder that plays a stick: it is watched, so that whoever copies something there sees what happens.
  mkdirSync(join(folder, 'stick'), { recursive: true });
  const { code: exit } = await capture(process.execPath, [
    ...[MAIN, 'enrol', '--address', address, '--code', code, '--name', 'shares-01', '--data', data],
    ...['--may-read', join(folder, 'places'), '--may-read', join(folder, 'stick')],
  ]);
  return exit === 0;
}

/** Starts the enrolled reader. Returns its process and how to stop it. */
export function startReader({ folder }) {
  mkdirSync(join(folder, 'logs'), { recursive: true, mode: 0o700 });
  const log = openSync(join(folder, 'logs', 'reader.log'), 'a');
  const child = spawn(
    process.execPath,
    [MAIN, 'run', '--data', join(folder, 'reader'), '--processes', PROCESSES],
    { cwd: ROOT, stdio: ['ignore', log, log, 'ipc'] },
  );
  return { child, stop: () => stopProcess(child.pid) };
}
