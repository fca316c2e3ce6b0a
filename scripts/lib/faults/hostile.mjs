import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { say } from '../say.mjs';
import { ROOT } from '../paths.mjs';
import { capture } from '../processes.mjs';

/** A way that says nothing about a file for so long leaves it without an answer. */
const ANSWER_WITHIN_MS = 120_000;
/** A label run over all of them takes no longer. */
const RUN_WITHIN_MS = 900_000;

/** Sends bodies made to hurt, without signing in, to every kind of address. Counts those that were let in. */
export async function hostileBodies(port) {
  say('\nHostile bodies without signing in …');
  const deep = '['.repeat(200_000) + ']'.repeat(200_000);
  const large = Buffer.alloc(60_000_000, 'a');
  const bodies = [
    // Small enough for the address that signs people in, and still too deep.
    ['application/json', '['.repeat(1_500) + ']'.repeat(1_500)],
    ['application/json', deep],
    ['application/json', `{"a":${deep}}`],
    ['application/json', large],
    ['application/json', `[${'1,'.repeat(1_000_000)}1]`],
    ['application/x-www-form-urlencoded', 'a[b]'.repeat(200_000)],
    ['application/x-www-form-urlencoded', 'a=b&'.repeat(500_000)],
    ['multipart/form-data; boundary=b', `--b\r\n${'X: y\r\n'.repeat(200_000)}`],
    [
      'multipart/form-data; boundary=b',
      `${'--b\r\nContent-Disposition: form-data; name="a"\r\n\r\nx\r\n'.repeat(50_000)}--b--`,
    ],
    ['text/plain', large],
  ];
  const paths = [
    '/session',
    '/intake/movements',
    '/lantern/files',
    '/stand-ins/drive/x/files',
    '/policies',
    '/nowhere',
  ];
  let letIn = 0;
  for (const path of paths)
    await Promise.all(
      bodies.map(async ([type, body]) => {
        // Ending the connection before all of it was read is an answer as well.
        const answer = await fetch(`http://127.0.0.1:${port}/api${path}`, {
          method: 'POST',
          headers: { 'content-type': type },
          body,
          signal: AbortSignal.timeout(ANSWER_WITHIN_MS),
        }).catch(() => null);
        if (answer && answer.status < 400) letIn += 1;
      }),
    );
  return { letIn };
}

/** Every hostile file through every way in; each must be answered. */
export async function hostileFiles(clients, folder, watch) {
  const { HOSTILE_FILES } = await import('@lantern/testkit');
  const makers = Object.entries(HOSTILE_FILES);
  const unanswered = [];
  for (const [way, send] of Object.entries(WAYS)) {
    say(`${makers.length} hostile files: ${way} …`);
    watch.during = way;
    const queue = [...makers];
    const one = async () => {
      for (let next = queue.shift(); next; next = queue.shift()) {
        const [name, make] = next;
        const answered = await send(clients, { name, bytes: make() }).catch(() => false);
        if (!answered) unanswered.push(`${way}: ${name}`);
      }
    };
    await Promise.all([one(), one(), one(), one()]);
    await watch.untilWell(ANSWER_WITHIN_MS);
  }
  const place = readdirSync(join(folder, 'places'), { withFileTypes: true }).find((each) =>
    each.isDirectory(),
  );
  const below = join(folder, 'places', place?.name ?? '', 'hostile');
  mkdirSync(below);
  for (const [name, make] of makers) writeFileSync(join(below, name), make());
  writeFileSync(join(below, 'zz-good.txt'), 'The berth is free from Tuesday.');
  watch.during = 'a label run';
  unanswered.push(...(await labelRun(clients)));
  watch.during = 'the command';
  unanswered.push(...(await command(below)));
  rmSync(below, { recursive: true });
  return { made: makers.length, unanswered };
}

const WAYS = {
  'by SMTP': (clients, file) => answered(() => clients.mail(`hostile-${file.name}`, 'See the file.', file)),
  'by an agent': (clients, file) =>
    answered(() => clients.movement(`hostile-${file.name}`, 'See the file.', file)),
  'uploaded to the drive': (clients, file) =>
    answered(() => upload(clients, '/stand-ins/drive/orla.fenwick@merrowstrait.example/files', file)),
  'put into the Lantern': (clients, file) => answered(() => upload(clients, '/lantern/files', file)),
};

/** Refused for the moment is asked again, as every client does. */
async function answered(attempt) {
  const end = Date.now() + ANSWER_WITHIN_MS;
  while (Date.now() < end) {
    if (await attempt().catch(() => false)) return true;
    await wait(500);
  }
  return false;
}

async function upload(clients, path, { name, bytes }) {
  const form = new FormData();
  form.set('folder', '/');
  form.set('file', new Blob([bytes]), name);
  const answer = await clients.request('POST', path, {
    body: form,
    signal: AbortSignal.timeout(ANSWER_WITHIN_MS),
  });
  await answer.arrayBuffer();
  return answer.status < 500 && answer.status !== 429;
}

/** Looks at all places; in one of them the files lie beside good ones. The run must end, and say something of each file. */
async function labelRun(clients) {
  say('A label run over them …');
  const run = await clients.json('POST', '/label-runs', { does: 'look', places: [], rules: [] });
  for (let waited = 0; waited < RUN_WITHIN_MS; waited += 1_000) {
    await wait(1_000);
    const { state, total, outcomes } = await clients.json('GET', `/label-runs/${run.id}`);
    if (state === 'waiting' || state === 'running') continue;
    const told = Object.values(outcomes).reduce((sum, count) => sum + count, 0);
    return state === 'done' && told === total ? [] : [`in a label run: ${state}, ${told} of ${total}`];
  }
  return ['in a label run: it did not end'];
}

/** The command says a line for every file. */
async function command(folder) {
  say('The command over them …');
  const { output } = await capture(process.execPath, [
    join(ROOT, 'apps/cli/dist/inspect.js'),
    '--json',
    folder,
  ]);
  const told = new Set(
    output
      .split('\n')
      .filter((line) => line.startsWith('{'))
      .map((line) => basename(JSON.parse(line).path)),
  );
  return readdirSync(folder)
    .filter((name) => !told.has(name))
    .map((name) => `by the command: ${name}`);
}
