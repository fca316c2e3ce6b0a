/** Setting up an installation of one's own, without the demo, up to the first mail that is judged. */
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { expectAccessible } from './workbench';

const ROOT = fileURLToPath(new URL('..', import.meta.url));
const data = mkdtempSync(join(tmpdir(), 'lantern-first-start-'));
let program: ChildProcess;
let address = '';
let smtp = 0;
let account: { email: string; password: string };

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  await new Promise((resolve) => server.close(resolve));
  return port;
}

test.use({ actionTimeout: 30_000 });

test.beforeAll(async () => {
  test.setTimeout(300_000);
  const port = await freePort();
  smtp = await freePort();
  address = `http://127.0.0.1:${port}`;
  program = spawn(process.execPath, ['scripts/start.mjs', '--empty'], {
    cwd: ROOT,
    env: {
      ...process.env,
      ...{ PORT: String(port), LANTERN_DATA: data, LANTERN_SMTP_PORT: String(smtp) },
      LANTERN_POST_PORT: String(await freePort()),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let said = '';
  account = await new Promise((resolve, reject) => {
    program.once('exit', (code) => reject(new Error(`It ended with ${code}: ${said}`)));
    program.stdout?.on('data', (chunk: Buffer) => {
      said += chunk.toString('utf8');
      const [, email, password] = /: (\S+@localhost) \/ (\S+)/.exec(said) ?? [];
      if (email && password && said.includes('Ctrl-C')) resolve({ email, password });
    });
  });
});

test.afterAll(async () => {
  if (program.exitCode === null) {
    const ended = new Promise((resolve) => program.once('exit', resolve));
    program.kill('SIGTERM');
    await ended;
  }
  rmSync(data, { recursive: true, force: true });
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
