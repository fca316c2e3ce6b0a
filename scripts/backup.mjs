/** `npm run -s backup -- FILE`: database and files of places in one file, also while Uncut Lantern runs. */
import { parseArgs } from 'node:util';
import { makeBackup, sized } from './lib/backup.mjs';
import { DATA } from './lib/paths.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';

runMain(async () => {
  process.umask(0o077);
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: { 'with-keys': { type: 'boolean', default: false } },
  });
  const [file, ...more] = positionals;
  if (file === undefined || more.length > 0)
    throw new PlainFailure(
      'Name one file for the backup.',
      'npm run -s backup -- FILE; with --with-keys the keys are in it too, and whoever has the file can read everything.',
    );
  const made = await makeBackup({ data: DATA, file, withKeys: values['with-keys'] });
  say(`The backup is ${sized(file, made.bytes)}.`);
  say(
    made.withKeys
      ? 'It holds the keys: keep it where nobody else can read it.'
      : `It holds no keys. Without a copy of ${DATA}/secrets.json its evidence cannot be read.`,
  );
});
