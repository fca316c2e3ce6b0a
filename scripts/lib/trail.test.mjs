import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { startDatabase } from './database.mjs';
import { TRAIL_HEADS } from './paths.mjs';
import { readSecrets } from './secrets.mjs';
import { sweepTrail, verifyTrail } from './trail.mjs';

const { BEGINNING, entryHash, headSignature } =
  await import('../../apps/server/dist/platform/trail/chain.js');

const folder = mkdtempSync(join(tmpdir(), 'lantern-trail-test-'));
const NOW = new Date('2026-12-01T12:00:00.000Z');
const DAY_MS = 86_400_000;
let database;
let connection;
let key;
let entries;

/** One entry every hundred days, the last of them today. */
function written(length) {
  const made = [];
  for (let number = 1; number <= length; number += 1) {
    const entry = {
      ...{
        number,
        actor: 'ines@a.example',
        action: 'policy-saved',
        target: '',
        facts: { at: String(number) },
      },
      at: new Date(NOW.getTime() - (length - number) * 100 * DAY_MS),
      previous: made.at(-1)?.hash ?? BEGINNING,
    };
    made.push({ ...entry, hash: entryHash(entry) });
  }
  return made;
}

const headOf = ({ number, hash }) => ({ number, hash, signature: headSignature(key, number, hash) });
const writeHeads = (numbers) =>
  writeFileSync(
    join(folder, TRAIL_HEADS),
    numbers.map((number) => `${JSON.stringify(headOf(entries[number - 1]))}\n`).join(''),
  );
const kept = async () => {
  const [rows] = await connection.query('SELECT number FROM trail_entry ORDER BY number');
  return rows.map(({ number }) => number);
};

beforeAll(async () => {
  const secrets = readSecrets(join(folder, 'secrets.json'));
  key = Buffer.from(secrets.masterKey, 'hex');
  database = await startDatabase(folder, secrets.databasePassword);
  const { host, port, user, password } = database;
  connection = await createConnection({
    host,
    port,
    user,
    password,
    database: database.database,
    timezone: 'Z',
  });
  for (const table of ['trail_entry', 'trail_segment'])
    await connection.query(
      `CREATE SQL SECURITY INVOKER VIEW ${table} AS SELECT * FROM trail_of_lantern.${table}`,
    );
  await connection.query('CREATE TABLE kept_for (kind varchar(20) PRIMARY KEY, days int NULL)');
  await connection.query(
    'CREATE TABLE trail_head (id int PRIMARY KEY, number int, hash char(64), signature char(64))',
  );
  entries = written(12);
  for (const { facts, ...entry } of entries)
    await connection.query('INSERT INTO trail_entry SET ?', { ...entry, facts: JSON.stringify(facts) });
  await connection.query('INSERT INTO trail_head SET ?', { id: 1, ...headOf(entries[11]) });
  writeHeads([3, 6, 9]);
}, 120_000);
afterAll(async () => {
  await connection?.end();
  await database?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const setDays = (days) => connection.query("REPLACE INTO kept_for VALUES ('trail', ?)", [days]);
const sweep = () => sweepTrail(folder, database, NOW);
const verify = () => verifyTrail(folder, database);

it('lets the account of the server add entries, and neither change nor delete any', async () => {
  for (const statement of [
    "UPDATE trail_of_lantern.trail_entry SET actor = 'x'",
    'DELETE FROM trail_entry WHERE number = 1',
    'TRUNCATE TABLE trail_of_lantern.trail_entry',
    'DROP TABLE trail_of_lantern.trail_entry',
    'ALTER TABLE trail_of_lantern.trail_entry ADD COLUMN other int',
    'DROP DATABASE trail_of_lantern',
    "GRANT ALL ON trail_of_lantern.* TO 'app'@'127.0.0.1'",
    "INSERT INTO trail_of_lantern.trail_entry SELECT * FROM trail_entry ON DUPLICATE KEY UPDATE actor = 'x'",
    'REPLACE INTO trail_of_lantern.trail_entry SELECT * FROM trail_entry',
  ])
    await expect(connection.query(statement)).rejects.toThrow(/denied|lack rights/iu);
  expect(await verify()).toMatchObject({ whole: true, entries: 12, heads: 3, removed: null });
});

it('deletes nothing where nothing is set, and nothing that is younger than a year, whatever is set', async () => {
  expect(await sweep()).toEqual({ status: 'kept' });
  await setDays(null);
  expect(await sweep()).toEqual({ status: 'kept' });
  await setDays(2_000);
  expect(await sweep()).toEqual({ status: 'kept' });
  // Entries 1 to 8 are older than 365 days, and 9 is not; the newest head before that is the sixth.
  await setDays(1);
  expect(await sweep()).toEqual({ status: 'deleted', from: 1, to: 6, entries: 6 });
  expect(await kept()).toEqual([7, 8, 9, 10, 11, 12]);
  const { removed, ...found } = await verify();
  expect(found).toMatchObject({ whole: true, entries: 6 });
  expect(removed).toMatchObject({ number: 6, hash: entries[5].hash });
  expect(await sweep()).toEqual({ status: 'kept' });
});

it('deletes nothing while the trail is not whole, so that nothing wrong is swept away', async () => {
  const as = async (statement) => {
    const { host, port, keeper } = database;
    const other = await createConnection({ host, port, ...keeper, database: 'trail_of_lantern' });
    await other.query(statement);
    await other.end();
  };
  writeHeads([3, 6, 7, 9]);
  await as("UPDATE trail_entry SET actor = 'other' WHERE number = 8");
  expect(await sweep()).toEqual({ status: 'not-whole' });
  expect(await verify()).toMatchObject({ whole: false, brokenAt: 8, why: 'changed' });
  await as("UPDATE trail_entry SET actor = 'ines@a.example' WHERE number = 8");
  // A part that was said to be removed without a signature of ours.
  await as(
    "INSERT INTO trail_segment SELECT 7, hash, REPEAT('0', 64), at, at, at FROM trail_entry WHERE number = 7",
  );
  expect(await verify()).toMatchObject({ whole: false, why: 'not-signed' });
  await as('DELETE FROM trail_segment WHERE number = 7');
  expect(await sweep()).toEqual({ status: 'deleted', from: 7, to: 7, entries: 1 });
  expect(await verify()).toMatchObject({ whole: true, entries: 5 });
});
