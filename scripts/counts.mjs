/**
 * `npm run -s counts -- rebuild`: has a running server read everything that counts are made from anew. Counts are right without
 * it; this is for somebody who changed tables by hand with the notes of changes turned off. Until all is read, the database counts.
 */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { reachDatabase } from './lib/backup.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { DATA, ROOT } from './lib/paths.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';

runMain(async () => {
  const [what, ...more] = process.argv.slice(2);
  if (what !== 'rebuild' || more.length > 0)
    throw new PlainFailure('Say what to do with the counts.', 'npm run -s counts -- rebuild');
  if (!existsSync(join(DATA, 'mariadb')))
    throw new PlainFailure(`There is no installation in ${DATA}.`, 'Start it once with npm start.');
  await ensureDependencies();
  const secrets = JSON.parse(readFileSync(join(DATA, 'secrets.json'), 'utf8'));
  const { database, stop } = await reachDatabase(DATA, secrets);
  const mysql = createRequire(join(ROOT, 'apps/server/package.json'))('mysql2/promise');
  const { host, port, user, password, database: name } = database;
  const connection = await mysql.createConnection({ host, port, user, password, database: name });
  try {
    await connection.query('UPDATE counted_state SET rebuilt = rebuilt + 1');
    say('A running server reads everything anew within a minute.');
  } finally {
    await connection.end();
    await stop();
  }
});
