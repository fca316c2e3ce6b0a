import { expect, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench.js';

const stamp = Date.now().toString(36);

test.describe.configure({ mode: 'serial' });

test('an own expression is written, refused with reasons, tried on the Lantern and held to specimens', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/patterns');
  await page.getByRole('button', { name: 'Create expression' }).click();
  await page.getByLabel('Name', { exact: true }).fill(`Voyage ${stamp}`);
  const field = page.getByLabel('Expression', { exact: true });
  await field.click();
  await page.keyboard.type('(v)\\1');
  await expect(page.getByText('It refers back to a group').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save draft' })).toBeDisabled();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('\\w+');
  await expect(page.getByText('It matches most ordinary text').first()).toBeVisible();
  await page.keyboard.press('Control+A');
  await page.keyboard.type(`\\bVY${stamp}-\\d{4}\\b`);
  await page.getByLabel('Names of the value, one per line').fill('voyage');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save draft' }).click();
  await expect(page).toHaveURL(/patterns\/[0-9a-f-]{36}$/);

  await page.getByRole('button', { name: /^Lantern/ }).click();
  await page.getByLabel('Text to inspect').fill(`The voyage VY${stamp}-1234 leaves at eight.`);
  await expect(page.getByLabel('Values that should be found, one per line')).toHaveValue(`VY${stamp}-1234`);
  await page.getByRole('button', { name: 'These should be found' }).click();
  await page.getByLabel('Text to inspect').fill(`Order VY${stamp}-12 is another thing.`);
  await page.getByRole('button', { name: 'Nothing should be found' }).click();
  const figures = page.getByRole('status', { name: 'Figures over the specimens' });
  await expect(figures).toContainText('2 of 2 kept');

  await field.click();
  await page.keyboard.press('Control+A');
  await page.keyboard.type(`\\bVY${stamp}-\\d{2}\\b`);
  await expect(figures).toContainText('0 of 2 kept');
  await expect(figures).toContainText('2 specimens change');
  await expect(page.getByText('Broken by this change.')).toHaveCount(2);
  await expectAccessible(page);
  await page.reload();
  await expect(figures).toContainText('2 of 2 kept');
});

test('publishing asks before it breaks a specimen, and records the decision', async ({ page }) => {
  await signIn(page);
  await page.goto(`/patterns?words=Voyage ${stamp}`);
  await page.getByRole('link', { name: `Voyage ${stamp}` }).click();
  await page.getByLabel('Expression', { exact: true }).click();
  await page.keyboard.press('Control+A');
  await page.keyboard.type(`\\bVY${stamp}-\\d{5}\\b`);
  await page.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByText('Saved as a draft')).toBeVisible();
  await page.goto('/publish');
  await expect(page.getByText('Specimens that would fail')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill(`Five digits ${stamp}`);
  const publish = page.getByRole('button', { name: 'Publish', exact: true });
  await expect(publish).toBeDisabled();
  await page.getByLabel(/^Publish although a specimen fails/).check();
  await expectAccessible(page);
  await publish.click();
  await expect(page.getByText(`Five digits ${stamp}`).first()).toBeVisible();
  await expect(page.getByText('Published with failing specimens: The voyage').first()).toBeVisible();
});

test('records are taken in from a file and found in another one, by their columns', async ({ page }) => {
  await signIn(page);
  await page.goto('/patterns');
  await page.getByRole('button', { name: 'Import records' }).click();
  const rows = Array.from(
    { length: 500 },
    (_unused, index) => `GX${700_000 + index},Person${index} ${stamp}${index},p${index}@example.org`,
  );
  const csv = {
    name: 'guests.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['Guest,Name,Mail', ...rows].join('\n')),
  };
  await page.getByLabel('File of records').setInputFiles({ ...csv, buffer: Buffer.from('one column\n1') });
  await expect(page.getByText('It has only one column')).toBeVisible();
  await page.getByLabel('File of records').setInputFiles(csv);
  await expect(page.getByLabel('Use of Guest')).toHaveValue('key');
  await page.getByLabel('Name', { exact: true }).fill(`Guests ${stamp}`);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByText('500 records are looked for, of 500 rows.')).toBeVisible();
  await page.getByRole('button', { name: /^Lantern/ }).click();
  await page.getByLabel('Text to inspect').fill(`Guest gx 700-007 is Person7 ${stamp}7.`);
  await page.getByRole('button', { name: 'Also look for own records and documents, on the server' }).click();
  await expect(page.getByText(`Guests ${stamp}: 1 found, 1 distinct`)).toBeVisible();
  await expectAccessible(page);
});

/** A text of invented words, always the same for one seed. */
function invented(seed: number, words: number): string {
  let state = seed;
  const next = (below: number): number => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
    return (state >>> 8) % below;
  };
  const word = () => Array.from({ length: 2 + next(8) }, () => String.fromCharCode(97 + next(26))).join('');
  return Array.from({ length: words }, word).join(' ');
}

const textFile = (name: string, text: string) => ({
  name,
  mimeType: 'text/plain',
  buffer: Buffer.from(text),
});

test('a contract is learnt from a sample, and half of it is found again in the Lantern', async ({ page }) => {
  await signIn(page);
  await page.goto('/patterns');
  await page.getByRole('button', { name: 'Learn from samples' }).click();
  const contract = invented(7, 400);
  await page.getByLabel('Name', { exact: true }).fill(`Contracts ${stamp}`);
  await page
    .getByLabel('Documents to recognise')
    .setInputFiles([textFile('Charter.txt', contract), textFile('empty.txt', ' ')]);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Learn', exact: true }).click();
  await expect(page.getByText('empty.txt was left out: it contains almost no text.')).toBeVisible();
  await expect(page.getByRole('row', { name: /Charter\.txt meant/ })).toBeVisible();
  await page.getByRole('button', { name: /^Lantern/ }).click();
  await page
    .getByLabel('Text to inspect')
    .fill(`As agreed: ${contract.slice(0, contract.length / 2)} and so on.`);
  await page.getByRole('button', { name: 'Also look for own records and documents, on the server' }).click();
  await expect(page.getByText(`Contracts ${stamp}: 1 found, 1 distinct`)).toBeVisible();
});

test('a category shows how it did on samples it had not seen, and learns again without one', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/patterns/new-documents');
  await page.getByLabel('Other texts of the same kind').check();
  await page.getByLabel('Name', { exact: true }).fill(`Purchase ${stamp}`);
  const samples = (side: string, seed: number) =>
    Array.from({ length: 8 }, (_unused, index) =>
      textFile(`${side} ${index}.txt`, `${side} `.repeat(12) + invented(seed + index, 30)),
    );
  await page.getByLabel('Texts of this kind', { exact: true }).setInputFiles(samples('drydock', 100));
  await expect(page.getByText(/At least 5 texts of this kind and 5 others/)).toBeVisible();
  await page.getByLabel(/Texts of other kinds/).setInputFiles(samples('canteen', 200));
  await page.getByRole('button', { name: 'Learn', exact: true }).click();
  await expect(page.getByText('8 texts of this kind and 8 others are few')).toBeVisible();
  await expect(page.getByText('drydock', { exact: false }).first()).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel('Remove drydock 0.txt').check();
  await page.getByRole('button', { name: 'Learn again' }).click();
  await expect(page.getByText('7 texts of this kind and 8 others are few')).toBeVisible();
  await page.reload();
  await expect(page.getByText('drydock 0.txt')).toHaveCount(0);
});

test('evidence of an incident is kept as a specimen in one step', async ({ page }) => {
  await signIn(page);
  await page.goto('/incidents');
  await page.getByRole('button', { name: 'Keep as a specimen' }).click();
  await page.getByRole('button', { name: 'Must not be found' }).click();
  await expect(page.getByText(/Kept as a specimen of .*, must not be found\./)).toBeVisible();
  await expect(page.getByText(/Values shown. Reason: kept as a specimen of/).first()).toBeVisible();
});
