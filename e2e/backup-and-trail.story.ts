/** A backup is put into an empty installation, which works as before; and tampering with its audit trail is found. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { type OwnInstallation, ownFolder, ROOT, startIn } from './own-installation';

/** Made by the release before data keys: people, a published baseline, two judged mails. Everything in it is made up. */
const BACKUP = join(ROOT, 'scripts/lib/fixtures/before-data-keys.tar.gz');
const { data, remove } = ownFolder('restored');
let own: OwnInstallation | undefined;
let address = '';

/** A command of the installation: what it said, and how it ended. */
function command(script: string, ...given: readonly string[]) {
  const { status, stdout } = spawnSync(process.execPath, [`scripts/${script}.mjs`, ...given], {
    ...{ cwd: ROOT, env: { ...process.env, LANTERN_DATA: data }, encoding: 'utf8' },
  });
  return { status, said: stdout };
}

/** A statement by whoever may change the trail: the server's own account may not. */
function tamper(statement: string): void {
  const { password } = JSON.parse(readFileSync(join(data, 'keeper.json'), 'utf8')) as { password: string };
  const pid = readFileSync(join(data, 'mariadb.pid'), 'utf8').trim();
  const [, port = ''] = /--port=(\d+)/u.exec(readFileSync(`/proc/${pid}/cmdline`, 'utf8')) ?? [];
  const { status, stderr } = spawnSync(
    'mariadb',
    [
      '--no-defaults',
      '--host=127.0.0.1',
      `--port=${port}`,
      '--user=keeper',
      'trail_of_lantern',
      '-e',
      statement,
    ],
    { encoding: 'utf8', env: { ...process.env, MYSQL_PWD: password } },
  );
  expect([status, stderr]).toEqual([0, '']);
}

test.use({ actionTimeout: 30_000 });

test.beforeAll(async () => {
  test.setTimeout(300_000);
  const restored = command('restore', BACKUP);
  expect([restored.status, restored.said]).toEqual([0, expect.stringContaining('is restored')]);
  own = await startIn(data);
  ({ address } = own);
});

test.afterAll(async () => {
  await own?.stop();
  remove();
});

test('a restored installation shows its incidents, and finds where its trail was changed', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await page.goto(address);
  await page.getByLabel('Mail address').fill('first@localhost');
  await page.getByLabel('Password').fill('S4TsSiVyi4t_');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('button', { name: 'First account' })).toBeVisible();
  await page.goto(`${address}/incidents`);
  await expect(page.getByText('Mara Quist').first()).toBeVisible();
  await page.getByRole('button', { name: 'Values masked, show' }).click();
  await page.getByLabel('Why do you need to see the values?').fill('The restored evidence is looked at.');
  await page.getByRole('button', { name: 'Show values' }).click();
  await expect(page.getByText('4539 1488 0343 6467').first()).toBeVisible();

  const check = async (words: RegExp) => {
    await page.goto(`${address}/administration/trail`);
    await page.getByRole('button', { name: 'Check the whole trail' }).click();
    await expect(page.getByText(words)).toBeVisible();
  };
  await check(/^The trail is whole/u);
  expect(command('trail', 'verify')).toMatchObject({ status: 0, said: expect.stringContaining('is whole') });
  tamper("UPDATE trail_entry SET actor = 'somebody@else.example' WHERE number = 2");
  await check(/^Entry 2 is not as it was written\. Everything before it is\.$/u);
  expect(command('trail', 'verify')).toMatchObject({ status: 1, said: expect.stringContaining('Entry 2') });
  tamper('DELETE FROM trail_entry WHERE number = 2');
  await check(/^Entry 2 is missing\./u);
});
