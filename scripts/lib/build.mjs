import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { capture } from './processes.mjs';
import { BUILD, ROOT } from './paths.mjs';
import { PlainFailure, say } from './say.mjs';

const SKIPPED = new Set(['node_modules', 'dist', '.build', '.data', '.git', 'docs', 'e2e', 'test-results']);

/** Fingerprint of every source file below the project: names, sizes and times. */
function fingerprint(folder, hash = createHash('sha256')) {
  for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
    a.name < b.name ? -1 : 1,
  )) {
    if (SKIPPED.has(entry.name)) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) fingerprint(path, hash);
    else if (/\.(ts|tsx|css|html|json|svg)$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name)) {
      const { size, mtimeMs } = statSync(path);
      hash.update(`${relative(ROOT, path)} ${size} ${mtimeMs}\n`);
    }
  }
  return hash;
}

async function step(what, script, args) {
  const { code, output } = await capture(process.execPath, [join(ROOT, script), ...args], { cwd: ROOT });
  if (code !== 0)
    throw new PlainFailure(`${what} did not work:\n${output.trim().split('\n').slice(0, 40).join('\n')}`);
}

const TSC = 'node_modules/typescript/bin/tsc';

/** Runs `steps` when any source changed since they last succeeded under this name. */
async function whenChanged(name, steps) {
  const stamp = join(BUILD, `${name}.stamp`);
  const now = fingerprint(ROOT).digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  await steps();
  mkdirSync(BUILD, { recursive: true });
  writeFileSync(stamp, now);
}

/** Builds the whole application for use: packages, contracts' schema, server, web. */
export function ensureBuilt() {
  return whenChanged('application', async () => {
    say('Building …');
    await step('Compiling', TSC, ['-b']);
    await step(
      'Describing the contracts',
      'node_modules/ts-json-schema-generator/bin/ts-json-schema-generator.js',
      [
        '--path',
        'packages/contracts/src/{session,accounts,patterns,records,documents,specimens,policies,replays,labels,documents-desk,incidents,mail,intake,things,post,drive,lantern,errors,live,queue,desk,response,insight,prevent,reports,discovery,readers,found-items,found-follow-up,reader-protocol,watching,crossings,automations-at-work,trusts,ledger,events,directory,machines,retention,access,approvals,passkeys,sign-on}.ts',
        '--tsconfig',
        'packages/contracts/tsconfig.schema.json',
        '--expose',
        'export',
        '--functions',
        'hide',
        '--no-type-check',
        '--out',
        'packages/contracts/dist/schema.json',
      ],
    );
    await step('Bundling the web application', 'node_modules/vite/bin/vite.js', [
      'build',
      'apps/web',
      '--logLevel',
      'warn',
    ]);
  });
}

/** Builds only what the command line needs: core, files and the commands themselves. */
export function ensureCommandsBuilt() {
  return whenChanged('commands', async () => {
    say('Building the commands …');
    await step('Compiling', TSC, ['-b', 'apps/cli', 'apps/reader']);
  });
}

/** Builds the benchmarks and what they measure. */
export function ensureBenchmarksBuilt() {
  return whenChanged('benchmarks', async () => {
    say('Building the benchmarks …');
    await step('Compiling', TSC, ['-b', 'bench']);
  });
}
