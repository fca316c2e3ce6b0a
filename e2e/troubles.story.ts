/** What goes wrong in a day, on the real interface: each ends in a sentence, and nothing is lost. */
import { zipBomb } from '@lantern/testkit';
import { expect, test } from '@playwright/test';
import { expectAccessible, playPerson, sendMail, signIn } from './workbench.js';

const OUTSIDE = 'desk@islandholidays.example';

test('a file of 30 MB is not attached, and the mail stays', async ({ page }) => {
  await signIn(page);
  await playPerson(page, 'Per Halloran');
  await page.getByRole('button', { name: 'Write a mail' }).click();
  await page.getByLabel('Text of the mail').fill('The film of the berth.');
  await page.getByLabel('Attach files').setInputFiles([
    { name: 'film.zip', mimeType: 'application/zip', buffer: Buffer.alloc(30 * 1024 * 1024) },
    { name: 'note.txt', mimeType: 'text/plain', buffer: Buffer.from('small') },
  ]);
  await expect(page.getByRole('alert')).toContainText(
    'film.zip (31 MB) is larger than 25 MB and was not attached. Everything else is still here.',
  );
  await expect(page.getByText('note.txt')).toBeVisible();
  await expect(page.getByLabel('Text of the mail')).toHaveValue('The film of the berth.');
  await expectAccessible(page);
});

test('5,000 recipients are refused in words, and all of them stay', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await signIn(page);
  await playPerson(page, 'Per Halloran');
  await page.getByRole('button', { name: 'Write a mail' }).click();
  const many = Array.from({ length: 5000 }, (_unused, index) => `p${index}@islandholidays.example`).join(
    ', ',
  );
  await page.evaluate((text) => navigator.clipboard.writeText(text), many);
  await page.getByLabel('To', { exact: true }).focus();
  await page.keyboard.press('Control+v');
  await expect(page.getByText('and 4970 more')).toBeVisible();
  await page.getByLabel('Text of the mail').fill('hello');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByRole('alert')).toContainText(
    'This mail names 5000 recipients; one mail takes 1000. It was not sent, and all of it is still here.',
  );
  await expect(page.getByText('and 4970 more')).toBeVisible();
});

test('a mail to nobody and to no address is refused in words', async ({ page }) => {
  await signIn(page);
  await playPerson(page, 'Per Halloran');
  await page.getByRole('button', { name: 'Write a mail' }).click();
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByRole('alert')).toContainText('Enter a recipient.');
  await page.getByLabel('To', { exact: true }).fill('someone@@nowhere');
  await page.getByLabel('To', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByRole('alert')).toContainText('"someone@@nowhere" is not a mail address.');
});

test('an archive that unpacks without end is an incident, not a silent pass', async ({ page }) => {
  await signIn(page);
  await playPerson(page, 'Mina Carrow');
  await sendMail(page, {
    to: OUTSIDE,
    subject: 'Scans',
    body: 'see file',
    files: [{ name: 'scans.zip', mimeType: 'application/zip', buffer: zipBomb(2) }],
  });
  await expect(page.getByText('The mail is on its way')).toBeVisible({ timeout: 30_000 });
  await page.goto('/incidents?order=-time');
  await page.getByRole('list', { name: 'Incidents' }).getByRole('button').first().click();
  await expect(
    page.getByRole('heading', { name: 'Unreadable content to islandholidays.example' }),
  ).toBeVisible();
  await expect(page.getByText('it expands to more than 100 MB')).toBeVisible();
});

test('two analysts at one incident: the second sees what the first decided', async ({ page, browser }) => {
  await signIn(page);
  await page.goto('/incidents?order=time');
  await page.getByRole('list', { name: 'Incidents' }).getByRole('button').first().click();
  await expect(page).toHaveURL(/incidents\/\d+/);
  const other = await (
    await browser.newContext({ baseURL: new URL(page.url()).origin, viewport: { width: 1280, height: 800 } })
  ).newPage();
  await signIn(other, 'tobias.lund@merrowstrait.example');
  await other.goto(page.url());
  await expect(other.getByRole('group', { name: 'Was it what we look for?' })).toBeVisible();
  await other.keyboard.press('n');
  const state = page.getByRole('status', { name: 'Status' });
  await expect(state).toContainText('False positive, Tobias Lund');
  await expect(page.getByRole('region', { name: 'History' })).toContainText(
    'It is not what we look for, Tobias Lund',
  );
  await page.keyboard.press('z');
  await expect(other.getByRole('status', { name: 'Status' })).toContainText('Taken');
  await other.context().close();
});

test('two authors at one policy: nothing is saved over unseen', async ({ page, browser }) => {
  await signIn(page);
  await page.goto('/policies');
  await page.getByRole('link', { name: 'What cannot be read is looked at' }).click();
  const purpose = page.getByLabel('Purpose');
  await expect(purpose).toBeVisible();
  const other = await (await browser.newContext({ baseURL: new URL(page.url()).origin })).newPage();
  await signIn(other, 'tobias.lund@merrowstrait.example');
  await other.goto(page.url());
  const before = await purpose.inputValue();
  await other.getByLabel('Purpose').fill('Tobias was here.');
  await expect(other.getByText('draft saved')).toBeVisible();
  await expect(other.getByText('saving …')).toHaveCount(0);
  await page.waitForTimeout(800);
  await purpose.fill('Ines was here.');
  await expect(page.getByRole('alert')).toContainText(
    'Tobias Lund changed this policy in the meantime. Your version was not saved.',
  );
  await expect(purpose).toHaveValue('Ines was here.');
  await page.reload();
  await expect(purpose).toHaveValue('Tobias was here.');
  await purpose.fill(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(purpose).toHaveValue('Tobias was here.');
  await purpose.fill(before);
  await expect(page.getByText('draft saved')).toBeVisible();
  await other.context().close();
});

test('an address that leads nowhere, and an incident that is not there, say so', async ({ page }) => {
  await signIn(page);
  await page.goto('/nowhere/at/all');
  await expect(page.getByRole('heading', { name: 'This page does not exist' })).toBeVisible();
  await expectAccessible(page);
  await page.goto('/incidents/99999999');
  await expect(page.getByRole('alert')).toContainText('There is no incident 99999999.');
  await page.goto('/policies/8e1d2c30-4b7f-4c12-8a55-00000000ffff');
  await expect(page.getByRole('alert')).toContainText('There is no such policy.');
});

test('a list that a rule looks for is not removed, and a removed policy can be put back', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/patterns');
  await page.getByRole('link', { name: 'Ship purchase Slackwater' }).click();
  await page.getByRole('button', { name: 'Remove the list' }).click();
  await expect(page.getByRole('alert')).toContainText(
    'Rules of The ship purchase stays inside, Guests in chats, Shared drives',
  );
  await page.goto('/policies');
  await page.getByRole('button', { name: 'Create policy' }).click();
  await page.getByLabel('Name of the policy').fill('Short-lived');
  await expect(page.getByText('draft saved')).toBeVisible();
  await page.waitForTimeout(900);
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await page.locator('[data-sonner-toast]').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Name of the policy')).toHaveValue('Short-lived');
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page).toHaveURL(/policies$/);
});
