import { expect, test } from '@playwright/test';
import { generate } from 'otplib';
import { expectAccessible, signIn } from './workbench';

test('an invitation becomes an analyst with the rights of the role, disabled again at once', async ({
  page,
  browser,
}) => {
  // A second run on the same installation is another person.
  const address = `odd.selmer.${Date.now()}@merrowstrait.example`;
  await signIn(page);
  await page.getByRole('button', { name: 'Ines Sorrel' }).click();
  await page.getByRole('menuitem', { name: 'Accounts and roles' }).click();
  await expect(page.getByRole('heading', { name: 'Accounts', exact: true })).toBeVisible();
  const form = page.getByRole('form', { name: 'Invite somebody' });
  await form.getByLabel('Name', { exact: true }).fill('Odd Selmer');
  await form.getByLabel('Mail address').fill(address);
  await expect(form.getByText('Choose a role first')).toBeVisible();
  await form.getByLabel('First-line analyst').check();
  await form.getByRole('button', { name: 'Create invitation' }).click();
  const link = await page.locator('code', { hasText: '/welcome/' }).innerText();
  await expectAccessible(page);

  const guest = await (await browser.newContext()).newPage();
  await guest.goto(link);
  await expect(guest.getByRole('heading', { name: 'Welcome, Odd Selmer' })).toBeVisible();
  await guest.getByLabel('Password', { exact: true }).fill('password1234');
  await guest.getByLabel('Password again').fill('password1234');
  await guest.getByRole('button', { name: 'Set password' }).click();
  await expect(guest.getByText('among those that are guessed first')).toBeVisible();
  await guest.getByLabel('Password', { exact: true }).fill('the gull sat on crate 9');
  await guest.getByLabel('Password again').fill('the gull sat on crate 9');
  await expectAccessible(guest);
  await guest.getByRole('button', { name: 'Set password' }).click();
  await expect(guest.getByText('Your password is set')).toBeVisible();
  await guest.goto(link);
  await expect(guest.getByText('This link was used')).toBeVisible();
  await guest.getByRole('link', { name: 'Go to sign-in' }).click();
  await guest.getByLabel('Mail address').fill(address);
  await guest.getByLabel('Password').fill('the gull sat on crate 9');
  await guest.getByRole('button', { name: 'Sign in' }).click();
  await expect(guest.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();
  await guest.goto('/policies');
  await expect(guest.getByRole('button', { name: 'Create policy' })).toHaveAttribute('aria-disabled', 'true');
  await guest.goto('/administration/trail');
  await expect(guest.getByText('may not read the audit trail')).toBeVisible();

  await page.reload();
  await page.getByRole('row', { name: address }).getByRole('button').click();
  await page.getByRole('button', { name: 'Disable account' }).click();
  await expect(page.getByRole('row', { name: new RegExp(`${address}.*Disabled`) })).toBeVisible();
  await guest.reload();
  await expect(guest.getByRole('button', { name: 'Sign in' })).toBeVisible();
});

test('an auditor reads the trail, and it is whole', async ({ page }) => {
  await signIn(page, 'ruth.amberley@merrowstrait.example');
  await page.goto('/administration/trail');
  await page.getByRole('button', { name: 'Check the whole trail' }).click();
  await expect(page.getByText('The trail is whole')).toBeVisible();
  await page.getByLabel('Act').selectOption({ label: 'Published a revision' });
  await expect(page).toHaveURL(/action=/);
  await expect(page.getByRole('cell', { name: 'Published a revision' }).first()).toBeVisible();
  await expectAccessible(page);
});

test('somebody ends a session left open elsewhere', async ({ page, browser }) => {
  const elsewhere = await (await browser.newContext()).newPage();
  await signIn(elsewhere, 'nell.harrow@merrowstrait.example');
  await signIn(page, 'nell.harrow@merrowstrait.example');
  await page.getByRole('button', { name: 'Nell Harrow' }).click();
  await page.getByRole('menuitem', { name: 'Your account' }).click();
  await expect(page.getByRole('cell', { name: 'this session' })).toBeVisible();
  await page.getByRole('button', { name: 'End all other sessions' }).click();
  await expect(page.getByText('You are signed in here only')).toBeVisible();
  await expectAccessible(page);
  await elsewhere.reload();
  await expect(elsewhere.getByRole('button', { name: 'Sign in' })).toBeVisible();
});

test('a second factor is set up, asked for, and a recovery code stands in for it', async ({
  page,
  browser,
}) => {
  await signIn(page, 'milo.brandt@merrowstrait.example');
  await page.goto('/account');
  await page.getByRole('button', { name: 'Set up second factor' }).click();
  await expect(page.getByAltText('Picture for an authenticator')).toBeVisible();
  const secret = await page.locator('code').innerText();
  await expectAccessible(page);
  await page.getByLabel('Code').fill('000000');
  await page.getByRole('button', { name: 'Turn on second factor' }).click();
  await expect(page.getByText('This code is not right')).toBeVisible();
  await page.getByLabel('Code').fill(await generate({ secret }));
  await page.getByRole('button', { name: 'Turn on second factor' }).click();
  await expect(page.getByText('Your second factor is on')).toBeVisible();
  const codes = await page
    .getByRole('listitem')
    .filter({ hasText: /^[a-z2-9]{5}-[a-z2-9]{5}$/ })
    .allInnerTexts();
  expect(codes).toHaveLength(10);

  const elsewhere = await (await browser.newContext()).newPage();
  await elsewhere.goto('/');
  await elsewhere.getByLabel('Mail address').fill('milo.brandt@merrowstrait.example');
  await elsewhere.getByLabel('Password').fill('lantern-demo');
  await elsewhere.getByRole('button', { name: 'Sign in' }).click();
  await elsewhere.getByLabel('Code of your second factor').fill(codes[0] ?? '');
  await expectAccessible(elsewhere);
  await elsewhere.getByRole('button', { name: 'Sign in' }).click();
  await expect(elsewhere.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();

  await page.getByRole('button', { name: 'I have kept them' }).click();
  await page.getByLabel('Code').fill(codes[1] ?? '');
  await page.getByRole('button', { name: 'Turn off second factor' }).click();
  await expect(page.getByRole('button', { name: 'Set up second factor' })).toBeVisible();
});
