import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { commandLine, isAlive } from './processes.mjs';
import { PlainFailure, say } from './say.mjs';

/** Keeps two start commands from sharing one data folder. A file that a killed run left behind is passed over. */
export function takeLock(file) {
  if (existsSync(file)) {
    const { pid, address } = readLock(file);
    if (isAlive(pid) && /start\.mjs|dev\.mjs/.test(commandLine(pid))) {
      throw new PlainFailure(
        `Uncut Lantern is already running as process ${pid}${address ? ` on ${address}` : ''}.`,
        `Open it there, or stop it first: kill ${pid}`,
      );
    }
  }
  mkdirSync(dirname(file), { recursive: true });
  const write = (address) => writeFileSync(file, JSON.stringify({ pid: process.pid, address }));
  write('');
  return { announce: write, release: () => rmSync(file, { force: true }) };
}

/** Asked this often whether the other one is done, in milliseconds. */
const EVERY = 500;

/** Waits until no other living process has `file`, and takes it; the result gives it back. */
export async function takeTurn(file, waiting) {
  mkdirSync(dirname(file), { recursive: true });
  for (let told = false; ; told = true) {
    try {
      writeFileSync(file, JSON.stringify({ pid: process.pid }), { flag: 'wx' });
      return () => rmSync(file, { force: true });
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
    }
    const { pid } = readLock(file);
    // Nothing readable in it is a process that begins to write, unless it stays so.
    if (pid > 0 ? !isAlive(pid) : told) rmSync(file, { force: true });
    else {
      if (!told) say(waiting);
      await new Promise((resolve) => setTimeout(resolve, EVERY));
    }
  }
}

function readLock(file) {
  try {
    const { pid, address } = JSON.parse(readFileSync(file, 'utf8'));
    return { pid: Number(pid), address: String(address ?? '') };
  } catch {
    return { pid: -1, address: '' };
  }
}
