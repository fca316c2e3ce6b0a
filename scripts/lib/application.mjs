import { spawn } from 'node:child_process';
import { mkdirSync, openSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { ROOT, TRAIL_HEADS } from './paths.mjs';
import { stopProcess } from './processes.mjs';
import { PlainFailure, say } from './say.mjs';

/** Loading the demo judges twenty thousand movements, on a slow machine beside other work. It says how far it is. */
const HEALTHY_WITHIN_MS = 600_000;

/**
 * Starts the server on `port` with its database and the secrets of `folder`, passes on what it says, and waits until it is healthy.
 * `demo` is 'merrow' or 'none'. Returns its accounts, a code for the demo's reader, its process and how to stop it.
 */
export async function startApplication({ port, database, folder, demo, arguments: extra = [] }) {
  for (const name of ['logs', 'places', 'uploads'])
    mkdirSync(join(folder, name), { recursive: true, mode: 0o700 });
  const logFile = join(folder, 'logs', 'server.log');
  const log = openSync(logFile, 'a');
  const environment = {
    ...process.env,
    NODE_ENV: 'production',
    PORT: String(port),
    LANTERN_DATABASE: JSON.stringify({
      host: database.host,
      port: database.port,
      username: database.user,
      database: database.database,
    }),
    LANTERN_DATABASE_PASSWORD: database.password,
    LANTERN_SECRETS: join(folder, 'secrets.json'),
    LANTERN_DEMO: demo,
    LANTERN_PLACES: join(folder, 'places'),
    LANTERN_UPLOADS: join(folder, 'uploads'),
    LANTERN_TRAIL_HEADS: join(folder, TRAIL_HEADS),
  };
  const child = spawn(
    process.execPath,
    ['--enable-source-maps', ...extra, join(ROOT, 'apps/server/dist/main.js')],
    {
      cwd: ROOT,
      env: environment,
      stdio: ['ignore', log, log, 'ipc'],
    },
  );
  const told = { accounts: [], readerCode: null, ended: false };
  child.on('message', (message) => {
    if (message?.say) say(message.say);
    if (message?.accounts) told.accounts = message.accounts;
    if (message?.readerCode) told.readerCode = message.readerCode;
  });
  child.once('exit', () => (told.ended = true));
  await untilHealthy(child, port, told, logFile);
  return { accounts: told.accounts, readerCode: told.readerCode, child, stop: () => stopProcess(child.pid) };
}

async function untilHealthy(child, port, told, logFile) {
  for (let waited = 0; waited < HEALTHY_WITHIN_MS && !told.ended; waited += 150) {
    if (await healthy(port)) return;
    await wait(150);
  }
  if (!told.ended) await stopProcess(child.pid);
  const last = readFileSync(logFile, 'utf8').trim().split('\n').at(-1) ?? '';
  throw new PlainFailure(
    `The server did not start. The last line of its log:\n${last.slice(0, 600)}`,
    `The whole log is ${logFile}.`,
  );
}

async function healthy(port) {
  try {
    const answer = await fetch(`http://127.0.0.1:${port}/api/health`);
    return answer.ok && (await answer.json()).status === 'ok';
  } catch {
    return false;
  }
}
