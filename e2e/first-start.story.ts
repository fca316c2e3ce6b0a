/** Setting up an installation of one's own, without the demo, up to the first mail that is judged. */
import { execFileSync } from 'node:child_process';
import { expect, test } from '@playwright/test';
import { type OwnInstallation, ownFolder, startIn } from './own-installation';
import { expectAccessible } from './workbench';

const { data, remove } = ownFolder('first-start');
let own: OwnInstallation | undefined;
let address = '';
let smtp = 0;
let account: { email: string; password: string };

test.use({ actionTimeout: 30_000 });

test.beforeAll(async () => {
  test.setTimeout(300_000);
  own = await startIn(data);
  ({ address, smtp } = own);
  const [, email = '', password = ''] = /: (\S+@localhost) \/ (\S+)/.exec(own.said) ?? [];
  account = { email, password };
});

test.afterAll(async () => {
  await own?.stop();
  remove();
});

test('an empty installation is set up in its own order, and judges its first mail', async ({ page }) => {
  test.setTimeout(240_000);
  await page.goto(address);
  await page.getByLabel('Mail address').fill(account.email);
  await page.getByLabel('Password').fill(account.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'First steps' })).toBeVisible();
  await expect(page.getByText('None yet: every address counts as outside.')).toBeVisible();
  await expectAccessible(page);

  await page.getByRole('link', { name: 'Enter domains' }).click();
  await page.getByLabel('Name').fill('Saltwick Ferries');
  await page.getByLabel('Own domains').fill('saltwick.example');
  await page.getByRole('button', { name: 'Save organisation' }).click();
  await expect(page.getByText('Organisation saved.')).toBeVisible();

  await page.goto(`${address}/first-steps`);
  await page.getByRole('link', { name: 'Import people' }).click();
  const rows = [
    'Mail;Name;Department',
    'mara@saltwick.example;Mara Quist;Desk',
    'tor@saltwick.example;Tor Aske;Desk',
  ];
  await page.getByLabel('File of people').setInputFiles({
    ...{ name: 'people.csv', mimeType: 'text/csv' },
    buffer: Buffer.from(rows.join('\n')),
  });
  await expect(page.getByText('A table with 2 people.')).toBeVisible();
  await page.getByRole('button', { name: 'Compare with the directory' }).click();
  await expect(page.getByText('2 people to add')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Apply changes' }).click();
  await expect(page.getByRole('row', { name: /from a file 2 0 0 0/ })).toBeVisible();

  await page.goto(`${address}/first-steps`);
  await page.getByRole('link', { name: 'Choose a starter pack' }).click();
  await page.getByRole('button', { name: 'Add to drafts' }).click();
  // The policy opens once it is among the drafts.
  await page.waitForURL(/\/policies\/[0-9a-f-]{36}$/);
  await page.goto(`${address}/publish`);
  await page.getByLabel('Name').fill('First day');
  await page
    .getByLabel(/Reason|Why/)
    .first()
    .fill('A baseline for the first days');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await page.goto(`${address}/first-steps`);
  await expect(page.getByText('A revision is in force.')).toBeVisible();

  execFileSync('swaks', [
    ...['--server', `127.0.0.1:${smtp}`, '--from', 'mara@saltwick.example', '--to', 'desk@partner.example'],
    ...['--header', 'Subject: Booking', '--body', 'Card 4539 1488 0343 6467, please charge it.'],
  ]);
  await page.reload();
  await expect(page.getByText('1 judged so far.')).toBeVisible();
  await page.getByRole('link', { name: 'Open the desk' }).click();
  await expect(page.getByText('Mara Quist').first()).toBeVisible();
});
