import { createHash } from 'node:crypto';
import { existsSync, readFileSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { takeTurn } from './lock.mjs';
import { BUILD, ROOT } from './paths.mjs';
import { capture } from './processes.mjs';
import { PlainFailure, say } from './say.mjs';

const STAMP = join(ROOT, 'node_modules', '.lantern-lock');
/** Dependencies, build and a database want about this much room. */
const NEEDED_BYTES = 1_500_000_000;

/** Installs the dependencies exactly as the lock file says, when they are missing or the lock changed. */
export async function ensureDependencies() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const installed = () => existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock;
  if (installed()) return;
  // A start and a test command at the same time would each empty the folder under the other.
  const release = await takeTurn(
    join(BUILD, 'installing'),
    'Another command installs the dependencies; waiting …',
  );
  try {
    if (!installed()) await install(lock);
  } finally {
    release();
  }
}

async function install(lock) {
  demandRoom(ROOT, NEEDED_BYTES);
  say('Installing dependencies (npm ci) …');
  const environment = { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' };
  delete environment.NODE_ENV;
  const { code, output } = await capture('npm', ['ci', '--include=dev', '--no-audit', '--no-fund'], {
    cwd: ROOT,
    env: environment,
  });
  if (code !== 0) {
    const last = output.trim().split('\n').slice(-6).join('\n');
    throw new PlainFailure(
      `npm ci did not work:\n${last}`,
      'Check the connection to the package registry and run this again.',
    );
  }
  writeFileSync(STAMP, lock);
}

/** Fails in words when the disk under `folder` has less than `bytes` left. */
export function demandRoom(folder, bytes) {
  const disk = statfsSync(folder);
  const free = disk.bavail * disk.bsize;
  if (free >= bytes) return;
  const megabytes = (count) => `${Math.round(count / 1e6)} MB`;
  throw new PlainFailure(
    `The disk has ${megabytes(free)} left; ${megabytes(bytes)} are needed.`,
    'Free some space and run this again; nothing that was saved is lost.',
  );
}
