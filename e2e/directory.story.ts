/** People come and go by a list, groups keep themselves current, and what is kept has its days. */
import { expect, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench';

const run = Date.now();
const csv = (lines: readonly string[]) => ({
  ...{ name: 'people.csv', mimeType: 'text/csv' },
  buffer: Buffer.from(['E-Mail;Full name;Dept;Job title;Shoe size', ...lines].join('\n')),
});

test('a list of people is compared, its effect on rules is seen, and it is taken over', async ({ page }) => {
  await signIn(page);
  await page.getByRole('button', { name: 'Ines Sorrel' }).click();
  await page.getByRole('menuitem', { name: 'Directory' }).click();
  await expect(page.getByRole('heading', { name: 'Directory' })).toBeVisible();
  await page.getByLabel('Find').fill('port security');
  await expect(page.getByText('Groups by condition')).toBeVisible();
  await expectAccessible(page);

  await page.getByRole('link', { name: 'Import', exact: true }).click();
  const lines = [
    `gate.${run}@merrowstrait.example;Gate Keeper ${run};Port Operations;Gate officer;42`,
    `clerk.${run}@merrowstrait.example;Clerk ${run};Treasury;Accounts clerk;39`,
    'nobody at all;Nobody;Treasury;Clerk;40',
  ];
  await page.getByLabel('File of people').setInputFiles(csv(lines));
  await expect(page.getByText('A table with 3 people.')).toBeVisible();
  await expect(page.getByLabel('What Shoe size holds')).toHaveValue('');
  // Whoever is not in this list is not gone: it lists new people only.
  await page.getByLabel(/The file lists everyone/).uncheck();
  await page.getByRole('button', { name: 'Compare with the directory' }).click();
  await expect(page.getByText('2 people to add')).toBeVisible();
  await expect(page.getByText('"nobody at all" is not a mail address.')).toBeVisible();
  await expectAccessible(page);
  // The comparison outlives a reload.
  await page.reload();
  await page.getByRole('button', { name: 'Apply changes' }).click();
  await expect(page.getByText('2 added, 0 changed, 0 removed.')).toBeVisible();

  await page.getByRole('link', { name: 'People', exact: true }).click();
  await page.getByLabel('Find').fill(`Gate Keeper ${run}`);
  await expect(page.getByRole('status').getByText('1 person')).toBeVisible();
  // The condition of the group holds for somebody who has just come.
  await expect(page.getByText('Gate and port security')).toBeVisible();
  await expect(page.getByText('Change this person in the source they come from')).toBeVisible();
});

test('a list with a part missing does not take most people out by itself', async ({ page }) => {
  await signIn(page);
  await page.goto('/administration/directory/import');
  await page
    .getByLabel('File of people')
    .setInputFiles(csv(['orla.fenwick@merrowstrait.example;Orla Fenwick;;;']));
  await page.getByRole('button', { name: 'Compare with the directory' }).click();
  await expect(page.getByText('percent of everyone from this source')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Apply changes' })).toHaveAttribute('aria-disabled', 'true');
  await expect(
    page.getByRole('region', { name: 'Rules and offers' }).getByText('no longer applies to').first(),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Discard comparison' }).click();
  await expect(page.getByRole('heading', { name: 'From a file' })).toBeVisible();
});

test('a group by condition is tried before it is saved', async ({ page }) => {
  await signIn(page);
  await page.goto('/administration/directory/groups');
  await page.getByRole('button', { name: 'Add a group by condition' }).click();
  const form = page.getByRole('form', { name: 'Group' });
  await form.getByLabel('Name').fill(`Clerks ${run}`);
  await form.getByLabel('Field').selectOption('Job title');
  await form.getByLabel('Comparison').selectOption('ends with');
  await form.getByLabel('Value').fill('clerk');
  await form.getByRole('button', { name: 'Preview members' }).click();
  await expect(form.getByText(/\d+ people would be members/)).toBeVisible();
  await expectAccessible(page);
  await form.getByRole('button', { name: 'Save group' }).click();
  await expect(page.getByRole('heading', { name: `Clerks ${run}` })).toBeVisible();
});

test('what shorter days would delete is said first, and a legal hold keeps it', async ({ page }) => {
  await signIn(page);
  await page.goto('/administration/retention');
  const hold = page.getByRole('form', { name: 'New legal hold' });
  await hold.getByLabel('Mail address').fill(`someone.${run}@merrowstrait.example`);
  await hold.getByLabel('Reason').fill('A claim before the court');
  await hold.getByRole('button', { name: 'Add legal hold' }).click();
  await expect(page.getByText(`Person someone.${run}@merrowstrait.example`, { exact: true })).toBeVisible();

  const row = page.getByRole('form', { name: 'Evidence of incidents' });
  await row.getByLabel('Days for Evidence of incidents').fill('30');
  await row.getByRole('button', { name: /Shorten/ }).click();
  await expect(page.getByText(/are older and will be permanently deleted within the hour/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(row.getByLabel('Days for Evidence of incidents')).toHaveValue('400');

  await page
    .getByRole('form', { name: 'Person', exact: true })
    .getByLabel('Mail address')
    .fill('orla.fenwick@merrowstrait.example');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(
    page.getByRole('row', {
      name: /Open incidents with their evidence .* stays until the incidents are decided/,
    }),
  ).toBeVisible();
  await page
    .getByRole('button', { name: `End the legal hold on Person someone.${run}@merrowstrait.example` })
    .click();
  await page.getByLabel(/^Reason\. Data/).fill('The claim was withdrawn');
  await page.getByRole('button', { name: 'End legal hold' }).click();
  await expect(page.getByText(/Ended \(\d+\)/)).toBeVisible();
});
