/** `npm run -s reader`: sets itself up, then hands over to the program that reads places near the data. */
import { join } from 'node:path';
import { ensureCommandsBuilt } from './lib/build.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { ROOT } from './lib/paths.mjs';
import { run } from './lib/processes.mjs';
import { runMain, sayOnStandardError } from './lib/say.mjs';

sayOnStandardError();
runMain(async () => {
  await ensureDependencies();
  await ensureCommandsBuilt();
  process.exitCode = await run(process.execPath, [
    join(ROOT, 'apps/reader/dist/main.js'),
    ...process.argv.slice(2),
  ]);
});
