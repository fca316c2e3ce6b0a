/** `npm start`: sets up what is missing, starts database and server, and stops both again. */
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { startApplication } from './lib/application.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { takeLock } from './lib/lock.mjs';
import { enrolReader, startReader } from './lib/reader.mjs';
import { DATA, TRAIL_HEADS } from './lib/paths.mjs';
import { demandPort } from './lib/processes.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';
import { readSecrets } from './lib/secrets.mjs';
import { sweepTrail } from './lib/trail.mjs';
import { keepRunning, whenParentIsGone } from './lib/supervise.mjs';

const DEFAULT_PORT = 4600;

const OPTIONS = ['--reset', '--empty', '--yes'];

function readArguments(given) {
  const unknown = given.find((argument) => !OPTIONS.includes(argument));
  if (unknown) {
    throw new PlainFailure(
      `"${unknown}" is not an option.`,
      'npm start -- --reset empties and reloads the demo; npm start -- --empty starts without it.',
    );
  }
  const [reset, empty, yes] = OPTIONS.map((option) => given.includes(option));
  return { reset, empty, yes };
}

/** Emptying deletes everything, so it is asked about; where nobody can answer, `--yes` must say so. */
async function confirmReset({ reset, yes }) {
  if (!reset || yes || !existsSync(join(DATA, 'mariadb'))) return;
  if (!process.stdin.isTTY)
    throw new PlainFailure(
      'Emptying deletes every movement, incident, policy and account in this installation.',
      'To do that without being asked: npm start -- --reset --yes',
    );
  const ask = createInterface({ input: process.stdin, output: process.stdout });
  const answer = await ask.question(
    'This deletes every movement, incident, policy and account in this installation. Type "delete" to go on: ',
  );
  ask.close();
  if (answer.trim() !== 'delete')
    throw new PlainFailure('Nothing was deleted.', 'Start without --reset to keep it.');
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
  for (const name of [
    'mariadb',
    'mariadb.log',
    'secrets.json',
    'keeper.json',
    'places',
    'uploads',
    'reader',
    TRAIL_HEADS,
  ])
    rmSync(join(folder, name), { recursive: true, force: true });
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
  return { started, stop };
}

/** A server that answers nothing for so long is stuck, and is started again. */
const STUCK_AFTER_MS = 60_000;
const LOOK_EVERY_MS = 5_000;
const SWEEP_TRAIL_EVERY_MS = 86_400_000;

/** Ends a server that no longer answers at all, so that it is started again; a database that is silent is not its fault. */
function watchHealth(server, port) {
  let silentSince = null;
  const timer = setInterval(async () => {
    if (await answersAnything(port)) silentSince = null;
    else silentSince ??= Date.now();
    if (silentSince === null || Date.now() - silentSince < STUCK_AFTER_MS) return;
    silentSince = null;
    say('The server does not answer any more; ending it.');
    server.part.child.kill('SIGKILL');
  }, LOOK_EVERY_MS);
  timer.unref();
}

async function answersAnything(port) {
  try {
    await fetch(`http://127.0.0.1:${port}/api/health`, { signal: AbortSignal.timeout(LOOK_EVERY_MS) });
    return true;
  } catch {
    return false;
  }
}

/** Starts database and server, each kept running for as long as this command does. */
async function startParts({ port, secrets, demo }, { started, giveUp }) {
  say('Starting the database …');
  let reached;
  const database = await keepRunning(
    'The database',
    async () => (reached = await startDatabase(DATA, secrets.databasePassword, reached?.port)),
    { log: '.data/mariadb.log', onGivenUp: () => giveUp('The database cannot be kept running.') },
  );
  started.push(database);
  say('Starting the server …');
  const server = await keepRunning(
    'The server',
    () => startApplication({ port, database: reached, folder: DATA, demo }),
    { log: '.data/logs/server.log', onGivenUp: () => giveUp('The server cannot be kept running.') },
  );
  started.push(server);
  started.push(keepSweepingTrail(() => reached));
  watchHealth(server, port);
  await startDemoReader(server.part.readerCode, port, started);
  return server.part.accounts;
}

/** Deletes the oldest part of the audit trail where it is old enough; the server's own account may not. */
function keepSweepingTrail(database) {
  const sweep = async () => {
    try {
      const { status, from, to } = await sweepTrail(DATA, database());
      if (status === 'deleted') say(`Entries ${from} to ${to} of the audit trail were deleted by age.`);
      if (status === 'not-whole')
        say('The audit trail is not whole, so nothing of it is deleted. See: npm run -s trail -- verify');
    } catch (error) {
      say(`The audit trail could not be looked through: ${error?.code ?? error?.message}`);
    }
  };
  void sweep();
  const timer = setInterval(() => void sweep(), SWEEP_TRAIL_EVERY_MS);
  return { stop: async () => clearInterval(timer) };
}

/** The demo's reader is an extra: where it cannot run, the workbench does, and says that nobody reads. */
async function startDemoReader(code, port, started) {
  const address = `http://127.0.0.1:${port}`;
  if (!(await enrolReader({ address, code, folder: DATA }))) return;
  const reader = await keepRunning('The reader', () => Promise.resolve(startReader({ folder: DATA })), {
    log: '.data/logs/reader.log',
  });
  started.push(reader);
}

runMain(async () => {
  // What is kept is for the account that runs this, and for nobody else on the machine.
  process.umask(0o077);
  const choices = readArguments(process.argv.slice(2));
  const port = readPort();
  const lock = takeLock(join(DATA, 'running.json'));
  const { started, stop } = stopper(lock);
  const stopAndLeave = (code) => stop().finally(() => process.exit(code));
  const leave = () => {
    say('\nStopping …');
    stopAndLeave(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, leave);
  whenParentIsGone(leave);
  try {
    await demandPort(port);
    await ensureDependencies();
    await ensureBuilt();
    await confirmReset(choices);
    if (choices.reset) clear(DATA);
    if (existsSync(join(DATA, 'mariadb')) && !existsSync(join(DATA, 'secrets.json'))) {
      throw new PlainFailure(
        `${join(DATA, 'secrets.json')} is gone, and the kept evidence cannot be read without its key.`,
        'Put it back, or begin anew: npm start -- --reset',
      );
    }
    const secrets = readSecrets(join(DATA, 'secrets.json'));
    const giveUp = (why) => {
      say(`${why} Nothing that was saved is lost. Start again with npm start.`);
      stopAndLeave(1);
    };
    const accounts = await startParts(
      { port, secrets, demo: choices.empty ? 'none' : 'merrow' },
      { started, giveUp },
    );
    const address = `http://127.0.0.1:${port}`;
    lock.announce(address);
    announce(address, accounts);
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
