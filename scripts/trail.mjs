/**
 * `npm run -s trail -- verify`: follows the audit trail and says whether it is as it was written. Ends with 1 where not.
 * `npm run -s trail -- sweep`: deletes its oldest part by age, as the setting under Retention says. The start command does
 * so once a day.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { reachDatabase } from './lib/backup.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { ensureDependencies } from './lib/dependencies.mjs';
import { DATA } from './lib/paths.mjs';
import { PlainFailure, runMain, say } from './lib/say.mjs';
import { sweepTrail, verifyTrail } from './lib/trail.mjs';

const WHY = {
  changed: (at) => `Entry ${at} is not as it was written. Everything before it is.`,
  missing: (at) => `Entry ${at} is missing. Everything before it is as it was written.`,
  'cut-off': (at) => `The end of the trail is missing from entry ${at} on.`,
  'not-signed': () => 'The signature of the end of the trail is not valid.',
};

async function verify(database) {
  const { whole, entries, brokenAt, why, heads, removed } = await verifyTrail(DATA, database);
  if (removed) {
    const last = removed.lastAt.toISOString().slice(0, 10);
    say(
      `Entries 1 to ${removed.number}, the last of them of ${last}, were deleted by age; their end is signed.`,
    );
  }
  if (whole)
    say(`The trail is whole: all ${entries} entries are as they were written, past ${heads} written heads.`);
  else {
    say(WHY[why](brokenAt));
    process.exitCode = 1;
  }
}

async function sweep(database) {
  const { status, from, to } = await sweepTrail(DATA, database);
  if (status === 'deleted') say(`Entries ${from} to ${to} were deleted by age.`);
  else if (status === 'kept') say('No part of the trail is old enough. Nothing was deleted.');
  else {
    say('The trail is not whole, so nothing was deleted. See: npm run -s trail -- verify');
    process.exitCode = 1;
  }
}

const ACTS = { verify, sweep };

runMain(async () => {
  const [what, ...more] = process.argv.slice(2);
  const act = ACTS[what];
  if (!act || more.length > 0)
    throw new PlainFailure('Say what to do with the trail.', 'npm run -s trail -- verify, or: … -- sweep');
  if (!existsSync(join(DATA, 'mariadb')))
    throw new PlainFailure(`There is no installation in ${DATA}.`, 'Start it once with npm start.');
  await ensureDependencies();
  await ensureBuilt();
  const secrets = JSON.parse(readFileSync(join(DATA, 'secrets.json'), 'utf8'));
  const { database, stop } = await reachDatabase(DATA, secrets);
  try {
    await act(database);
  } finally {
    await stop();
  }
});
