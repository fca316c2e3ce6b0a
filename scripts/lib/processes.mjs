import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { setTimeout as wait } from 'node:timers/promises';
import { PlainFailure } from './say.mjs';

/** Runs a program to its end; resolves with its exit code. Output goes where `stdio` says. */
export function run(program, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: 'inherit', ...options });
    child.once('error', reject);
    child.once('exit', (code, signal) => resolve(code ?? (signal ? 1 : 0)));
  });
}

/** Runs a program and collects what it prints. */
export function capture(program, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let output = '';
    child.stdout.on('data', (chunk) => (output += chunk));
    child.stderr.on('data', (chunk) => (output += chunk));
    child.once('error', reject);
    child.once('exit', (code) => resolve({ code: code ?? 1, output }));
  });
}

export function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/** Command line of a process, or an empty string when it is gone. */
export function commandLine(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return '';
  }
}

/** Asks a process to stop, by its id, and makes sure after `patience` milliseconds. */
export async function stopProcess(pid, patience = 15_000) {
  if (!isAlive(pid)) return;
  process.kill(pid, 'SIGTERM');
  for (let waited = 0; waited < patience; waited += 50) {
    await wait(50);
    if (!isAlive(pid)) return;
  }
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It ended in the meantime.
  }
}

/** A loopback port nobody listens on. */
export function freePort() {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

/** Fails in words when `port` cannot be listened on. */
export function demandPort(port) {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error) => {
      const why =
        error.code === 'EADDRINUSE'
          ? 'is in use by another program'
          : 'cannot be listened on by this account';
      reject(new PlainFailure(`Port ${port} ${why}.`, `Choose another one: PORT=${port + 100} npm start`));
    });
    probe.listen(port, '127.0.0.1', () => probe.close(resolve));
  });
}
