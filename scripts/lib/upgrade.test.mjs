/**
 * An installation of the release before data keys, with people, a published baseline and two judged mails, goes on under
 * this one. The backup in `fixtures/` was made by that release itself; everything in it is made up.
 */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { createConnection } from 'mysql2/promise';
import { startApplication } from './application.mjs';
import { makeBackup, restoreBackup } from './backup.mjs';
import { startDatabase } from './database.mjs';
import { freePort } from './processes.mjs';
import { readSecrets } from './secrets.mjs';
import { verifyTrail } from './trail.mjs';

const BEFORE = fileURLToPath(new URL('fixtures/before-data-keys.tar.gz', import.meta.url));
const ACCOUNT = { email: 'first@localhost', password: 'S4TsSiVyi4t_' };
const folder = mkdtempSync(join(tmpdir(), 'lantern-upgrade-test-'));
const at = (...names) => join(folder, ...names);
const parts = [];
const ports = { LANTERN_SMTP_PORT: '0', LANTERN_POST_PORT: '0' };
const earlier = Object.keys(ports).map((name) => [name, process.env[name]]);

const stopAll = async () => {
  for (const part of parts.splice(0).reverse()) await part.stop();
};

beforeAll(() => Object.assign(process.env, ports));
afterAll(async () => {
  await stopAll();
  for (const [name, value] of earlier)
    if (value === undefined) delete process.env[name];
    else process.env[name] = value;
  rmSync(folder, { recursive: true, force: true });
});

/** Starts the installation in a folder and signs in. */
async function started(data) {
  const database = await startDatabase(data, readSecrets(join(data, 'secrets.json')).databasePassword);
  parts.push(database);
  const port = await freePort();
  parts.push(await startApplication({ port, database, folder: data, demo: 'none' }));
  const address = `http://127.0.0.1:${port}/api`;
  const headers = { 'content-type': 'application/json' };
  const answer = await fetch(`${address}/session`, {
    ...{ method: 'POST', headers, body: JSON.stringify(ACCOUNT) },
  });
  const { csrfToken } = await answer.json();
  const cookie = answer.headers.get('set-cookie').split(';')[0];
  const ask = async (method, path, body) =>
    (
      await fetch(address + path, {
        ...{ method, headers: { ...headers, cookie, 'x-csrf-token': csrfToken } },
        body: body && JSON.stringify(body),
      })
    ).json();
  return { database, ask };
}

async function whatIsThere(ask) {
  const { rows } = await ask('GET', '/incidents?order=number&filter=');
  const details = await Promise.all(rows.map(({ number }) => ask('GET', `/incidents/${number}`)));
  return details.map(({ title, parts: read, verdict, recipientAddresses }) => ({
    ...{
      title,
      recipients: recipientAddresses.map(({ address }) => address),
      matches: verdict.matches.length,
    },
    found: read.flatMap(({ lines }) => lines ?? []).length + read.length,
  }));
}

const TWO = [
  { title: 'Second booking', recipients: ['other@partner.example'], matches: 1 },
  { title: 'Booking', recipients: ['desk@partner.example'], matches: 1 },
];
const byTitle = (one, other) => (one.title < other.title ? 1 : -1);

it('opens what the earlier release sealed, seals what it left open, and goes on under a new master key', async () => {
  await restoreBackup({ data: at('old'), file: BEFORE });
  const { database, ask } = await started(at('old'));
  const there = (await whatIsThere(ask)).sort(byTitle);
  expect(there).toMatchObject(TWO);
  expect(there.every(({ found }) => found > 0)).toBe(true);
  expect(await ask('GET', '/trail/check')).toMatchObject({ whole: true });
  const { entries } = await ask('GET', '/trail');
  expect(entries.map(({ action }) => action)).toContain('POST /revisions');

  const { host, port, user, password } = database;
  const connection = await createConnection({ host, port, user, password, database: database.database });
  const [[clear]] = await connection.query(
    'SELECT COUNT(verdict) AS n, COUNT(sealedVerdict) AS m FROM incident',
  );
  expect([Number(clear.n), Number(clear.m)]).toEqual([0, 2]);
  await expect(connection.query('DELETE FROM trail_of_lantern.trail_entry')).rejects.toThrow('denied');
  await connection.end();

  const { master } = await ask('GET', '/retention/keys');
  await ask('POST', '/retention/keys/changes', {});
  let keys;
  do {
    await wait(200);
    keys = await ask('GET', '/retention/keys');
  } while (keys.running);
  expect(keys.master).not.toBe(master);
  const secrets = JSON.parse(readFileSync(at('old', 'secrets.json'), 'utf8'));
  expect(Object.keys(secrets).sort()).toEqual(['databasePassword', 'masterKey']);
  await stopAll();

  // What a stopped installation holds, put into an empty one with the new keys.
  await makeBackup({ data: at('old'), file: at('new.tar.gz'), withKeys: false });
  await expect(restoreBackup({ data: at('other'), file: at('new.tar.gz') })).rejects.toThrow('without keys');
  await restoreBackup({
    ...{ data: at('new'), file: at('new.tar.gz'), keysFile: at('old', 'secrets.json') },
  });
  const again = await started(at('new'));
  expect((await whatIsThere(again.ask)).sort(byTitle)).toEqual(there);
  expect(await verifyTrail(at('new'), again.database)).toMatchObject({ whole: true, removed: null });
}, 240_000);
