import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { keyFingerprint, makeBackup, restoreBackup } from './backup.mjs';
import { startDatabase } from './database.mjs';
import { capture } from './processes.mjs';
import { readSecrets } from './secrets.mjs';

const folder = mkdtempSync(join(tmpdir(), 'lantern-backup-test-'));
const at = (...names) => join(folder, ...names);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Every row of the tables, bytes as digits. */
async function rowsOf({ host, port, user, password, database }) {
  const connection = await createConnection({ host, port, user, password, database });
  const [things] = await connection.query(
    'SELECT id, name, HEX(sealed) AS sealed, made, words FROM thing ORDER BY id',
  );
  await connection.end();
  return things;
}

const odd = 'O’Neill; "quoted", \\ back, \n line, 🚢, \u0000 end';

it('restores what there was at one instant while somebody wrote, and refuses what it cannot', async () => {
  const data = at('one');
  const secrets = readSecrets(at('one', 'secrets.json'));
  const database = await startDatabase(data, secrets.databasePassword);
  let expected;
  try {
    const { host, port, user, password } = database;
    const connection = await createConnection({ host, port, user, password, database: database.database });
    await connection.query(`CREATE TABLE thing (id int PRIMARY KEY, name text, sealed longblob, made datetime(3),
      words int GENERATED ALWAYS AS (CHAR_LENGTH(name)) STORED)`);
    const bytes = Buffer.from(Array.from({ length: 70_000 }, (_unused, index) => (index * 31) % 256));
    await connection.query('INSERT INTO thing (id, name, sealed, made) VALUES ?', [
      [
        [1, odd, bytes, new Date('2026-11-30T01:02:03.456Z')],
        [2, '', Buffer.alloc(0), null],
      ],
    ]);
    mkdirSync(at('one', 'places', 'Ships'), { recursive: true });
    writeFileSync(at('one', 'places', 'Ships', 'Ölpreise é.txt'), odd);
    writeFileSync(at('one', 'trail-heads.jsonl'), 'an end\n');
    expected = await rowsOf(database);

    // Somebody writes in pairs all the while: a backup holds both of a pair or neither.
    let writes = true;
    const writing = (async () => {
      for (let id = 10; writes; id += 2) {
        await connection.beginTransaction();
        await connection.query('INSERT INTO thing (id, name) VALUES (?, ?)', [id, 'first']);
        await connection.query('INSERT INTO thing (id, name) VALUES (?, ?)', [id + 1, 'second']);
        await connection.commit();
      }
    })();
    await makeBackup({ data, file: at('running.tar.gz'), withKeys: false });
    writes = false;
    await writing;
    await connection.end();
    await expect(makeBackup({ data, file: at('running.tar.gz'), withKeys: false })).rejects.toThrow(
      'exists already',
    );
  } finally {
    await database.stop();
  }
  expect(readdirSync(folder).sort()).toEqual(['one', 'running.tar.gz']);

  // Without keys, with wrong ones, into an installation that holds something, with a bit turned: nothing is written.
  const refused = async (over, words) => {
    await expect(restoreBackup({ data: at('two'), file: at('running.tar.gz'), ...over })).rejects.toThrow(
      words,
    );
    expect(readdirSync(at('two'))).toEqual([]);
  };
  await refused({}, 'without keys');
  writeFileSync(at('wrong.json'), JSON.stringify({ ...secrets, masterKey: 'ab'.repeat(32) }));
  await refused({ keysFile: at('wrong.json') }, 'do not open');
  writeFileSync(at('nothing.tar.gz'), 'hello');
  await refused({ file: at('nothing.tar.gz') }, 'not a backup');
  await expect(restoreBackup({ data, file: at('running.tar.gz') })).rejects.toThrow('already');
  mkdirSync(at('evil'));
  for (const name of ['backup.json', 'database.sql', 'other.sh']) writeFileSync(at('evil', name), '{}');
  await capture('tar', [
    '-czf',
    at('evil.tar.gz'),
    '-C',
    at('evil'),
    'backup.json',
    'database.sql',
    'other.sh',
  ]);
  await refused({ file: at('evil.tar.gz') }, 'names that none of ours has');

  // Keys of another installation are not replaced, also where nothing else of it is there.
  mkdirSync(at('three'));
  const other = JSON.stringify({ ...secrets, masterKey: 'ef'.repeat(32) });
  writeFileSync(at('three', 'secrets.json'), other);
  const keysFile = at('one', 'secrets.json');
  await expect(restoreBackup({ data: at('three'), file: at('running.tar.gz'), keysFile })).rejects.toThrow(
    'another installation',
  );
  expect(readFileSync(at('three', 'secrets.json'), 'utf8')).toBe(other);

  await restoreBackup({ data: at('two'), file: at('running.tar.gz'), keysFile: at('one', 'secrets.json') });
  expect(readFileSync(at('two', 'places', 'Ships', 'Ölpreise é.txt'), 'utf8')).toBe(odd);
  expect(readFileSync(at('two', 'trail-heads.jsonl'), 'utf8')).toBe('an end\n');
  const restored = await startDatabase(at('two'), secrets.databasePassword);
  try {
    const rows = await rowsOf(restored);
    expect(rows.slice(0, 2)).toEqual(expected);
    const pairs = rows.slice(2).map(({ id }) => id);
    expect(pairs.length % 2).toBe(0);
    expect(pairs.filter((id) => id % 2 === 0).every((id) => pairs.includes(id + 1))).toBe(true);
  } finally {
    await restored.stop();
  }
}, 120_000);

it('tells keys apart without showing them', () => {
  const key = 'cd'.repeat(32);
  expect(keyFingerprint(key)).toMatch(/^[0-9a-f]{24}$/);
  expect(key).not.toContain(keyFingerprint(key));
  expect(keyFingerprint('ce'.repeat(32))).not.toBe(keyFingerprint(key));
});
