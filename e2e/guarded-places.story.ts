import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench.js';

const READER = join(import.meta.dirname, '../apps/reader/dist/main.js');
/** Card numbers of test ranges that their networks publish; from memory. */
const MANIFEST = 'name,card\nAnna,4111 1111 1111 1111\nLars,5555 5555 5555 4444\n';
const stamp = Date.now().toString(36);
/** Another disk than the reader's own folder, as a stick is. */
const ELSEWHERE = existsSync('/dev/shm') ? '/dev/shm' : tmpdir();

const asPerson = async (page: Page, name: string) => {
  const people = page.getByLabel('Switch person');
  const option = people.locator('option').filter({ hasText: name }).first();
  await people.selectOption((await option.getAttribute('value')) ?? '');
};

const openPlace = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Files' }).getByRole('button', { name: new RegExp(`^${name}`, 'u') });

async function labelPlace(page: Page, place: string, label: string): Promise<void> {
  await page.goto('/discovery');
  await page
    .getByRole('region', { name: 'Places', exact: true })
    .getByRole('button', { name: new RegExp(`^${place}`, 'u') })
    .click();
  await page.getByLabel('Label of the place').selectOption({ label });
}

test('a label on a place ends what was opened before, and nobody takes copies from there', async ({
  page,
}) => {
  test.setTimeout(150_000);
  await signIn(page);

  // Before: somebody outside reads a file of the place by a link, and its owner downloads it.
  await page.goto('/stand-ins/drive');
  await asPerson(page, 'Per Halloran');
  await openPlace(page, 'Port security').click();
  const files = page.getByRole('article', { name: 'Port security' });
  await page.getByLabel('Upload into this folder').setInputFiles({
    ...{ name: `tides-${stamp}.txt`, mimeType: 'text/plain', buffer: Buffer.from('High water') },
  });
  await expect(files.getByRole('checkbox').first()).toBeVisible();
  await expectAccessible(page);
  const taken = page.waitForEvent('download');
  await files.getByRole('checkbox').first().check();
  await files.getByRole('button', { name: 'Download', exact: true }).click();
  expect((await taken).suggestedFilename()).toBe('files.zip');
  await files.getByRole('button', { name: `tides-${stamp}.txt`, exact: true }).click();
  await expect(page.getByRole('link', { name: 'Download' })).toBeVisible();
  const opened = page.url();

  // What the label would end is said before it is set.
  await labelPlace(page, 'Port security', 'Bridge only');
  await expect(page.getByText('Nobody may take copies, not even its owner.')).toBeVisible();
  await expect(page.getByText('People inside who were not let in can no longer come in.')).toBeVisible();
  await expect(page.getByText(/per\.halloran@merrowstrait\.example took copies/u)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Label the place' }).click();
  await expect(page.getByText('From the moment it is set:')).toHaveCount(0);

  // The owner is told before trying; looking, editing and renaming still work.
  await page.goto(opened);
  await expect(
    page.getByText(/Download is not allowed\. .*Nobody may take copies out of this place/u),
  ).toBeVisible();
  await page.getByLabel('Content of the file').fill('High water at six');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('button', { name: 'Save' })).toBeDisabled();
  await page.getByRole('link', { name: 'Back to Port security' }).click();
  await expect(page.getByRole('region', { name: 'What this place asks' })).toContainText(
    'No copies from here',
  );
  await expect(page.getByRole('region', { name: 'What this place asks' })).toContainText('Ask Per Halloran');
  const row = page.getByRole('row').filter({ hasText: `tides-${stamp}.txt` });
  await row.getByRole('button', { name: 'Rename' }).click();
  await page.getByLabel(`New name of tides-${stamp}.txt`).fill(`tides-again-${stamp}.txt`);
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await expect(page.getByRole('button', { name: `tides-again-${stamp}.txt`, exact: true })).toBeVisible();
  await page
    .getByRole('row')
    .filter({ hasText: `tides-again-${stamp}.txt` })
    .getByRole('checkbox')
    .check();
  await page.getByRole('button', { name: 'Download', exact: true }).click();
  await expect(page.getByText(/Nobody may take copies out of this place/u).last()).toBeVisible();

  // From the other side: a machine that nobody manages, and somebody who was not let in.
  await page.getByLabel('Working at').selectOption('own');
  await expect(page.getByRole('alert')).toContainText('does not manage the machine you use');
  await asPerson(page, 'Orla Fenwick');
  await expect(openPlace(page, 'Claims')).toBeVisible();
  await expect(openPlace(page, 'Port security')).toHaveCount(0);

  await labelPlace(page, 'Port security', 'none');
  await page.getByRole('button', { name: 'Take the label off' }).click();
});

test('an agent stops a file on its way to a stick', async ({ page }) => {
  test.setTimeout(150_000);
  const data = mkdtempSync(join(tmpdir(), 'lantern-agent-'));
  const stick = mkdtempSync(join(ELSEWHERE, 'lantern-stick-'));
  const own = ['--data', join(data, 'reader')];
  await signIn(page);
  await page.goto('/discovery/machines?enrol=new');
  const enrol = page.getByRole('form', { name: 'Enrol a machine' });
  await enrol.getByLabel('Group').fill(`Desks ${stamp}`);
  await enrol.getByRole('button', { name: 'Make a code' }).click();
  const code = await enrol.getByText(/^[A-Z2-9]{4}-[A-Z2-9]{4}-[A-Z2-9]{4}$/u).innerText();
  const address = new URL(page.url()).origin;
  execFileSync(process.execPath, [
    ...[READER, 'enrol', '--address', address, '--code', code],
    ...['--name', `desk-${stamp}`, '--may-read', stick, ...own],
  ]);
  const agent = spawn(process.execPath, [READER, 'run', ...own, '--processes', '1'], { stdio: 'ignore' });
  try {
    await page.getByRole('button', { name: new RegExp(`Group Desks ${stamp}`, 'u') }).click();
    await page.getByRole('button', { name: 'Write a draft' }).click();
    const group = page.getByRole('form', { name: `Draft for Desks ${stamp}` });
    await group.getByRole('button', { name: 'Add a folder' }).click();
    await group.getByLabel('Folder on the machine').fill(stick);
    await group.getByLabel('Name of the device').fill('Stick of a visitor');
    await group.getByLabel(/Whose movements they are/u).fill('bea.lindqvist@merrowstrait.example');
    await expectAccessible(page);
    await group.getByLabel('On battery, only above, in percent').fill('30');
    await group.getByRole('button', { name: 'Save as draft' }).click();

    // Nothing changes for the machine until the draft is in force.
    const draft = page.getByRole('region', { name: 'Draft' });
    await expect(draft).toContainText(`What arrives in ${stick} goes to`);
    await expect(draft).toContainText('only while more than 30 % are left');
    await expectAccessible(page);
    await draft.getByRole('button', { name: 'Put in force …' }).click();
    await draft.getByRole('button', { name: 'Put in force' }).click();
    await expect(draft).toBeHidden();
    await expect(page.getByText(`What arrives in ${stick} goes to`).first()).toBeVisible();
    await page.getByRole('button', { name: new RegExp(`^desk-${stamp}`, 'u') }).click();
    const machine = page.getByRole('article', { name: `desk-${stamp}` });
    await expect(machine).toContainText('is watched', { timeout: 30_000 });
    await expectAccessible(page);

    writeFileSync(join(stick, 'rota.txt'), 'The rota of Tuesday');
    writeFileSync(join(stick, 'manifest.csv'), MANIFEST);
    const note = join(stick, 'manifest.csv.in-quarantine.txt');
    await expect.poll(() => existsSync(note), { timeout: 30_000 }).toBe(true);
    expect([existsSync(join(stick, 'manifest.csv')), existsSync(join(stick, 'rota.txt'))]).toEqual([
      false,
      true,
    ]);
    expect(readFileSync(note, 'utf8')).not.toContain('4111');
    await expect(machine).toContainText('1 file in quarantine on the machine.', { timeout: 15_000 });

    // The movement is listed in Incidents.
    const filter = `machine eq "desk-${stamp}"`;
    await page.goto(`/incidents?${new URLSearchParams({ filter })}`);
    await expect(page.getByText('manifest.csv').first()).toBeVisible();
  } finally {
    const ended = new Promise((resolve) => agent.once('exit', resolve));
    agent.kill('SIGTERM');
    await ended;
    for (const each of [data, stick]) rmSync(each, { recursive: true, force: true });
  }
});
