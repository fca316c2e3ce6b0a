/** `npm run -s restore -- FILE`: puts a backup into an installation that holds nothing yet. */
import { parseArgs } from 'node:util';
import { restoreBackup } from './lib/backup.mjs';
import { takeLock } from './lib/lock.mjs';
import { join } from 'node:path';
import { DATA } from './lib/paths.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';

runMain(async () => {
  process.umask(0o077);
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: { keys: { type: 'string' } },
  });
  const [file, ...more] = positionals;
  if (file === undefined || more.length > 0)
    throw new PlainFailure('Name one backup.', 'npm run -s restore -- FILE [--keys secrets.json]');
  const lock = takeLock(join(DATA, 'running.json'));
  try {
    const { madeAt } = await restoreBackup({ data: DATA, file, keysFile: values.keys });
    say(`The backup of ${madeAt} is restored. Start it with npm start.`);
  } finally {
    lock.release();
  }
});
