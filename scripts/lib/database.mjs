import { createHash } from 'node:crypto';
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir, totalmem, userInfo } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { demandProgram } from './debian.mjs';
import { demandRoom } from './dependencies.mjs';
import { capture, commandLine, freePort, isAlive, stopProcess } from './processes.mjs';
import { PlainFailure, say } from './say.mjs';
import { KEEPER, readKeeperPassword, trailGrants, trailTables } from './trail-database.mjs';

const DATABASE = 'lantern';
const USER = 'app';
/** Starting takes under a second; recovery after a kill of a large database takes longer. */
const READY_WITHIN_MS = 90_000;
/** Redo log and first tables take about this much. */
const NEEDED_BYTES = 400_000_000;

/**
 * Starts a MariaDB instance of our own: data in `folder`, a free loopback port or the `wanted` one, durable
 * settings. A system instance is never touched. Returns how to reach it and how to stop it. With `numbered`, its
 * account may also make databases of the same name with a number behind it, one for each process of tests; with
 * `restoring`, it may also fill the audit trail, until the next start. One that is not `durable` waits for no disk, and is for
 * tests alone: it survives whatever happens to the server that asks it, and no loss of power.
 */
export async function startDatabase(
  folder,
  password,
  wanted,
  { numbered = false, restoring = false, durable = true } = {},
) {
  const server = await demandProgram('mariadbd', ['mariadb-server']);
  const data = join(folder, 'mariadb');
  const pidFile = join(folder, 'mariadb.pid');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  await stopLeftover(pidFile, data);
  if (!existsSync(join(data, 'mysql'))) await createDataFolder(data);
  // A database that is started again is found where it was.
  const port = wanted ?? (await freePort());
  const initFile = join(folder, 'first-statements.sql');
  const keeperPassword = readKeeperPassword(join(folder, 'keeper.json'));
  const statements = firstStatements({ password, keeperPassword, numbered, restoring });
  writeFileSync(initFile, statements, { mode: 0o600 });
  const log = join(folder, 'mariadb.log');
  const child = spawn(server, options({ data, pidFile, port, initFile, durable }), {
    stdio: ['ignore', openSync(log, 'a'), openSync(log, 'a')],
  });
  await untilReady(child, port, log);
  rmSync(initFile, { force: true });
  return {
    host: '127.0.0.1',
    port,
    user: USER,
    password,
    database: DATABASE,
    keeper: { user: KEEPER, password: keeperPassword },
    child,
    stop: () => stopProcess(child.pid),
  };
}

/** Half the time of making and dropping tables, a third of that of small transactions (measured). */
const NOT_DURABLE = [
  '--innodb-flush-log-at-trx-commit=0',
  '--innodb-doublewrite=0',
  '--innodb-flush-method=nosync',
];

/** Memory that the database keeps pages in, in bytes: a quarter of the machine's. It is taken as pages are read, not at the start. */
const poolBytes = (memory) => Math.max(LEAST_POOL_BYTES, Math.floor(memory / 4));
/** With less, a few thousand incidents no longer fit. */
const LEAST_POOL_BYTES = 256 * 1024 * 1024;

function options({ data, pidFile, port, initFile, durable }) {
  const socket = join(
    tmpdir(),
    `lantern-${createHash('sha256').update(data).digest('hex').slice(0, 10)}.sock`,
  );
  return [
    '--no-defaults',
    `--user=${userInfo().username}`,
    `--datadir=${data}`,
    `--pid-file=${pidFile}`,
    `--socket=${socket}`,
    `--port=${port}`,
    `--init-file=${initFile}`,
    '--bind-address=127.0.0.1',
    '--skip-name-resolve',
    '--character-set-server=utf8mb4',
    '--collation-server=utf8mb4_unicode_ci',
    '--default-time-zone=+00:00',
    ...(durable ? ['--innodb-flush-log-at-trx-commit=1'] : NOT_DURABLE),
    `--innodb-buffer-pool-size=${poolBytes(totalmem())}`,
    '--max-allowed-packet=128M',
    '--sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION',
  ];
}

/** Accounts are made anew at each start, so that they may what this says and nothing that was granted before. */
function firstStatements({ password, keeperPassword, numbered, restoring }) {
  const made = (user, given) => [
    `DROP USER IF EXISTS '${user}'@'127.0.0.1';`,
    `CREATE USER '${user}'@'127.0.0.1' IDENTIFIED BY '${given}';`,
  ];
  const trails = `trail\\_of\\_${DATABASE}`;
  return [
    `CREATE DATABASE IF NOT EXISTS ${DATABASE} CHARACTER SET utf8mb4;`,
    ...trailTables(DATABASE),
    ...made(USER, password),
    ...made(KEEPER, keeperPassword),
    `GRANT ALL ON ${DATABASE}.* TO '${USER}'@'127.0.0.1';`,
    ...trailGrants(trails, { user: USER, mayFill: restoring }),
    ...(numbered
      ? [
          `GRANT ALL ON \`${DATABASE}\\_%\`.* TO '${USER}'@'127.0.0.1';`,
          ...trailGrants(`${trails}\\_%`, { user: USER }),
        ]
      : []),
    '',
  ]
    .map((statement) => statement.replace(/\s*\n\s*/gu, ' '))
    .join('\n');
}

/** Stops an instance of ours that a killed start command left behind; any other process of that id is left alone. */
async function stopLeftover(pidFile, data) {
  if (!existsSync(pidFile)) return;
  const pid = Number.parseInt(readFileSync(pidFile, 'utf8'), 10);
  if (Number.isInteger(pid) && isAlive(pid) && commandLine(pid).includes(`--datadir=${data} `)) {
    say('Stopping the database that an earlier run left behind …');
    await stopProcess(pid);
  }
  rmSync(pidFile, { force: true });
}

async function createDataFolder(data) {
  demandRoom(join(data, '..'), NEEDED_BYTES);
  say('Creating the database …');
  const installer = await demandProgram('mariadb-install-db', ['mariadb-server']);
  rmSync(data, { recursive: true, force: true });
  const { code, output } = await capture(installer, [
    '--no-defaults',
    `--datadir=${data}`,
    `--user=${userInfo().username}`,
    '--auth-root-authentication-method=socket',
    '--skip-test-db',
  ]);
  if (code === 0) return;
  rmSync(data, { recursive: true, force: true });
  throw new PlainFailure(
    `The database could not be created:\n${output.trim().split('\n').slice(-4).join('\n')}`,
    'Mend that and run this again.',
  );
}

async function untilReady(child, port, log) {
  let ended = false;
  child.once('exit', () => (ended = true));
  for (let waited = 0; waited < READY_WITHIN_MS; waited += 100) {
    if (ended) break;
    if (await answers(port)) return;
    await wait(100);
  }
  if (!ended) await stopProcess(child.pid);
  const last = readFileSync(log, 'utf8')
    .trim()
    .split('\n')
    .filter((line) => /error/i.test(line))
    .slice(-3)
    .join('\n');
  throw new PlainFailure(
    `The database did not start. Its log says:\n${last || '(nothing)'}`,
    `The whole log is ${log}. If its data cannot be saved, "npm start -- --reset" begins anew with the demo.`,
  );
}

/** Whether a server greets on `port`: it speaks first in this protocol. */
function answers(port) {
  return new Promise((resolve) => {
    const socket = connect({ host: '127.0.0.1', port });
    const done = (yes) => {
      socket.destroy();
      resolve(yes);
    };
    socket.setTimeout(1000, () => done(false));
    socket.once('data', () => done(true));
    socket.once('error', () => done(false));
    socket.once('close', () => done(false));
  });
}
