/** `npm run -s trail -- verify`: follows the audit trail and says whether it is as it was written. Ends with 1 where not. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createConnection } from 'mysql2/promise';
import { reachDatabase } from './lib/backup.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { DATA, ROOT, TRAIL_HEADS } from './lib/paths.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';

/** Entries read at once. */
const AT_ONCE = 2_000;

const WHY = {
  changed: (at) => `Entry ${at} is not as it was written. Everything before it is.`,
  missing: (at) => `Entry ${at} is missing. Everything before it is as it was written.`,
  'cut-off': (at) => `The end of the trail is missing from entry ${at} on.`,
  'not-signed': () => 'The signature of the end of the trail is not valid.',
};

async function verify(database, secrets) {
  const { ChainCheck, readHeads } = await import(
    pathToFileURL(join(ROOT, 'apps/server/dist/platform/trail/chain.js')).href
  );
  const key = Buffer.from(secrets.evidenceKey, 'hex');
  const file = join(DATA, TRAIL_HEADS);
  const heads = existsSync(file) ? readHeads(readFileSync(file, 'utf8'), key) : [];
  const { host, port, user, password } = database;
  const connection = await createConnection({
    ...{ host, port, user, password, database: database.database },
    timezone: 'Z',
  });
  try {
    // The end is read first: what is added meanwhile does not look cut off.
    const [[head = null]] = await connection.query(
      'SELECT number, hash, signature FROM trail_head WHERE id = 1',
    );
    const chain = new ChainCheck(heads);
    for (let after = 0, isMore = true; isMore;) {
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
    return { ...chain.end(head && { ...head, number: Number(head.number) }, key), heads: heads.length };
  } finally {
    await connection.end();
  }
}

runMain(async () => {
  const [what, ...more] = process.argv.slice(2);
  if (what !== 'verify' || more.length > 0)
    throw new PlainFailure('Say what to do with the trail.', 'npm run -s trail -- verify');
  if (!existsSync(join(DATA, 'mariadb')))
    throw new PlainFailure(`There is no installation in ${DATA}.`, 'Start it once with npm start.');
  await ensureDependencies();
  await ensureBuilt();
  const secrets = JSON.parse(readFileSync(join(DATA, 'secrets.json'), 'utf8'));
  const { database, stop } = await reachDatabase(DATA, secrets);
  try {
    const { whole, entries, brokenAt, why, heads } = await verify(database, secrets);
    if (whole)
      say(
        `The trail is whole: all ${entries} entries are as they were written, past ${heads} written heads.`,
      );
    else {
      say(WHY[why](brokenAt));
      process.exitCode = 1;
    }
  } finally {
    await stop();
  }
});
