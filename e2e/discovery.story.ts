import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, networkApart } from '@lantern/testkit';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench.js';

const READER = join(import.meta.dirname, '../apps/reader/dist/main.js');
const stamp = Date.now().toString(36);
/** Card numbers of test ranges that their networks publish; from memory. */
const CARDS = ['4111 1111 1111 1111', '5555 5555 5555 4444', '3782 822463 10005'];

const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Parts of Discovery' }).getByRole('link', { name }).click();

/** What a story leaves behind is taken away, however it ends: the last thing first. */
const atEnd: (() => Promise<void> | void)[] = [];
test.afterEach(async () => {
  for (const end of atEnd.splice(0).reverse()) await end();
});

/** Runs the program of readers to its end, within a network. */
const run = (within: readonly string[], ...words: readonly string[]) => {
  const [program = '', ...rest] = [...within, process.execPath, READER, ...words];
  execFileSync(program, rest);
};
const begin = (within: readonly string[], ...words: readonly string[]) => {
  const [program = '', ...rest] = [...within, process.execPath, READER, ...words];
  const child = spawn(program, rest, { stdio: 'ignore' });
  const ended = new Promise((resolve) => child.once('exit', resolve));
  atEnd.push(async () => {
    child.kill('SIGTERM');
    await ended;
  });
};

/** The code for a new machine of a group, as the page shows it. */
async function codeFor(page: Page, group: string): Promise<string> {
  await page.goto('/discovery/machines');
  await page.getByRole('button', { name: 'Enrol a machine' }).click();
  const enrol = page.getByRole('form', { name: 'Enrol a machine' });
  await enrol.getByLabel('Group').fill(group);
  await enrol.getByRole('button', { name: 'Make a code' }).click();
  return enrol.getByText(/^[A-Z2-9]{4}-[A-Z2-9]{4}-[A-Z2-9]{4}$/u).innerText();
}

test('a reader in a network of its own is enrolled by a code, a share is looked at, labelled, and looked at again', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const data = mkdtempSync(join(tmpdir(), 'lantern-story-'));
  atEnd.push(() => rmSync(data, { recursive: true, force: true }));
  const share = join(data, 'share');
  mkdirSync(share);
  for (let at = 0; at < 12; at += 1)
    writeFileSync(
      join(share, `refund-${at}.txt`),
      `Refund ${at}\n${CARDS.map((card) => `card number ${card}`).join('\n')}\n`,
    );
  writeFileSync(join(share, 'roster.txt'), 'Nothing of anybody.');
  await signIn(page);
  // The quay's network reaches one machine alone: the gate, which passes its readers on.
  const apart = networkApart(78);
  atEnd.push(() => apart?.remove());
  const address = new URL(page.url()).origin;
  const gate = ['--data', join(data, 'gate')];
  const through = `http://${apart?.here ?? '127.0.0.1'}:${await freePort()}`;
  const opened = await codeFor(page, `Gate ${stamp}`);
  run([], 'enrol', '--address', address, '--code', opened, '--name', `gate-${stamp}`, ...gate);
  begin([], 'run', ...gate, '--processes', '1', '--relay-on', new URL(through).host);
  await expect
    .poll(
      () =>
        fetch(through).then(
          ({ status }) => status,
          () => 0,
        ),
      { timeout: 20_000 },
    )
    .toBe(404);
  const code = await codeFor(page, `Quay ${stamp}`);
  await expectAccessible(page);
  const own = ['--data', join(data, 'reader')];
  const within = apart?.within ?? [];
  const ways = ['--address', address, '--address', through];
  run(within, 'enrol', ...ways, '--code', code, '--name', `quay-${stamp}`, '--may-read', share, ...own);
  begin(within, 'run', ...own, '--processes', '1');
  await page.getByRole('button', { name: `quay-${stamp}` }).click();
  await expect(page.getByRole('article', { name: `quay-${stamp}` })).toContainText('waits for work', {
    timeout: 20_000,
  });
  const machine = page.getByRole('article', { name: `quay-${stamp}` });
  await expect(machine).toContainText('may be changed');
  if (apart) await expect(machine).toContainText(`through gate-${stamp}`, { timeout: 40_000 });

  // A place is checked as it is entered.
  await part(page, 'Places');
  await page.getByRole('button', { name: 'Add place' }).click();
  const place = page.getByRole('form', { name: 'New place' });
  await place.getByLabel('Name').fill(`Quay share ${stamp}`);
  await place.getByLabel('Folder on the machine of the reader').fill(share);
  await place.getByLabel('Group of readers').fill(`Quay ${stamp}`);
  await expectAccessible(page);
  await place.getByRole('button', { name: 'Save and check' }).click();
  await expect(page.getByText('Opens; 13 items')).toBeVisible({ timeout: 20_000 });

  // Looking comes first.
  await page.goto('/discovery/runs');
  await page.getByRole('button', { name: 'Add job' }).click();
  const job = page.getByRole('form', { name: 'New job' });
  await job.getByLabel('Name').fill(`Look ${stamp}`);
  await job.getByLabel(new RegExp(`Quay share ${stamp}`)).check();
  await expect(job.getByText(/^13 items/u)).toBeVisible();
  await expectAccessible(page);
  await job.getByRole('button', { name: 'Save job' }).click();
  const seen = page.getByRole('article', { name: `Look ${stamp}` });
  await seen.getByRole('button', { name: 'Run now' }).click();
  await expect(seen).toContainText('13 read', { timeout: 40_000 });
  await expect(seen).toContainText('12 of those read are sensitive');

  // What was found is masked, and leads to its pattern.
  await page.goto(`/discovery/items?${new URLSearchParams({ filter: `place eq "Quay share ${stamp}"` })}`);
  await page.getByRole('button', { name: /refund-3\.txt/u }).click();
  const item = page.getByRole('article', { name: 'refund-3.txt' });
  await expect(item.locator('mark').first()).toContainText('1111');
  await expect(item).not.toContainText(CARDS[0] ?? '');
  await expect(item.getByRole('link', { name: 'Payment card number' })).toHaveAttribute(
    'href',
    /\/patterns\//u,
  );
  await expectAccessible(page);

  // The item whole comes for a reason, and its values stand for whoever asked.
  const whole = item.getByRole('region', { name: 'Full item' });
  await whole.getByRole('button', { name: 'Fetch full item' }).click();
  await page.getByLabel('Why do you need the full item?').fill('A guest asks what we hold');
  await page.getByRole('button', { name: 'Fetch item', exact: true }).click();
  await page.keyboard.press('Escape');
  await whole.getByRole('button', { name: 'Show values' }).click({ timeout: 20_000 });
  await expect(whole.getByText(CARDS[0] ?? '')).toBeVisible();
  await expect(item.getByText(/Full item requested by Ines Sorrel: A guest asks/u)).toBeVisible();
  await expectAccessible(page);
  // It becomes an incident, which leads back to it.
  await item.getByRole('button', { name: 'Create incident' }).click();
  await page.getByLabel('Note for the analyst').fill('Who keeps these?');
  await page.getByRole('dialog').getByRole('button', { name: 'Create incident' }).click();
  await item.getByRole('link', { name: /^incident \d+$/u }).click();
  await expect(page.getByText('Discovery found this in a stored item.')).toBeVisible();
  await expect(page.getByText(/Who keeps these\?/u).first()).toBeVisible();
  await page.goBack();
  await expect(item).toBeVisible();

  // One goes into quarantine and back, each with a reason.
  await item.getByRole('button', { name: 'Put into quarantine' }).click();
  await item.getByLabel('Reason, kept in the history').fill('Cards of guests');
  await item.getByRole('button', { name: 'Do it' }).click();
  await expect(item).toContainText('It is in quarantine.', { timeout: 20_000 });
  expect(existsSync(join(share, 'refund-3.txt'))).toBe(false);
  expect(existsSync(join(share, 'refund-3.txt.in-quarantine.txt'))).toBe(true);
  await item.getByRole('button', { name: 'Put back' }).click();
  await item.getByLabel('Reason, kept in the history').fill('Agreed with the quay');
  await item.getByRole('button', { name: 'Do it' }).click();
  await expect(item.getByText(/Put back by Ines Sorrel: Agreed with the quay/u)).toBeVisible({
    timeout: 20_000,
  });
  expect(existsSync(join(share, 'refund-3.txt'))).toBe(true);

  // The same job labels; what changed since is read, and said.
  writeFileSync(join(share, 'late.txt'), `card number ${CARDS[0] ?? ''}`);
  await page.goto('/discovery/runs');
  await page.getByRole('button', { name: new RegExp(`Look ${stamp}`) }).click();
  await seen.getByRole('button', { name: 'Edit' }).click();
  await page.getByLabel('How far to go').selectOption('label');
  await page.getByRole('button', { name: 'Save job' }).click();
  await seen.getByRole('button', { name: 'Run now' }).click();
  await expect(seen).toContainText('12 labelled', { timeout: 40_000 });
  await expect(seen.getByRole('region', { name: 'What differs' })).toContainText('1 new');
  await expect(seen.getByRole('region', { name: 'What differs' })).toContainText('12 label raised');
});

test('the most exposed place is mended from the list, and its sum falls', async ({ page }) => {
  test.setTimeout(150_000);
  await signIn(page);
  await page.goto('/discovery');
  const places = page.getByRole('region', { name: 'Places', exact: true });
  const manifests = places.getByRole('button', { name: /^Manifests/u });
  await expect(manifests).toContainText('420 items', { timeout: 90_000 });
  await manifests.click();
  const view = page.getByRole('article', { name: 'Manifests' });
  const sum = async () =>
    Number(
      (await view.getByRole('row', { name: /^Sum/u }).getByRole('cell').last().innerText()).replaceAll(
        ',',
        '',
      ),
    );
  const before = await sum();
  expect(before).toBeGreaterThan(0);
  await expectAccessible(page);
  // Every part opens what it counts.
  const row = view.getByRole('row', { name: /People outside can open them/u });
  const counted = await row.getByRole('link').innerText();
  await row.getByRole('link').click();
  await expect(page.getByRole('status').filter({ hasText: /items$/u })).toHaveText(`${counted} items`);
  await page.goBack();
  await view.getByRole('button', { name: 'End access from outside' }).click();
  await expect(view).toContainText('desk@customs-broker.example can no longer open this place');
  await view.getByRole('button', { name: 'End it now' }).click();
  await expect(view).toContainText('Opened by everybody in the organisation');
  await expect(view.getByRole('row', { name: /People outside can open them/u })).toHaveCount(0);
  await expect.poll(sum).toBeLessThan(before);
});

test('results are gathered, the question is saved, and an owner is asked to clean up', async ({ page }) => {
  test.setTimeout(150_000);
  await signIn(page);
  await page.goto(`/discovery/items?${new URLSearchParams({ filter: 'sensitive eq true' })}`);
  await page.getByLabel('Group by').selectOption('place');
  await page.getByLabel('Then by').selectOption('age');
  const row = page.getByRole('row', { name: /^Claims/u }).first();
  await expect(row).toBeVisible({ timeout: 90_000 });
  const items = Number((await row.getByRole('cell').nth(2).innerText()).replaceAll(',', ''));
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Saved queries' }).click();
  await page.getByLabel('Save the current query as').fill(`Exposed by age ${stamp}`);
  await page.getByRole('button', { name: 'Save query' }).click();
  await expect(page.getByRole('button', { name: `Exposed by age ${stamp}`, exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  // A group lists what it counts.
  await row.getByRole('button', { name: 'Claims' }).click();
  await expect(page.getByText(`${items} items`, { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Saved queries' }).click();
  await page.getByRole('button', { name: `Exposed by age ${stamp}`, exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(row).toBeVisible();

  await page.goto('/discovery');
  await page
    .getByRole('region', { name: 'Places', exact: true })
    .getByRole('button', { name: /^Claims/u })
    .click();
  const view = page.getByRole('article', { name: 'Claims' });
  await view.getByRole('button', { name: 'Ask the owner to clean up' }).click();
  await view.getByLabel('Note to the owner').fill(`Keep what is of this year ${stamp}`);
  await expectAccessible(page);
  await view.getByRole('button', { name: 'Send the mail' }).click();
  await expect(view.getByText(`Keep what is of this year ${stamp}`)).toBeVisible();
  await expect(view.getByText('nothing was done yet')).toBeVisible();
  await view.getByRole('button', { name: 'End the request' }).click();
  await expect(view.getByText('Ended.')).toBeVisible();
});
