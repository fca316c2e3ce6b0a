/**
 * How fast readers go through a tree of real files, and how fast the workbench answers over what they found. Beside it in
 * the same run: reading every byte of the tree, and `grep -rE` over it. `npm run -s bench -- discovery 50000 5000000` takes
 * the full numbers of files and of items; without arguments a tenth of each.
 */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { setTimeout as wait } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { placeFiles } from '@lantern/demo';
import mysql from 'mysql2/promise';
import { type Running, startAll } from './lib/running.js';

const FILES = Number(process.argv[2] ?? 5_000);
const ITEMS = Number(process.argv[3] ?? 500_000);
const FILES_A_FOLDER = 500;
const ROUNDS = 5;
const READER = fileURLToPath(new URL('../../apps/reader/dist/main.js', import.meta.url));
const SCOPE = { only: [], leaveOut: [], endings: [], mostBytes: null, changedWithinDays: null };

interface Client {
  get<Answer>(path: string): Promise<Answer>;
  send<Answer>(method: string, path: string, body?: unknown): Promise<Answer>;
}

/** Files of every kind, as the demo's places hold them, again and again until there are enough. */
async function fill(folder: string): Promise<number> {
  let made = 0;
  let bytes = 0;
  while (made < FILES)
    for await (const file of placeFiles()) {
      if (made >= FILES) break;
      const place = join(folder, String(Math.floor(made / FILES_A_FOLDER)));
      mkdirSync(place, { recursive: true });
      writeFileSync(join(place, `${made}-${file.path.split('/').at(-1) ?? ''}`), file.bytes);
      made += 1;
      bytes += file.bytes.length;
    }
  return bytes;
}

async function signedIn({ address, account }: Running): Promise<Client> {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: account.email, password: account.password }),
  });
  const { csrfToken } = (await answer.json()) as { csrfToken: string };
  const cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  const call = async <Answer>(method: string, path: string, body?: unknown): Promise<Answer> => {
    const response = await fetch(`${address}/api${path}`, {
      method,
      headers: { cookie, 'x-csrf-token': csrfToken, 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (response.status === 204 ? undefined : await response.json()) as Answer;
  };
  return { get: (path) => call('GET', path), send: call };
}

async function enrol(client: Client, address: string, name: string, folder: string): Promise<string> {
  const data = mkdtempSync(join(tmpdir(), 'lantern-bench-reader-'));
  const { code } = await client.send<{ code: string }>('POST', '/discovery/readers/codes', {
    group: 'bench',
  });
  execFileSync(process.execPath, [
    ...[READER, 'enrol', '--address', address, '--code', code, '--name', name, '--data', data],
    ...['--may-read', folder],
  ]);
  return data;
}

const readerIn = (data: string): ChildProcess =>
  spawn(process.execPath, [READER, 'run', '--data', data, '--processes', '1'], { stdio: 'ignore' });

async function stop(child: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await ended;
}

/** Resident megabytes of a process, from the system's own table. */
function residentOf(child: ChildProcess): number {
  const status = readFileSync(`/proc/${child.pid ?? 0}/status`, 'utf8');
  return Number(/VmRSS:\s+(\d+)/u.exec(status)?.[1] ?? 0) / 1_024;
}

async function timedRun(client: Client, job: string, readers: readonly ChildProcess[]) {
  const begun = performance.now();
  const { id } = await client.send<{ id: string }>('POST', `/discovery/jobs/${job}/runs`);
  let resident = 0;
  for (;;) {
    const run = await client.get<{ state: string; readItems: number; unreadable: number }>(
      `/discovery/runs/${id}`,
    );
    resident = Math.max(resident, ...readers.map(residentOf));
    if (run.state === 'done') return { seconds: (performance.now() - begun) / 1_000, resident, ...run };
    await wait(50);
  }
}

function everyByte(folder: string): number {
  const begun = performance.now();
  let sum = 0;
  const walk = (path: string): void => {
    for (const name of readdirSync(path)) {
      const whole = join(path, name);
      if (statSync(whole).isDirectory()) walk(whole);
      else for (const byte of readFileSync(whole)) sum += byte;
    }
  };
  walk(folder);
  if (sum === 0) throw new Error('The tree is empty');
  return (performance.now() - begun) / 1_000;
}

function grep(folder: string): number {
  const begun = performance.now();
  try {
    execFileSync('grep', ['-rEac', '[0-9]{4}[ -]?[0-9]{4}[ -]?[0-9]{4}[ -]?[0-9]{4}', folder], {
      maxBuffer: 1e9,
    });
  } catch {
    // Nothing found ends with 1.
  }
  return (performance.now() - begun) / 1_000;
}

const median = (values: readonly number[]): number =>
  [...values].sort((left, right) => left - right)[Math.floor(values.length / 2)] ?? 0;

async function timed(work: () => Promise<unknown>): Promise<number> {
  const taken: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const begun = performance.now();
    await work();
    taken.push(performance.now() - begun);
  }
  return median(taken);
}

/** Items by the database alone: one in ten is sensitive. */
async function manyItems(running: Running, place: string): Promise<mysql.Connection> {
  const { host, port, user, password, database } = running.database;
  const connection = await mysql.createConnection({ host, port, user, password, database });
  await connection.query('SET unique_checks = 0, foreign_key_checks = 0');
  for (let first = 1; first <= ITEMS; first += 100_000) {
    const s = `seq_${first}_to_${Math.min(first + 99_999, ITEMS)}`;
    await connection.query(
      `INSERT INTO discovery_item (id, placeId, path, pathDigest, ending, bytes, changedAt, marker, owner, state, digest,
         reach, reachRead, isSensitive, misplaced, quarantined, found, total, certainty, holding, readAt, revision)
       SELECT CAST(CONCAT(LPAD(HEX(seq), 8, '0'), '-0000-4000-8000-000000000000') AS UUID), ?,
         CONCAT('many/', MOD(seq, 500), '/', seq, '.txt'), SHA2(seq, 256), 'txt', MOD(seq * 7919, 100000),
         NOW(3) - INTERVAL MOD(seq * 104729, 100000000) SECOND, seq, CONCAT('person', MOD(seq, 100), '@merrowstrait.example'),
         'read', SHA2(seq, 256), 'organisation', 'organisation', MOD(seq, 10) = 0, 0, 0, '[]', MOD(seq, 10) = 0,
         IF(MOD(seq, 10) = 0, 90, 0), IF(MOD(seq, 10) = 0, 1 + MOD(seq, 30) / 10, 0), NOW(3), 1 FROM ${s}`,
      [place],
    );
  }
  await connection.query('ANALYZE TABLE discovery_item');
  return connection;
}

const folder = mkdtempSync(join(tmpdir(), 'lantern-bench-tree-'));
const bytes = await fill(folder);
const running = await startAll();
const client = await signedIn(running);
const [first, second] = [
  await enrol(client, running.address, 'one', folder),
  await enrol(client, running.address, 'two', folder),
];
const { id: place } = await client.send<{ id: string }>('POST', '/discovery/places', {
  ...{ name: 'Bench', store: 'folder', address: { at: folder }, group: 'bench', reach: 'organisation' },
  ...{ unmanaged: false, unwanted: [] },
});
const job = async (name: string, everything: boolean) =>
  (
    await client.send<{ id: string }>('POST', '/discovery/jobs', {
      ...{ name, places: [place], scope: SCOPE, step: 'find', everything, active: false },
    })
  ).id;
const alone = readerIn(first);
await timedRun(client, await job('Warm', false), [alone]);
const all = await job('All', true);
const one = await timedRun(client, all, [alone]);
const again = await timedRun(client, await job('Again', false), [alone]);
const beside = readerIn(second);
await wait(4_000);
const two = await timedRun(client, all, [alone, beside]);
await stop(alone);
await stop(beside);
const raw = everyByte(folder);
const grepped = grep(folder);
const connection = await manyItems(running, place);
const count = await timed(() => connection.query('SELECT COUNT(*) FROM discovery_item'));
const page = await timed(() => client.get('/discovery/items?filter=sensitive%20eq%20true'));
const facets = await timed(() => client.get('/discovery/facets?filter=sensitive%20eq%20true'));
const ranking = await timed(() => client.get('/discovery/places'));
await connection.end();
await running.stop();
for (const each of [folder, first, second]) rmSync(each, { recursive: true, force: true });

const round = (value: number): number => Number(value.toPrecision(3));
process.stdout.write(
  [
    `${FILES} files, ${(bytes / 1e6).toFixed(1)} MB: one reader ${one.seconds.toFixed(1)} s, two ${two.seconds.toFixed(1)} s, nothing changed ${again.seconds.toFixed(2)} s`,
    `every byte ${raw.toFixed(2)} s, grep ${grepped.toFixed(2)} s`,
    `${ITEMS} items: count ${count.toFixed(0)} ms, page ${page.toFixed(0)} ms, facets ${facets.toFixed(0)} ms, places ${ranking.toFixed(0)} ms`,
    '',
  ].join('\n'),
);
process.stdout.write(
  `${JSON.stringify({
    bench: 'discovery',
    filesPerSecond: round(FILES / one.seconds),
    megabytesPerSecond: round(bytes / 1e6 / one.seconds),
    secondRunSpeedup: round(one.seconds / again.seconds),
    twoReaders: round(one.seconds / two.seconds),
    residentMB: round(one.resident),
    timesEveryByte: round(one.seconds / raw),
    timesGrep: round(one.seconds / grepped),
    resultsRatio: round(page / count),
    facetsRatio: round(facets / count),
    placesRatio: round(ranking / count),
  })}\n`,
);
