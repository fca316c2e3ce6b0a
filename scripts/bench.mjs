/** `npm run -s bench -- <name>`: sets itself up, compiles, and runs one benchmark. Its last line is one JSON object. */
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBenchmarksBuilt } from './lib/build.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { ROOT } from './lib/paths.mjs';
import { run } from './lib/processes.mjs';
import { PlainFailure, runMain, sayOnStandardError } from './lib/say.mjs';

sayOnStandardError();
runMain(async () => {
  const [name, ...rest] = process.argv.slice(2);
  const known = readdirSync(join(ROOT, 'bench')).flatMap((file) =>
    file.endsWith('.ts') ? [file.slice(0, -3)] : [],
  );
  if (name === undefined || !known.includes(name) || !existsSync(join(ROOT, 'bench', `${name}.ts`)))
    throw new PlainFailure(
      `Say which benchmark: ${known.join(', ')}. Example: npm run -s bench -- ${known[0]}`,
    );
  await ensureDependencies();
  await ensureBenchmarksBuilt();
  process.exitCode = await run(process.execPath, [
    '--expose-gc',
    join(ROOT, 'bench/dist', `${name}.js`),
    ...rest,
  ]);
});
