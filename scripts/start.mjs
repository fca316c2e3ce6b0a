/** `npm start`: sets up what is missing, starts database and server, and stops both again. */
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { startApplication } from './lib/application.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { takeLock } from './lib/lock.mjs';
import { DATA } from './lib/paths.mjs';
import { demandPort } from './lib/processes.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';
import { readSecrets } from './lib/secrets.mjs';

const DEFAULT_PORT = 4600;

function readArguments(given) {
  const unknown = given.find((argument) => argument !== '--reset' && argument !== '--empty');
  if (unknown) {
    throw new PlainFailure(
      `"${unknown}" is not an option.`,
      'npm start -- --reset empties and reloads the demo; npm start -- --empty starts without it.',
    );
  }
  return { reset: given.includes('--reset'), empty: given.includes('--empty') };
}

function readPort() {
  const port = Number(process.env.PORT ?? DEFAULT_PORT);
  if (Number.isInteger(port) && port > 0 && port < 65_536) return port;
  throw new PlainFailure(
    `PORT is "${process.env.PORT}", which is no port number.`,
    'Use a number from 1 to 65535: PORT=4700 npm start',
  );
}

function clear(folder) {
  say('Emptying the installation …');
  for (const name of ['mariadb', 'mariadb.log', 'secrets.json'])
    rmSync(join(folder, name), { recursive: true, force: true });
}

/** When a part ends by itself, says which, and stops the rest. */
function watchParts(database, application, { isStopping, stopAndLeave }) {
  const ended = (what) => () => {
    if (isStopping()) return;
    say(
      `${what} ended by itself. Stopping the rest; nothing that was saved is lost. Start again with npm start.`,
    );
    stopAndLeave(1);
  };
  application.child.once('exit', ended('The server (its log is .data/logs/server.log)'));
  database.child.once('exit', ended('The database (its log is .data/mariadb.log)'));
}

/** Stops everything in reverse order, once, however often it is asked to. */
function stopper(lock) {
  const started = [];
  let stopping;
  const stop = () => {
    stopping ??= (async () => {
      for (const part of started.reverse()) await part.stop();
      lock.release();
    })();
    return stopping;
  };
  return { started, stop, isStopping: () => stopping !== undefined };
}

runMain(async () => {
  const choices = readArguments(process.argv.slice(2));
  const port = readPort();
  const lock = takeLock(join(DATA, 'running.json'));
  const { started, stop, isStopping } = stopper(lock);
  const stopAndLeave = (code) => stop().finally(() => process.exit(code));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => {
      say('\nStopping …');
      stopAndLeave(0);
    });
  }
  try {
    await demandPort(port);
    await ensureDependencies();
    await ensureBuilt();
    if (choices.reset) clear(DATA);
    if (existsSync(join(DATA, 'mariadb')) && !existsSync(join(DATA, 'secrets.json'))) {
      throw new PlainFailure(
        `${join(DATA, 'secrets.json')} is gone, and the kept evidence cannot be read without its key.`,
        'Put it back, or begin anew: npm start -- --reset',
      );
    }
    const secrets = readSecrets(join(DATA, 'secrets.json'));
    say('Starting the database …');
    const database = await startDatabase(DATA, secrets.databasePassword);
    started.push(database);
    say('Starting the server …');
    const application = await startApplication({
      port,
      database,
      secrets,
      folder: DATA,
      demo: choices.empty ? 'none' : 'merrow',
    });
    started.push(application);
    watchParts(database, application, { isStopping, stopAndLeave });
    const address = `http://127.0.0.1:${port}`;
    lock.announce(address);
    announce(address, application.accounts);
  } catch (error) {
    await stop();
    throw error;
  }
});

function announce(address, accounts) {
  say(`\nUncut Lantern is up: ${address}`);
  for (const { email, password, name, may } of accounts) say(`  ${name}, ${may}: ${email} / ${password}`);
  say('Ctrl-C stops it.');
}
