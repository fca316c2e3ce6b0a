/** `npm run -s label`: sets itself up, then hands over to the command. Standard output is the command's alone. */
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
    join(ROOT, 'apps/cli/dist/label.js'),
    ...process.argv.slice(2),
  ]);
});
