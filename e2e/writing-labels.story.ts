/** Labels: defined, offered, signed off, published, chosen, marked, opened elsewhere, lowered, set by machines, read only. */
import { readFileSync } from 'node:fs';
import { readFileLabels } from '@lantern/files';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, sendMail, signIn } from './workbench.js';

const stamp = Date.now().toString(36);
/** A rank of its own between Sick bay and Bridge only, also when the story is run again. */
const RANK = String(601 + (Date.now() % 98));
const LABEL = `Harbour ${stamp}`;
const CARDS =
  'Refunds of the week\nMS-40001 Brandt card 4539 1488 0343 6467\nMS-40002 Okoro card 6011 0009 9013 9424';

test.describe.configure({ mode: 'serial' });

async function playAt(page: Page, program: 'documents' | 'mail', name: string): Promise<void> {
  await page.goto(`/stand-ins/${program}`);
  const chooser = page.getByLabel('Switch person');
  const option = await chooser.locator('option', { hasText: name }).first().innerText();
  await chooser.selectOption({ label: option });
  await expect(page.getByText(`You are ${name}`)).toBeVisible();
}

test('a label is written by the questions people have, its faults where they stand', async ({ page }) => {
  await signIn(page);
  await page.goto('/labels');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Create label' }).click();
  await expect(page.getByRole('heading', { name: /New label/ })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill(LABEL);
  await page.getByLabel('Rank').fill('700');
  await page.getByLabel('Choose it when').fill('It is about berths and gates.');
  await page.getByLabel('Line', { exact: true }).fill('{label}, {ownr}');
  await page.getByLabel('What changed and why').fill('First words');
  await page.getByRole('button', { name: 'Save draft' }).click();
  const form = page.getByRole('form', { name: 'A label' });
  await expect(form.getByText('"Bridge only" has the same rank')).toBeVisible();
  await expect(form.getByText('{ownr} is not a known field')).toBeVisible();
  await expect(form.getByText('It is not offered to anyone')).toBeVisible();
  await page.getByLabel('Rank').fill(RANK);
  await page.getByLabel('Line', { exact: true }).fill('{label}, {owner}');
  await expect(page.getByLabel('Preview')).toContainText(`${LABEL}, ada.merrick@merrowstrait.example`);
  await page.getByRole('button', { name: 'Save draft' }).click();
  await expect(form.getByText('has the same rank')).toHaveCount(0);
  await expect(page.getByText(/^More sensitive than .+, less than .+\.$/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'History' })).toContainText('First words');
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByLabel('Rank')).toHaveValue(RANK);
});

test('it is offered, read by the business without a right to edit, and published to people', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await page.goto('/labels/offers');
  await page.getByRole('button', { name: 'Everybody at a desk' }).click();
  const editor = page.getByRole('form', { name: 'An offer' });
  await editor.getByRole('button', { name: `+ ${LABEL}` }).click();
  await expectAccessible(page);
  await editor.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByText('The offer is saved as a draft')).toBeVisible();

  const business = await (await browser.newContext()).newPage();
  await business.goto('/');
  await business.getByLabel('Mail address').fill('hedda.quayle@merrowstrait.example');
  await business.getByLabel('Password').fill('lantern-demo');
  await business.getByRole('button', { name: 'Sign in' }).click();
  await expect(business.getByRole('link', { name: 'Uncut Lantern' })).toBeVisible();
  await business.goto('/labels/review');
  await expect(business.getByText(new RegExp(`can choose .*${LABEL}`)).first()).toBeVisible();
  await expect(
    business.getByText(/are included in “Those who buy the ship” and “Everybody at a desk”/),
  ).toBeVisible();
  await business.getByLabel('Words').fill(`Agreed ${stamp}`);
  await business.getByRole('button', { name: 'Approve' }).click();
  await expect(business.getByText(`“Agreed ${stamp}”`)).toBeVisible();
  await expectAccessible(business);
  await business.goto('/labels');
  await expect(business.getByRole('button', { name: 'Create label' })).toHaveAttribute(
    'aria-disabled',
    'true',
  );
  await business.close();

  await page.goto('/labels/review');
  await expect(page.getByText(`“Agreed ${stamp}”`)).toBeVisible();
  await page.goto('/publish');
  await page.getByLabel('Name', { exact: true }).fill('Harbour label');
  await page.getByLabel('Why', { exact: true }).fill('A story');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText(/Revision \d+ is in force/)).toBeVisible();
  await playAt(page, 'mail', 'Orla Fenwick');
  await page
    .getByRole('button', { name: /Changes to your labels/ })
    .first()
    .click();
  await expect(page.getByText(new RegExp(`you can choose .*${LABEL}`))).toBeVisible();
});

test('a person chooses it, sees it printed, and the file carries it elsewhere; going down needs a reason', async ({
  page,
}) => {
  await signIn(page);
  await playAt(page, 'documents', 'Orla Fenwick');
  await page.getByRole('button', { name: 'Create document' }).click();
  await page.getByLabel('Name of the document').fill(`Berths ${stamp}.docx`);
  await page.getByLabel('Text', { exact: true }).fill('Berth four is free on Monday.');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Choose a label first')).toBeVisible();
  await expect(page.getByLabel('Text', { exact: true })).toHaveValue('Berth four is free on Monday.');
  await page.getByRole('button', { name: /choose$/ }).click();
  await expectAccessible(page);
  await page.getByRole('option', { name: new RegExp(LABEL) }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByLabel('Printed at the top')).toContainText(
    `${LABEL}, orla.fenwick@merrowstrait.example`,
  );
  await expectAccessible(page);

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download' }).click(),
  ]);
  const bytes = readFileSync(await download.path());
  const labels = await readFileLabels({ name: download.suggestedFilename(), bytes });
  expect(labels.own).toMatchObject({ name: LABEL, rank: Number(RANK), how: 'by-hand' });
  await playAt(page, 'documents', 'Mina Carrow');
  await page
    .getByLabel('Open a file (.docx)')
    .setInputFiles({ name: 'from-elsewhere.docx', mimeType: 'application/octet-stream', buffer: bytes });
  await expect(page.getByLabel('Text', { exact: true })).toHaveValue('Berth four is free on Monday.');
  await expect(page.getByRole('navigation', { name: 'Documents' })).toContainText(LABEL);

  await playAt(page, 'documents', 'Orla Fenwick');
  await page.getByRole('button', { name: new RegExp(`Berths ${stamp}`) }).click();
  await page.getByRole('button', { name: /choose$/ }).click();
  await page.getByRole('option', { name: /^Open water/ }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Give a reason for the lower label.')).toBeVisible();
  await page.getByLabel('Why do you choose a lower label?').fill('The plan was printed in the paper');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByLabel('Printed at the foot')).toContainText('Open water');
  await page.goto('/labels/changes?shift=lowered');
  const row = page.getByRole('listitem').filter({ hasText: `Berths ${stamp}` });
  await expect(row).toContainText('The plan was printed in the paper');
  await expectAccessible(page);
});

test('content calls for a label while it is written, and a machine sets it when it is saved', async ({
  page,
}) => {
  await signIn(page);
  await playAt(page, 'documents', 'Orla Fenwick');
  await page.getByRole('button', { name: 'Create document' }).click();
  await page.getByLabel('Name of the document').fill(`Refunds ${stamp}.docx`);
  await page.getByLabel('Text', { exact: true }).fill(CARDS);
  await expect(page.getByText('It will carry Passenger care')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Use this label' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(
    page.getByText('Ship’s company → Passenger care by Passports and payment cards'),
  ).toBeVisible();
});

test('who may only read is refused the rest, and can read so before trying', async ({ page }) => {
  await signIn(page);
  await playAt(page, 'documents', 'Bea Lindqvist');
  await page
    .getByRole('button', { name: /Dry dock plan/ })
    .first()
    .click();
  await expect(page.getByText('You may read it: the label names you.')).toBeVisible();
  await expect(
    page.getByText('You may not change it: the label does not name you; ask Tomas Reave.'),
  ).toBeVisible();
  await expect(page.getByLabel('Text', { exact: true })).toHaveAttribute('readonly', '');
  await page.getByRole('button', { name: 'Make a copy' }).click();
  await expect(
    page.getByText(
      /does not let you make a copy of this\. You are not one of the people who may\. Ask tomas\.reave/,
    ),
  ).toBeVisible();
  await page.getByLabel('Text', { exact: true }).selectText();
  await page.keyboard.press('Control+C');
  await expect(page.getByText(/does not let you copy from this/)).toBeVisible();
  await expectAccessible(page);
});

test('rules go through a place: looked at first, turned on, undone', async ({ page }) => {
  await signIn(page);
  await page.goto('/labels/runs');
  await page.getByLabel(/^Timetables/).check();
  await expect(page.getByText(/240 files/)).toBeVisible();
  await page.getByRole('button', { name: 'Start preview' }).click();
  await expect(page.getByRole('button', { name: /Label \d+ files?/ })).toBeVisible({
    timeout: 90_000,
  });
  await expect(page.getByText(/240 of 240 files/)).toBeVisible();
  await page
    .getByRole('region', { name: 'Files', exact: true })
    .getByRole('button', { expanded: false })
    .first()
    .click();
  await expect(page.getByText(/^Rule /).first()).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Label \d+ files?$/ }).click();
  await expect(page.getByRole('button', { name: 'Undo the whole run' })).toBeVisible({ timeout: 90_000 });
  await page.goto('/labels/changes?how=automatically&find=Timetables');
  await expect(page.getByRole('listitem').first()).toContainText('Passenger care');
  await page.goto('/labels/runs');
  await page.getByRole('button', { name: 'Undo the whole run' }).click();
  await expect(page.getByText('The labels that this run set were undone.')).toBeVisible({ timeout: 60_000 });
});

test('a mail takes the highest label of its files', async ({ page }) => {
  await signIn(page);
  await playAt(page, 'documents', 'Tomas Reave');
  await page
    .getByRole('button', { name: /Dry dock plan/ })
    .first()
    .click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Download' }).click(),
  ]);
  const buffer = readFileSync(await download.path());
  await playAt(page, 'mail', 'Tomas Reave');
  await page.getByRole('button', { name: 'Write a mail' }).click();
  await page
    .getByLabel('Attach files')
    .setInputFiles({ name: 'plan.docx', mimeType: 'application/octet-stream', buffer });
  await expect(page.getByText('The mail goes as “Bridge only”, as its files do.')).toBeVisible();
  await playAt(page, 'mail', 'Tomas Reave');
  await sendMail(page, {
    to: 'per.halloran@merrowstrait.example',
    subject: `Dock ${stamp}`,
    body: 'See the plan.',
    files: [{ name: 'plan.docx', mimeType: 'application/octet-stream', buffer }],
  });
  await expect(page.getByText(`[Bridge only] Dock ${stamp}`)).toBeVisible();
});
