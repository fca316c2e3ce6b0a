import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ROOT, TRAIL_HEADS } from './paths.mjs';
import { readMasterKeys } from './secrets.mjs';
import { KEEPER, readKeeperPassword, trailOf } from './trail-database.mjs';

/** Entries read at once. */
const AT_ONCE = 2_000;
/** Entries deleted by one statement, so that nobody who writes waits long. */
const DELETED_AT_ONCE = 5_000;
const DAY_MS = 86_400_000;
/** Younger entries are deleted for no setting: whoever gets hold of it could clean up after themselves. */
export const LEAST_TRAIL_DAYS = 365;

const compiled = (path) => import(pathToFileURL(join(ROOT, 'apps/server/dist/platform', path)).href);

/** The package is loaded when it is used: on a fresh machine the start command installs it first. */
async function connect({ host, port, database }, user, password) {
  const { createConnection } = await import('mysql2/promise');
  return createConnection({ host, port, user, password, database, timezone: 'Z' });
}

/** The key that ends of the trail are signed with: the installation's, or the master key before there was one. */
async function signingKey(connection, masters) {
  const { KeyRing, INSTALLATION } = await compiled('keys/key-ring.js');
  const ring = new KeyRing(masters);
  const [[there]] = await connection.query("SHOW TABLES LIKE 'data_key'");
  const [[row] = []] = there
    ? await connection.query('SELECT scope, wrapped, master FROM data_key WHERE scope = ?', [INSTALLATION])
    : [];
  return row ? ring.unwrap(row) : ring.oldest();
}

async function writtenHeads(data, key) {
  const { readHeads } = await compiled('trail/chain.js');
  const file = join(data, TRAIL_HEADS);
  return existsSync(file) ? readHeads(readFileSync(file, 'utf8'), key) : [];
}

async function lastRemoved(connection) {
  const [[there]] = await connection.query("SHOW TABLES LIKE 'trail_segment'");
  if (!there) return null;
  const [[row = null]] = await connection.query(
    'SELECT number, hash, signature, lastAt FROM trail_segment ORDER BY number DESC LIMIT 1',
  );
  return row && { ...row, number: Number(row.number) };
}

async function follow(connection, { key, heads }) {
  const { ChainCheck } = await compiled('trail/chain.js');
  // The end is read first: what is added meanwhile does not look cut off.
  const [[head = null]] = await connection.query(
    'SELECT number, hash, signature FROM trail_head WHERE id = 1',
  );
  const removed = await lastRemoved(connection);
  const chain = new ChainCheck(heads, removed);
  for (let after = removed?.number ?? 0, isMore = true; isMore;) {
    const [rows] = await connection.query(
      'SELECT * FROM trail_entry WHERE number > ? ORDER BY number LIMIT ?',
      [after, AT_ONCE],
    );
    for (const { facts, ...row } of rows) {
      if (head && row.number > head.number) break;
      chain.add({
        ...row,
        number: Number(row.number),
        facts: typeof facts === 'string' ? JSON.parse(facts) : facts,
      });
    }
    after = rows.at(-1)?.number ?? after;
    isMore = rows.length === AT_ONCE;
  }
  return { ...chain.end(head && { ...head, number: Number(head.number) }, key), removed };
}

/** Follows the trail of the installation in `data` and says whether it is as it was written. */
export async function verifyTrail(data, database) {
  const masters = await readMasterKeys(join(data, 'secrets.json'));
  const connection = await connect(database, database.user, database.password);
  try {
    const key = await signingKey(connection, masters);
    const heads = await writtenHeads(data, key);
    return { ...(await follow(connection, { key, heads })), heads: heads.length };
  } finally {
    await connection.end();
  }
}

/**
 * Deletes the oldest part of the trail, up to a head that was written down, signed, outside the database, and keeps that
 * head in the part's place. Only entries that are older than the days that are set, and than {@link LEAST_TRAIL_DAYS}; and
 * nothing while the trail is not whole: what is wrong with it must not be swept away. Returns what it did.
 */
export async function sweepTrail(data, database, now = new Date()) {
  const masters = await readMasterKeys(join(data, 'secrets.json'));
  const connection = await connect(database, database.user, database.password);
  const keeper = await connect(
    { ...database, database: trailOf(database.database) },
    KEEPER,
    readKeeperPassword(join(data, 'keeper.json')),
  );
  try {
    const [[setting] = []] = await connection.query("SELECT days FROM kept_for WHERE kind = 'trail'");
    if (!setting || setting.days === null) return { status: 'kept' };
    const before = new Date(now.getTime() - Math.max(setting.days, LEAST_TRAIL_DAYS) * DAY_MS);
    const key = await signingKey(connection, masters);
    const heads = await writtenHeads(data, key);
    const { whole, removed } = await follow(connection, { key, heads });
    if (!whole) return { status: 'not-whole' };
    const [[young]] = await keeper.query('SELECT MIN(number) AS number FROM trail_entry WHERE at >= ?', [
      before,
    ]);
    const limit = young.number === null ? Number.MAX_SAFE_INTEGER : Number(young.number);
    const after = removed?.number ?? 0;
    await removeUpTo(keeper, after);
    const head = heads
      .filter(({ number }) => number > after && number < limit)
      .sort((one, other) => other.number - one.number)[0];
    if (!head) return { status: 'kept' };
    return { status: 'deleted', ...(await removePart(keeper, head, { after, now })) };
  } finally {
    await Promise.all([connection.end(), keeper.end()]);
  }
}

async function removePart(keeper, { number, hash, signature }, { after, now }) {
  const [[span]] = await keeper.query(
    'SELECT MIN(at) AS firstAt, MAX(at) AS lastAt, COUNT(*) AS n FROM trail_entry WHERE number <= ?',
    [number],
  );
  // Its end is kept first: what a crash leaves in between is deleted by the next sweep, and the trail is whole.
  await keeper.query(
    'INSERT INTO trail_segment (number, hash, signature, firstAt, lastAt, removedAt) VALUES (?, ?, ?, ?, ?, ?)',
    [number, hash, signature, span.firstAt, span.lastAt, now],
  );
  await removeUpTo(keeper, number);
  return { from: after + 1, to: number, entries: Number(span.n) };
}

async function removeUpTo(keeper, number) {
  for (let isMore = true; isMore;) {
    const [{ affectedRows }] = await keeper.query(
      `DELETE FROM trail_entry WHERE number <= ? ORDER BY number LIMIT ${DELETED_AT_ONCE}`,
      [number],
    );
    isMore = affectedRows === DELETED_AT_ONCE;
  }
}
