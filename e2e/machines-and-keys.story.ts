/** Machines in groups by their networks, and a new master key while everything runs. */
import { expect, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench';

const run = Date.now();

test('machines stand in a group by their network, and an inventory moves them', async ({ page }) => {
  await signIn(page);
  await page.goto('/administration/directory/machines');
  await expect(page.getByRole('heading', { name: 'Machines', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Add a group' }).click();
  const form = page.getByRole('form', { name: 'New group of machines' });
  await form.getByLabel('Name', { exact: true }).fill(`Gate ${run}`);
  await form.getByLabel('Networks and addresses').fill('10.250');
  await form.getByRole('button', { name: 'Save group' }).click();
  await expect(form.getByText('“10.250” is not a network, a range or an address.')).toBeVisible();
  await form.getByLabel('Networks and addresses').fill('10.250.0.0/24');
  await form.getByRole('button', { name: 'Preview members' }).click();
  await expect(form.getByText('No machine meets these conditions now.')).toBeVisible();
  await expectAccessible(page);
  await form.getByRole('button', { name: 'Save group' }).click();
  await expect(page.getByText(`Gate ${run}`)).toBeVisible();

  await page.getByLabel('File of machines').setInputFiles({
    ...{ name: 'machines.csv', mimeType: 'text/csv' },
    buffer: Buffer.from(
      `Host name;Serial;IP;User;RAM\nGATE-${run};G1;10.250.0.7;orla.fenwick@merrowstrait.example;8\nGATE-X;G2;office;;8`,
    ),
  });
  const comparison = page.getByRole('region', { name: 'Comparison' });
  await expect(comparison.getByText('1 to add, 0 to change, 0 to remove, 0 unchanged.')).toBeVisible();
  await expect(comparison.getByText('Row 3: not a network address: office')).toBeVisible();
  await expect(comparison.getByText('Columns that are not read: RAM')).toBeVisible();
  await comparison.getByRole('button', { name: 'Apply changes' }).click();
  await expect(page.getByText('Machines saved.')).toBeVisible();
  await page.getByLabel('Find').fill(`GATE-${run}`);
  await expect(
    page.getByRole('row', { name: new RegExp(`GATE-${run} .*10\\.250\\.0\\.7 G1 Gate ${run} yes`) }),
  ).toBeVisible();
});

test('the master key changes while everything runs', async ({ page }) => {
  await signIn(page);
  await page.goto('/administration/retention');
  const keys = page.getByRole('region', { name: 'Encryption keys' });
  const before = await keys.locator('code').first().innerText();
  await keys.getByRole('button', { name: 'Change master key …' }).click();
  await expect(keys.getByText('Make a new backup afterwards.')).toBeVisible();
  await expectAccessible(page);
  await keys.getByRole('button', { name: 'Change master key', exact: true }).click();
  await expect(keys.getByText('data keys still use the earlier master key')).toBeVisible();
  await expect(keys.getByRole('button', { name: 'Change master key …' })).toBeVisible({ timeout: 120_000 });
  await expect(keys.locator('code').first()).not.toHaveText(before);
  // What was sealed before is read as before.
  await page.goto('/incidents');
  await expect(page.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();
  await expect(page.getByText('Values masked, show').first()).toBeVisible();
  await page.goto('/administration/trail');
  await page.getByRole('button', { name: 'Check the whole trail' }).click();
  await expect(page.getByText(/The trail is whole/)).toBeVisible();
});
