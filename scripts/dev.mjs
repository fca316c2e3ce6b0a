/** `npm run dev`: the same installation, server and web reloading as their sources change. */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { startApplication } from './lib/application.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { takeLock } from './lib/lock.mjs';
import { DATA, ROOT } from './lib/paths.mjs';
import { demandPort, stopProcess } from './lib/processes.mjs';
import { runMain, say } from './lib/say.mjs';
import { readSecrets } from './lib/secrets.mjs';

const SERVER_PORT = Number(process.env.SERVER_PORT ?? 4601);
const WEB_PORT = Number(process.env.PORT ?? 4600);

function watch(script, args, env = {}) {
  const child = spawn(process.execPath, [join(ROOT, script), ...args], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  return { stop: () => stopProcess(child.pid) };
}

/** Starts every part in order, noting each in `started` so that all can be stopped again. */
async function startParts(started) {
  await demandPort(WEB_PORT);
  await demandPort(SERVER_PORT);
  await ensureDependencies();
  await ensureBuilt();
  const secrets = readSecrets(join(DATA, 'secrets.json'));
  const database = await startDatabase(DATA, secrets.databasePassword);
  started.push(database);
  started.push(watch('node_modules/typescript/bin/tsc', ['-b', '--watch', '--preserveWatchOutput']));
  const watched = ['packages/core', 'packages/contracts', 'packages/files', 'demo', 'apps/server'];
  const paths = watched.map((folder) => `--watch-path=${join(ROOT, folder, 'dist')}`);
  started.push(
    await startApplication({
      port: SERVER_PORT,
      database,
      folder: DATA,
      demo: 'merrow',
      arguments: ['--watch', ...paths],
    }),
  );
  const vite = ['apps/web', '--port', String(WEB_PORT), '--strictPort', '--host', '127.0.0.1'];
  started.push(
    watch('node_modules/vite/bin/vite.js', vite, { LANTERN_SERVER: `http://127.0.0.1:${SERVER_PORT}` }),
  );
}

/** Waits until the web part answers, so that the address that is printed can be opened at once. */
async function untilListening(port) {
  for (let attempt = 0; attempt < 100; attempt += 1) {
    try {
      await fetch(`http://127.0.0.1:${port}/`);
      return;
    } catch {
      await wait(200);
    }
  }
}

runMain(async () => {
  const lock = takeLock(join(DATA, 'running.json'));
  const started = [];
  const stop = async () => {
    for (const part of started.reverse()) await part.stop();
    lock.release();
  };
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => stop().finally(() => process.exit(0)));
  try {
    await startParts(started);
    await untilListening(WEB_PORT);
    say(
      `\nDeveloping on http://127.0.0.1:${WEB_PORT}; the API is on port ${SERVER_PORT}. Ctrl-C stops both.`,
    );
  } catch (error) {
    await stop();
    throw error;
  }
});
