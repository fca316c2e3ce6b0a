/** What a policy author does: bands, text view, replay before publishing, questions, overrides, coverage, rolling back. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { refundList } from '@lantern/demo';
import { chance } from '@lantern/testkit';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, playPerson, sendMail, signIn, publish } from './workbench.js';

const OUTSIDE = 'desk@islandholidays.example';
const CARDS = 'Passenger payment data leaves by mail';
const stamp = Date.now().toString(36);

test.describe.configure({ mode: 'serial' });

async function openPolicy(page: Page, name: string): Promise<void> {
  await page.goto('/policies');
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page.getByText('draft saved')).toBeVisible();
}

async function sendCards(page: Page, cards: number, subject: string): Promise<void> {
  await playPerson(page, 'Orla Fenwick');
  const { name, bytes } = await refundList(chance(cards), cards, 46);
  const mimeType = 'application/octet-stream';
  await sendMail(page, {
    to: OUTSIDE,
    subject,
    body: 'the list',
    files: [{ name, mimeType, buffer: Buffer.from(bytes) }],
  });
}

test('bands are marked where they stand when they do not meet, and text and sentence are one', async ({
  page,
}) => {
  await signIn(page);
  await openPolicy(page, CARDS);
  const rule = page.getByRole('listitem', { name: 'Rule 1', exact: true });
  await rule.getByRole('button', { name: '5 to 24' }).click();
  await page.getByLabel('To', { exact: true }).fill('25');
  await page.keyboard.press('Escape');
  await expect(rule.getByRole('alert')).toContainText('Two bands overlap (5 to 25, then 25).');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rule.getByRole('alert')).toHaveCount(0);

  await page.getByRole('button', { name: 'As text' }).click();
  const text = page.getByRole('textbox', { name: 'Policy text' });
  await expect(text).toContainText('text: Refunds go through the portal');
  await expectAccessible(page);
  await text.getByText('Card numbers to the outside').click();
  await page.keyboard.press('End');
  const saved = page.waitForResponse((answer) => answer.request().method() === 'PUT');
  await page.keyboard.type(` ${stamp}`);
  await saved;
  await page.keyboard.press('Enter');
  await page.keyboard.type('colour: red');
  await expect(page.getByRole('alert')).toContainText('colour is not a field here');
  await page.reload();
  await expect(text).toContainText(stamp);
  await expect(text).not.toContainText('colour');
  await page.getByRole('button', { name: 'As sentences' }).click();
  await expect(rule.getByRole('button', { name: '5 to 24' })).toBeVisible();
});

test('a replay says what a change would do before it does it', async ({ page }) => {
  await signIn(page);
  await openPolicy(page, CARDS);
  const rule = page.getByRole('listitem', { name: 'Rule 1', exact: true });
  await rule.getByRole('button', { name: 'note', exact: true }).click();
  await page.getByRole('radio', { name: /^block/ }).check();
  await page.keyboard.press('Escape');
  await rule.getByRole('button', { name: 'nothing yet' }).click();
  await page
    .getByLabel('Message to the sender', { exact: true })
    .selectOption('Refunds go through the portal');
  await page.keyboard.press('Escape');
  await expect(page.getByText('draft saved')).toBeVisible();
  await page.goto('/policies/replay');
  await page.getByRole('button', { name: 'Start replay' }).click();
  // The demo shows a replay of somebody else until this one is there.
  await expect(page.getByText(/started by Ines Sorrel: done/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/\d+ of \d+ judged in/)).toBeVisible({ timeout: 30_000 });
  const newly = page.getByRole('button', { name: /newly stopped/ });
  await expect(newly).toHaveText(/[1-9]\d* newly stopped/);
  await expect(page.getByText(/People interrupted per day/)).toBeVisible();
  await newly.click();
  await expect(page.getByRole('heading', { name: /[1-9]\d* movements newly stopped/ })).toBeVisible();
  await expect(page.getByText(/note → block/).first()).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(newly).toHaveText(/[1-9]\d* newly stopped/);
  await openPolicy(page, CARDS);
  await rule.getByRole('button', { name: 'block', exact: true }).first().click();
  await page.getByRole('radio', { name: /^note/ }).check();
  await page.keyboard.press('Escape');
  await expect(page.getByText('draft saved')).toBeVisible();
});

test('a question holds a mail back until the person replies, word for word', async ({ page }) => {
  await signIn(page);
  await sendCards(page, 24, `List ${stamp}`);
  const told = page.getByRole('alert');
  await expect(told).toContainText('Your mail: a question first');
  await expect(told).toContainText('24 × Payment card number');
  await expectAccessible(page);
  await page.reload();
  await page.getByRole('radio', { name: /These passengers booked/ }).check();
  await page.getByLabel('In your own words').fill(`Booking group ${stamp}`);
  await page.getByRole('button', { name: 'Send it with this reason' }).click();
  await expect(page.getByText('Your mail is on its way')).toBeVisible();
  await page.goto('/incidents?order=-time');
  await page.getByRole('list', { name: 'Incidents' }).getByRole('button').first().click();
  await expect(page.getByRole('region', { name: 'History' })).toContainText(
    `It goes on: These passengers booked through this agency. Booking group ${stamp}`,
  );
  await expect(page.getByRole('region', { name: 'How the verdict was reached' })).toContainText(
    'band 5 to 24: ask',
  );
});

test('an override is asked for by the person and decided by somebody else, in words both read', async ({
  page,
}) => {
  await signIn(page);
  await sendCards(page, 25, `Blocked ${stamp}`);
  await expect(page.getByRole('alert')).toContainText('Your mail was not sent');
  await page.getByRole('button', { name: 'Request an override' }).click();
  await page.getByLabel(/Reason. The person who decides reads it/).fill(`The court asks, ${stamp}`);
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText('Your request was sent. The item waits for a decision.')).toBeVisible();
  await page.goto('/incidents/waiting');
  const row = page.getByRole('listitem').filter({ hasText: `The court asks, ${stamp}` });
  await expect(row).toContainText('requests an override');
  await expectAccessible(page);
  await row.getByLabel('Why').fill('The order is on file');
  await row.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByText('The movement is allowed')).toBeVisible();
  await expect(row).toHaveCount(0);
  await playPerson(page, 'Orla Fenwick');
  await page.getByRole('button', { name: /^Sent/ }).click();
  await page.getByRole('button', { name: new RegExp(`Blocked ${stamp}`) }).click();
  await expect(page.getByRole('alert')).toContainText('Ines Sorrel: "The order is on file"');
});

test('an empty cell of what is covered becomes the rule that fills it', async ({ page }) => {
  await signIn(page);
  await page.goto('/policies/coverage');
  const row = page.getByRole('row', { name: /International bank account number/ });
  await expect(row).toContainText(/(?:note|hold) from 3/);
  await expectAccessible(page);
  await row.getByRole('button', { name: 'nothing' }).first().click();
  await page.getByRole('button', { name: 'Create a rule for this' }).click();
  await expect(page.getByRole('button', { name: /International bank account number/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /any recipient is inside/ })).toBeVisible();
  await page.getByLabel('Name of the policy').fill(`Accounts ${stamp}`);
  await expect(page.getByText('draft saved')).toBeVisible();
  await page.goto('/policies/coverage?of=drafts');
  await expect(row.getByRole('cell').nth(1)).toContainText('note');
});

test('people are chosen from the directory, ceilings say what they caught', async ({ page }) => {
  await signIn(page);
  await openPolicy(page, `Accounts ${stamp}`);
  await page.getByRole('button', { name: 'everybody' }).click();
  await page.getByLabel('For', { exact: true }).fill('flee');
  await page.getByRole('button', { name: /^Fleet, \d+ people/ }).click();
  await expect(page.getByText(/That is \d\d of \d+ people/)).toBeVisible();
  await page.getByLabel('But not for').fill('nobody like this');
  await expect(page.getByText('Nothing in the directory matches.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Fleet', exact: true })).toBeVisible();
  await page.getByRole('button', { name: '+ ceiling' }).click();
  await page.getByRole('button', { name: 'note at most' }).click();
  await page.getByLabel('Last day').fill('2026-01-31');
  await page.keyboard.press('Escape');
  await expect(
    page.getByText('This ceiling ended on 2026-01-31. The ceilings below it apply.'),
  ).toBeVisible();
  await expect(page.getByText('The ceilings have not reduced any answer yet.')).toBeVisible();
  await expectAccessible(page);
});

test('revisions are compared and an old one is published again', async ({ page }) => {
  await signIn(page);
  await publish(page, `Accounts ${stamp}`);
  await page.getByRole('button', { name: 'Compare' }).nth(1).click();
  await expect(page.getByRole('region', { name: 'Changes between revisions' })).toContainText(
    `Accounts ${stamp}`,
  );
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Back to the drafts' }).click();
  await page.getByRole('button', { name: 'Publish again' }).first().click();
  await page.getByLabel('Why', { exact: true }).last().fill('It was too much');
  await page.getByRole('button', { name: /Publish revision \d+ again/ }).click();
  await expect(page.getByText(/Revision \d+ is in force, the same as \d+/)).toBeVisible();
  await expect(page.getByText(`Accounts ${stamp}`).first()).toBeVisible();
  await page.goto('/policies');
  await page.getByRole('link', { name: `Accounts ${stamp}` }).click();
  await page.getByRole('button', { name: 'Remove', exact: true }).first().click();
  await expect(page.getByText('was removed from the drafts')).toBeVisible();
});

test('the whole set goes out as files and comes in after a look at what it changes', async ({ page }) => {
  await signIn(page);
  await page.goto('/publish');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export folder' }).click();
  expect((await download).suggestedFilename()).toBe('policy-set.zip');
  const files = (await (await page.request.get('/api/set')).json()) as { path: string; text: string }[];
  const folder = mkdtempSync(join(tmpdir(), 'lantern-set-'));
  const bringIn = async (change: (text: string) => string): Promise<void> => {
    for (const { path, text } of files) {
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      writeFileSync(join(folder, path), path.startsWith('policies/001') ? change(text) : text);
    }
    await page.getByLabel('Folder to import').setInputFiles(folder);
  };
  const area = page.getByRole('region', { name: 'Policies as files' });
  await bringIn((text) => text.replace('answer: ask', 'answer: shout'));
  await expect(area.getByRole('alert')).toContainText(
    /policies\/001.*line \d+: rules\.0\.bands\.1\.answer must be/,
  );
  await bringIn((text) => text.replace('answer: ask', 'answer: advise'));
  await expect(area.getByText('It would change one thing in the drafts:')).toBeVisible();
  await expect(area.getByText(/5 to 24: advise/)).toBeVisible();
  await bringIn((text) => text);
  await expect(area.getByText('The folder is identical to the drafts.')).toBeVisible();
  rmSync(folder, { recursive: true });
  await page.goto('/policies/exchanges');
  await expect(page.getByRole('row', { name: /Card lists to the card processor/ })).toContainText(CARDS);
  await expectAccessible(page);
});
