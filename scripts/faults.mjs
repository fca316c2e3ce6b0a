/**
 * `npm run faults`: a server and a database of its own, on loopback, under load and hostile files, killed and frozen.
 * Says what was accepted, refused, lost and doubled, how long the server said nothing, and how much memory it took;
 * ends with 1 where something was lost or doubled, or where nothing was said for more than two seconds.
 * `npm run faults -- load ends` does only what is named.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { constants, setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { startApplication } from './lib/application.mjs';
import { ensureBuilt, ensureCommandsBuilt } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { hostileBodies, hostileFiles } from './lib/faults/hostile.mjs';
import { Watch } from './lib/faults/watch.mjs';
import { ROOT } from './lib/paths.mjs';
import { freePort } from './lib/processes.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';
import { readSecrets } from './lib/secrets.mjs';
import { keepRunning, whenParentIsGone } from './lib/supervise.mjs';

/** Mails, and as many movements, that are sent at once. */
const AT_ONCE = 200;
/** Mails and movements under way while a part is killed or frozen. */
const UNDER_FAULT = 60;
const FROZEN_MS = 5_000;
/** The longest that the server may say nothing where nothing was done to it. */
const MOST_SILENCE_MS = 2_000;
/** After a fault the next one waits until all is well again; longer is a fault of ours. */
const WELL_WITHIN_MS = 120_000;

async function startParts(folder, stops) {
  const secrets = readSecrets(join(folder, 'secrets.json'));
  // The ports are this run's own, whatever else runs on the machine.
  for (const name of ['LANTERN_SMTP_PORT', 'LANTERN_POST_PORT']) process.env[name] = String(await freePort());
  const port = await freePort();
  let reached;
  const log = join(folder, 'mariadb.log');
  const database = await keepRunning(
    'The database',
    async () => (reached = await startDatabase(folder, secrets.databasePassword, reached?.port)),
    { log },
  );
  stops.push(database);
  say('Loading the demo …');
  const server = await keepRunning(
    'The server',
    () =>
      startApplication({
        ...{ port, database: reached, folder, demo: 'merrow' },
        arguments: ['--import', join(ROOT, 'scripts/lib/faults/loop-delay.mjs')],
      }),
    { log: join(folder, 'logs', 'server.log') },
  );
  stops.push(server);
  return { database, server, reached: () => reached, port, smtp: Number(process.env.LANTERN_SMTP_PORT) };
}

/** Faults by what is done, to which part, and whether the server may be silent meanwhile. */
const FAULTS = [
  ['the server is killed', 'server', 'kill', true],
  ['the server is frozen', 'server', 'freeze', true],
  ['the database is killed', 'database', 'kill', false],
  ['the database is frozen', 'database', 'freeze', false],
];

async function doTo(child, what) {
  if (what === 'kill') return child.kill('SIGKILL');
  child.kill('SIGSTOP');
  await wait(FROZEN_MS);
  child.kill('SIGCONT');
}

async function underFault([name, part, what, excused], parts, clients, watch) {
  say(`\n${name}, with ${UNDER_FAULT} mails and ${UNDER_FAULT} movements under way …`);
  watch.during = name;
  const work = clients.sendAll(UNDER_FAULT, name.replaceAll(' ', '-'));
  await wait(400);
  if (excused) watch.excuse(true);
  await doTo(parts[part].part.child, what);
  await watch.untilWell(WELL_WITHIN_MS);
  if (excused) watch.excuse(false);
  await work;
}

function report(figures) {
  for (const [name, value] of Object.entries(figures)) say(`  ${name.padEnd(75)} ${value}`);
}

/** They load packages, which a fresh machine has once its dependencies are installed. */
async function loadClients() {
  const [{ Clients }, { countKept }] = await Promise.all([
    import('./lib/faults/clients.mjs'),
    import('./lib/faults/kept.mjs'),
  ]);
  return { Clients, countKept };
}

/** Everything in turn; whether all was well. */
async function runAll(folder, stops, asked, { Clients, countKept }) {
  const parts = await startParts(folder, stops);
  // The clients play other machines: what they do must not take the processor from the server.
  setPriority(constants.priority.PRIORITY_LOW);
  const clients = new Clients(parts, parts.server.part.accounts);
  await clients.open();
  const watch = new Watch(parts);
  stops.push(watch);
  const before = await countKept(parts.reached());

  const stages = {
    load: () => {
      say(`\n${AT_ONCE} mails and ${AT_ONCE} movements at once …`);
      return clients.sendAll(AT_ONCE, 'at-once');
    },
    bodies: () => hostileBodies(parts.port),
    files: () => hostileFiles(clients, folder, watch),
    ends: async () => {
      for (const fault of FAULTS) await underFault(fault, parts, clients, watch);
    },
  };
  const results = {};
  for (const name of asked) {
    watch.during = name;
    results[name] = await stages[name]();
  }
  const { files = { made: 0, unanswered: [] }, bodies = { letIn: 0 } } = results;
  await watch.untilWell(WELL_WITHIN_MS);

  const { lost, doubled } = (await countKept(parts.reached(), before)).against(clients.accepted);
  say('');
  report({
    accepted: clients.accepted.size,
    'refused for the moment, and sent again': clients.refused,
    'refused for good': clients.refusedForGood,
    lost,
    doubled,
    'hostile files': files.made,
    'hostile files without an answer': files.unanswered.join(', ') || 'none',
    'hostile requests let in without signing in': bodies.letIn,
    'longest silence of the server (ms)': `${watch.longestSilence} (${watch.silentDuring})`,
    'longest that its own work held up its event loop (ms)': `${watch.longestOwn} (${watch.ownDuring})`,
    'longest hold-up of its event loop, waiting for a processor included (ms)': `${watch.longestBlock} (${watch.blockedDuring})`,
    'largest memory of the server (MB)': watch.serverMegabytes,
    'largest memory of a process that reads files (MB)': watch.readerMegabytes,
  });
  const amiss = lost + doubled + clients.refusedForGood + files.unanswered.length + bodies.letIn;
  const well = amiss === 0 && watch.longestSilence <= MOST_SILENCE_MS;
  say(
    well ? '\nNothing was lost, nothing was doubled, and the server always answered.' : '\nThis is not well.',
  );
  return well;
}

const STAGES = ['load', 'bodies', 'files', 'ends'];

runMain(async () => {
  const given = process.argv.slice(2);
  const unknown = given.find((name) => !STAGES.includes(name));
  if (unknown)
    throw new PlainFailure(`"${unknown}" is no part of the fault run.`, `There are: ${STAGES.join(', ')}.`);
  const asked = STAGES.filter((name) => given.length === 0 || given.includes(name));
  const folder = mkdtempSync(join(tmpdir(), 'lantern-faults-'));
  const stops = [];
  let stopping;
  const stopAll = () =>
    (stopping ??= (async () => {
      for (const part of stops.reverse()) await part.stop();
      rmSync(folder, { recursive: true, force: true });
    })());
  const leave = () => void stopAll().finally(() => process.exit(1));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, leave);
  whenParentIsGone(leave);
  try {
    await ensureDependencies();
    await ensureBuilt();
    await ensureCommandsBuilt();
    if (!(await runAll(folder, stops, asked, await loadClients()))) process.exitCode = 1;
  } finally {
    await stopAll();
  }
});
