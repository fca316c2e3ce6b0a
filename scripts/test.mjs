/**
 * `npm test`: sets up what is missing and runs every check. Stages can be named to run only those:
 * `npm test -- unit server`. Its database, ports and data are its own, so it runs beside `npm start`.
 */
import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { startApplication } from './lib/application.mjs';
import { ensureBuilt, ensureCommandsBuilt } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { demandProgram } from './lib/debian.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { BUILD, ROOT } from './lib/paths.mjs';
import { freePort, stopProcess } from './lib/processes.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';
import { enrolReader, startReader } from './lib/reader.mjs';
import { readSecrets } from './lib/secrets.mjs';
import { whenParentIsGone } from './lib/supervise.mjs';
import { testShare } from './lib/test-share.mjs';

/** On two cores. Each process of server tests keeps a server, its readers and a database at work: about 1.2 GB. */
const TEST_PROCESSES = 2;

const totals = { passed: 0, failed: 0, skipped: 0 };
/** What failed, by name: it stands at the end, where it is looked for. */
const failures = [];

function fail(name, count = 1) {
  totals.failed += count;
  failures.push(name);
}
const FOLDER = join(BUILD, `test-${process.pid}`);

/** What runs now, to be stopped where this command is ended: newest first. */
const running = [];

async function stopAll() {
  for (const part of running.splice(0).reverse()) await part.stop();
  rmSync(FOLDER, { recursive: true, force: true });
}

async function node(script, args, options = {}) {
  const child = spawn(process.execPath, [join(ROOT, script), ...args], {
    cwd: ROOT,
    stdio: 'inherit',
    ...options,
  });
  const part = { stop: () => stopProcess(child.pid) };
  running.push(part);
  const code = await new Promise((resolve, reject) => {
    child.once('error', reject);
    child.once('exit', (exit, signal) => resolve(exit ?? (signal ? 1 : 0)));
  });
  running.splice(running.indexOf(part), 1);
  return code;
}

async function check(what, script, args) {
  const code = await node(script, args);
  say(`\n── ${what}: ${code === 0 ? 'passed' : 'failed'}`);
  if (code === 0) totals.passed += 1;
  else fail(what);
}

async function jest(project, environment = {}) {
  say(`\n── ${project} tests`);
  const report = join(FOLDER, `${project}.json`);
  await node(
    'node_modules/jest/bin/jest.js',
    ['--selectProjects', project, '--json', `--outputFile=${report}`, `--maxWorkers=${TEST_PROCESSES}`],
    {
      env: { ...process.env, NODE_OPTIONS: '--experimental-vm-modules --no-warnings', ...environment },
      stdio: ['ignore', 'ignore', 'inherit'],
    },
  );
  if (!existsSync(report)) {
    fail(`${project} tests: no report`);
    return;
  }
  const { numPassedTests, numPendingTests, testResults } = JSON.parse(readFileSync(report, 'utf8'));
  totals.passed += numPassedTests;
  totals.skipped += numPendingTests;
  for (const file of testResults) {
    const failed = file.assertionResults.filter(({ status }) => status === 'failed');
    for (const { fullName } of failed) fail(`${relative(ROOT, file.name)}: ${fullName}`);
    // A file that does not even load, or fails beside its tests, counts as a failure of its own.
    if (file.status === 'failed' && failed.length === 0) fail(relative(ROOT, file.name));
  }
}

/** Runs `use` with a fresh database of its own. */
async function withDatabase(name, use) {
  const folder = join(FOLDER, name);
  const secrets = readSecrets(join(folder, 'secrets.json'));
  const kind = { numbered: true, durable: false };
  const database = await startDatabase(folder, secrets.databasePassword, undefined, kind);
  running.push(database);
  try {
    await use(database, secrets, folder);
  } finally {
    running.splice(running.indexOf(database), 1);
    await database.stop();
  }
}

async function serverTests() {
  // The SMTP door is tried by a client that is none of ours; openssl opens what was encrypted.
  await demandProgram('swaks', ['swaks']);
  await demandProgram('openssl', ['openssl']);
  // Hands in events of applications.
  await demandProgram('curl', ['curl']);
  // Servers whose stores a reader goes through.
  await demandProgram('apache2', ['apache2', 'apache2-utils']);
  await demandProgram('dovecot', ['dovecot-imapd']);
  await demandProgram('pg_createcluster', ['postgresql']);
  // A network of its own, in which a reader has no way out.
  await demandProgram('ip', ['iproute2']);
  // A directory server that people are read from.
  await demandProgram('slapd', ['slapd']);
  // A collector of logs that the audit trail is sent on to.
  await demandProgram('rsyslogd', ['rsyslog', 'rsyslog-gnutls']);
  await withDatabase('server', (database, secrets, folder) =>
    jest('server', {
      LANTERN_DATABASE: JSON.stringify({
        host: database.host,
        port: database.port,
        username: database.user,
        database: database.database,
      }),
      LANTERN_DATABASE_PASSWORD: database.password,
      LANTERN_MASTER_KEY: secrets.masterKey,
      LANTERN_KEEPER_PASSWORD: database.keeper.password,
      LANTERN_PLACES: join(folder, 'places'),
      LANTERN_LOG_LEVEL: 'silent',
    }),
  );
}

async function stories() {
  await demandProgram('chromium', ['chromium', 'fonts-liberation']);
  // Sends the first mail of an installation of one's own.
  await demandProgram('swaks', ['swaks']);
  await withDatabase('stories', async (database, _secrets, folder) => {
    const port = await freePort();
    // Another installation on this machine may have the usual ports of mail.
    process.env.LANTERN_SMTP_PORT = '0';
    process.env.LANTERN_POST_PORT = '0';
    const application = await startApplication({ port, database, folder, demo: 'merrow' });
    running.push(application);
    const address = `http://127.0.0.1:${port}`;
    const code = application.readerCode;
    const reader = (await enrolReader({ address, code, folder })) ? startReader({ folder }) : null;
    if (reader) running.push(reader);
    say('\n── stories on the real interface');
    const report = join(FOLDER, 'stories.json');
    try {
      await node('node_modules/@playwright/test/cli.js', ['test', '--config', 'e2e/playwright.config.ts'], {
        env: {
          ...process.env,
          LANTERN_ADDRESS: address,
          PLAYWRIGHT_JSON_OUTPUT_NAME: report,
          PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1',
        },
      });
    } finally {
      for (const part of reader ? [reader, application] : [application]) {
        running.splice(running.indexOf(part), 1);
        await part.stop();
      }
    }
    if (!existsSync(report)) {
      fail('stories: no report');
      return;
    }
    const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'));
    totals.passed += stats.expected + stats.flaky;
    totals.skipped += stats.skipped;
    const failed = suites.flatMap(({ file, specs }) =>
      specs.filter(({ ok }) => !ok).map(({ title }) => `${file}: ${title}`),
    );
    for (const name of failed) fail(name);
    if (failed.length < stats.unexpected) fail('stories', stats.unexpected - failed.length);
  });
}

const STAGES = {
  lint: () =>
    Promise.all([
      check('lint', 'node_modules/eslint/bin/eslint.js', ['.']),
      check('format', 'node_modules/prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']),
    ]),
  types: () =>
    Promise.all([
      check('types of tests', 'node_modules/typescript/bin/tsc', ['-p', 'tsconfig.check.json']),
      check('types of the web application', 'node_modules/typescript/bin/tsc', ['-p', 'apps/web']),
    ]),
  unit: () => jest('unit'),
  server: serverTests,
  stories,
};

/** Whatever the tests put into temporary files goes with them, also what a killed process of theirs left. */
function takeScratch() {
  const folder = mkdtempSync(join(tmpdir(), 'lantern-tests-'));
  // Servers of the tests run under accounts of their own.
  chmodSync(folder, 0o711);
  process.env.TMPDIR = folder;
  return folder;
}

runMain(async () => {
  const asked = process.argv.slice(2);
  const unknown = asked.find((name) => !Object.hasOwn(STAGES, name));
  if (unknown)
    throw new PlainFailure(
      `"${unknown}" is no stage of the tests.`,
      `There are: ${Object.keys(STAGES).join(', ')}.`,
    );
  const stages = asked.length > 0 ? asked : Object.keys(STAGES);
  mkdirSync(FOLDER, { recursive: true, mode: 0o700 });
  const leave = () => {
    process.exitCode = 1;
    stopAll().finally(() => process.exit(1));
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, leave);
  whenParentIsGone(leave);
  const scratch = takeScratch();
  try {
    await demandProgram('mariadbd', ['mariadb-server']);
    await ensureDependencies();
    await ensureBuilt();
    await ensureCommandsBuilt();
    for (const stage of stages) await STAGES[stage]();
  } finally {
    if (!process.env.LANTERN_KEEP) rmSync(FOLDER, { recursive: true, force: true });
    rmSync(scratch, { recursive: true, force: true });
  }
  if (totals.failed > 0) process.exitCode = 1;
  say(`\n${testShare()}`);
  if (failures.length > 0) say(`\nFailed:\n${failures.map((name) => `  ${name}`).join('\n')}`);
  const skipped = totals.skipped > 0 ? `, ${totals.skipped} skipped` : '';
  say(`\n${totals.passed} passed, ${totals.failed} failed${skipped}`);
});
