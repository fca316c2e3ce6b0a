/** Who may see and do what: one queue in four pairs of eyes, roles with limits, passkeys, deputies, programs, single sign-on. */
import { execFileSync } from 'node:child_process';
import { type Browser, expect, type Page, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench';
import { runProvider } from './identity-provider';

const anew = async (browser: Browser): Promise<Page> => (await browser.newContext()).newPage();

/** Incidents that the tab counts. */
async function counted(page: Page): Promise<number> {
  const tab = page.getByRole('button', { name: /^Incidents [\d,]+$/ });
  await expect(tab).toBeVisible();
  return Number((await tab.innerText()).replace(/\D/g, ''));
}

test('the same queue in the eyes of four people', async ({ page, browser }) => {
  await signIn(page);
  await page.goto('/incidents?filter=');
  const all = await counted(page);
  const seen: Record<string, number> = {};
  for (const who of ['nell.harrow', 'edda.marsh', 'corin.farrow']) {
    const other = await anew(browser);
    await signIn(other, `${who}@merrowstrait.example`);
    await other.goto('/incidents?filter=');
    seen[who] = await counted(other);
    if (who === 'edda.marsh') {
      // Everything listed is of her department, and what is not does not exist for her.
      await other.goto('/incidents?filter=department ne "Passenger Services"');
      expect(await counted(other)).toBe(0);
      await page.goto('/incidents?filter=department ne "Passenger Services"');
      await page.getByRole('option').or(page.getByRole('listitem')).first().click();
      await expect(page).toHaveURL(/\/incidents\/\d+/);
      const hidden = /\/incidents\/(\d+)/.exec(page.url())?.[1] ?? '';
      await other.goto(`/incidents/${hidden}`);
      await expect(other.getByText(`There is no incident ${hidden}`)).toBeVisible();
      await other.goto('/insight');
      await expect(other.getByRole('link', { name: 'What changed' })).toBeVisible();
      await expect(other.getByRole('link', { name: 'Reports' })).toHaveCount(0);
      await expectAccessible(other);
    }
    await other.context().close();
  }
  expect(seen['edda.marsh']).toBeGreaterThan(10);
  expect(seen['edda.marsh']).toBeLessThan(all);
  expect(seen['corin.farrow']).toBeGreaterThan(0);
  expect(seen['corin.farrow']).toBeLessThan(seen['nell.harrow'] ?? 0);
  const business = await anew(browser);
  await business.goto('/');
  await business.getByLabel('Mail address').fill('hedda.quayle@merrowstrait.example');
  await business.getByLabel('Password').fill('lantern-demo');
  await business.getByRole('button', { name: 'Sign in' }).click();
  await expect(business.getByRole('link', { name: /^Labels/ }).first()).toBeVisible();
  await expect(business.getByRole('link', { name: /^Incidents/ })).toHaveCount(0);
});

test('a role with limits is written, given, and holds at once', async ({ page, browser }) => {
  const name = `Chat watch ${Date.now() % 100_000}`;
  await signIn(page);
  await page.goto('/administration/roles');
  await page.getByRole('button', { name: 'Add role' }).click();
  const form = page.getByRole('form', { name: 'New role' });
  await form.getByLabel('Name').fill(name);
  await form.getByLabel('Copy permissions from').selectOption({ label: 'Second-line analyst' });
  await form.getByLabel('Some incidents only').check();
  await expect(form.getByText('These permissions cannot be limited')).toBeVisible();
  await form.getByLabel('Everyone').check();
  await form.getByLabel('Copy permissions from').selectOption({ label: 'First-line analyst' });
  await form.getByLabel('Some incidents only').check();
  await form.getByLabel('Chat').check();
  await form.getByLabel('Departments').fill('passenger');
  await form.getByRole('button', { name: 'Passenger Services' }).click();
  await expectAccessible(page);
  await form.getByRole('button', { name: 'Save role' }).click();
  const role = page.getByRole('article', { name });
  await expect(role).toContainText('Covers Passenger Services; chat. Held by nobody');

  const nell = await anew(browser);
  await signIn(nell, 'nell.harrow@merrowstrait.example');
  await page.goto('/administration/accounts');
  await page
    .getByRole('row', { name: /nell\.harrow/ })
    .getByRole('button')
    .click();
  const editor = page.getByRole('row').filter({ has: page.getByRole('button', { name: 'Save roles' }) });
  await editor.getByRole('checkbox', { name: /^First-line analyst/ }).uncheck();
  await editor.getByRole('checkbox', { name: new RegExp(`^${name}`) }).check();
  await editor.getByRole('button', { name: 'Save roles' }).click();
  await expect(page.getByRole('row', { name: new RegExp(`nell\\.harrow.*${name}`) })).toBeVisible();
  await nell.reload();
  await expect(nell.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await signIn(nell, 'nell.harrow@merrowstrait.example');
  await nell.goto('/incidents?filter=channel ne "chat"');
  expect(await counted(nell)).toBe(0);

  // Back as it was, and the role goes.
  await page
    .getByRole('row', { name: /nell\.harrow/ })
    .getByRole('button')
    .click();
  await editor.getByRole('checkbox', { name: new RegExp(`^${name}`) }).uncheck();
  await editor.getByRole('checkbox', { name: /^First-line analyst/ }).check();
  await editor.getByRole('button', { name: 'Save roles' }).click();
  await page.goto('/administration/roles');
  await role.getByRole('button', { name: `Remove ${name}` }).click();
  await role.getByRole('button', { name: 'Remove role' }).click();
  await expect(role).toHaveCount(0);
});

test('a role hides names behind codes until somebody says why', async ({ page, browser }) => {
  const name = `Without names ${Date.now() % 100_000}`;
  await signIn(page);
  await page.goto('/administration/roles');
  await page.getByRole('button', { name: 'Add role' }).click();
  const form = page.getByRole('form', { name: 'New role' });
  await form.getByLabel('Name', { exact: true }).fill(name);
  await form.getByLabel('Some incidents only').check();
  await form.getByLabel('Copy permissions from').selectOption({ label: 'Second-line analyst' });
  await form.getByLabel(/^Hide names of people/).check();
  await form.getByRole('button', { name: 'Save role' }).click();
  await expect(page.getByRole('article', { name })).toContainText('names hidden');
  const give = async (remove: string | RegExp, add: string | RegExp) => {
    await page.goto('/administration/accounts');
    await page
      .getByRole('row', { name: /nell\.harrow/ })
      .getByRole('button')
      .click();
    const editor = page.getByRole('row').filter({ has: page.getByRole('button', { name: 'Save roles' }) });
    await editor.getByRole('checkbox', { name: remove }).uncheck();
    await editor.getByRole('checkbox', { name: add }).check();
    await editor.getByRole('button', { name: 'Save roles' }).click();
    await expect(editor).toHaveCount(0);
  };
  await give(/^First-line analyst/, new RegExp(`^${name}`));

  const nell = await anew(browser);
  await signIn(nell, 'nell.harrow@merrowstrait.example');
  await nell.goto('/incidents');
  await expect(nell.getByText(/^Person [A-Z2-9]{4}-[A-Z2-9]{4}$/).first()).toBeVisible();
  expect(await nell.locator('main').innerText()).not.toContain('@merrowstrait.example');
  await expectAccessible(nell);
  await nell.getByText('Values masked, show').first().click();
  await nell.getByLabel('Why do you need to see the values?').fill('The booking is disputed');
  await nell.getByRole('button', { name: 'Show values' }).click();
  // Now the incident says who it was, and its list still does not.
  const evidence = nell.getByRole('region', { name: 'Evidence', exact: true });
  await expect(evidence.getByText(/^Person [A-Z2-9]{4}-/)).toHaveCount(0);
  await evidence.getByRole('button', { name: 'Mask values' }).click();
  await expect(evidence.getByText(/^Person [A-Z2-9]{4}-/).first()).toBeVisible();

  await give(new RegExp(`^${name}`), /^First-line analyst/);
});

test('somebody invited signs in with a passkey and nothing else', async ({ page, browser, baseURL }) => {
  const email = `petra.${Date.now()}@merrowstrait.example`;
  await signIn(page);
  await page.goto('/administration/accounts');
  const form = page.getByRole('form', { name: 'Invite somebody' });
  await form.getByLabel('Name', { exact: true }).fill('Petra Kay');
  await form.getByLabel('Mail address').fill(email);
  await form.getByLabel('First-line analyst').check();
  await form.getByRole('button', { name: 'Create invitation' }).click();
  const link = await page.locator('code', { hasText: '/welcome/' }).innerText();

  // Browsers bind passkeys to a name: the same workbench under it.
  const named = new URL(baseURL ?? '');
  named.hostname = 'localhost';
  const guest = await anew(browser);
  const device = await guest.context().newCDPSession(guest);
  await device.send('WebAuthn.enable');
  await device.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
      ...{ isUserVerified: true, automaticPresenceSimulation: true },
    },
  });
  await guest.goto(new URL(new URL(link).pathname, named).href);
  await guest.getByLabel('Password', { exact: true }).fill('the gull sat on crate 9');
  await guest.getByLabel('Password again').fill('the gull sat on crate 9');
  await guest.getByRole('button', { name: 'Set password' }).click();
  await expect(guest.getByText(/^Your password is set/)).toBeVisible();
  await guest.getByRole('link', { name: 'Go to sign-in' }).click();
  await guest.getByLabel('Mail address').fill(email);
  await guest.getByLabel('Password').fill('the gull sat on crate 9');
  await guest.getByRole('button', { name: 'Sign in' }).click();
  await expect(guest.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();
  await guest.goto(new URL('/account', named).href);
  const passkey = guest.getByRole('form', { name: 'New passkey' });
  await passkey.getByLabel('Name of the device').fill('Laptop');
  await passkey.getByLabel('Present password').fill('not this one');
  await passkey.getByRole('button', { name: 'Add passkey' }).click();
  await expect(guest.getByText('The address or the password is not right')).toBeVisible();
  await passkey.getByLabel('Present password').fill('the gull sat on crate 9');
  await passkey.getByRole('button', { name: 'Add passkey' }).click();
  await expect(guest.getByText('Your passkey is saved')).toBeVisible();
  await expectAccessible(guest);
  await guest.getByRole('button', { name: 'Petra Kay' }).click();
  await guest.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(guest.getByRole('button', { name: 'Use a passkey' })).toBeVisible();
  await expectAccessible(guest);
  await guest.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(guest.getByRole('heading', { name: 'Your account' })).toBeVisible();
});

test('a deputy stands in, and the trail names both', async ({ page, browser }) => {
  await signIn(page, 'milo.brandt@merrowstrait.example');
  await page.goto('/account');
  const form = page.getByRole('form', { name: 'New absence' });
  await form.getByLabel('Mail address of your deputy').fill('nell.harrow@merrowstrait.example');
  await form.getByRole('button', { name: 'Add absence' }).click();
  await expect(page.getByText(/, now$/)).toHaveCount(1);
  await expectAccessible(page);

  const deputy = await anew(browser);
  await signIn(deputy, 'nell.harrow@merrowstrait.example');
  await deputy.goto('/incidents/waiting');
  const allowed = deputy.locator('button:not([aria-disabled="true"])', { hasText: /^Allow$/ });
  await deputy.getByLabel('Why').first().fill('They may');
  await expect(allowed).toHaveCount(1);
  await deputy.goto('/account');
  await expect(deputy.getByText(/, now$/)).toHaveCount(1);
  await deputy.goto('/publish');
  await expect(deputy.getByRole('heading', { name: 'Unpublished changes' })).toBeVisible();

  await page.getByRole('button', { name: 'End absence' }).click();
  await expect(page.getByText(/, over$/).first()).toBeVisible();
  await expect(page.getByText(/, now$/)).toHaveCount(0);
  await deputy.goto('/incidents/waiting');
  await expect(deputy.getByText('Your account may not decide').first()).toBeVisible();
  await expect(allowed).toHaveCount(0);
});

test('a program calls with a key of its own, as far as its roles go', async ({ page, baseURL }) => {
  await signIn(page);
  await page.goto('/administration/programs');
  await page
    .getByRole('form', { name: 'New key of Ticket desk' })
    .getByRole('button', { name: 'Create key' })
    .click();
  const key = await page
    .locator('code', { hasText: /^lantern-key-/ })
    .first()
    .innerText();
  await expectAccessible(page);
  // A program of Debian's, which knows nothing of us.
  const call = (path: string, ...more: string[]): string =>
    execFileSync('curl', [
      ...['-s', '-o', '-', '-w', '\n%{http_code}', '-H', `Authorization: Bearer ${key}`, ...more],
      `${baseURL}/api${path}`,
    ]).toString();
  expect(call('/incidents/counts')).toMatch(/"incidents":[1-9].*\n200$/s);
  expect(call('/accounts')).toMatch(/\n403$/);
  await page.reload();
  const program = page.getByRole('article', { name: 'Ticket desk' });
  await expect(program.getByText('last used')).toBeVisible();
  await program.getByRole('button', { name: 'Revoke' }).first().click();
  await program.getByRole('button', { name: 'Revoke key' }).click();
  await expect(program.getByText('revoked').first()).toBeVisible();
  expect(call('/incidents/counts')).toMatch(/\n401$/);
});

test('people come through the identity provider, and leave through it', async ({
  page,
  browser,
  baseURL,
}) => {
  const provider = await runProvider(baseURL ?? '');
  try {
    await signIn(page);
    await page.goto('/administration/sign-on');
    const form = page.getByRole('form', { name: 'Single sign-on' });
    await form.getByLabel('People can sign in through').check();
    await form.getByLabel('Issuer').fill(provider.issuer);
    await form.getByLabel('Client ID').fill(provider.client.id);
    await form.getByLabel('Client secret').fill(provider.client.secret);
    await form.getByLabel('Group at the provider').fill('desk');
    await form.getByRole('button', { name: 'Add group' }).click();
    await form.getByRole('checkbox', { name: /^First-line analyst/ }).check();
    await form.getByRole('button', { name: 'Try the provider' }).click();
    await expect(form.getByText('The provider answered.')).toBeVisible();
    await expectAccessible(page);
    await form.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Single sign-on is saved.')).toBeVisible();

    const guest = await anew(browser);
    await guest.goto('/');
    await guest.getByRole('button', { name: /^Sign in through 127/ }).click();
    await guest.getByPlaceholder('Enter any login').fill('tamsin');
    await guest.getByPlaceholder('and password').fill('anything');
    await guest.getByRole('button', { name: 'Sign-in' }).click();
    await guest.getByRole('button', { name: 'Continue' }).click();
    await expect(guest.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();
    await guest.getByRole('button', { name: 'tamsin of the provider' }).click();
    await guest.getByRole('menuitem', { name: 'Sign out' }).click();
    await guest.getByRole('button', { name: 'Yes, sign me out' }).click();
    await expect(guest.getByRole('button', { name: /^Sign in through 127/ })).toBeVisible();

    // Somebody without a group of ours comes back with a sentence.
    await guest.getByRole('button', { name: /^Sign in through 127/ }).click();
    await guest.getByPlaceholder('Enter any login').fill('stranger');
    await guest.getByPlaceholder('and password').fill('anything');
    await guest.getByRole('button', { name: 'Sign-in' }).click();
    await guest.getByRole('button', { name: 'Continue' }).click();
    await expect(guest.getByText('None of your groups has a role here')).toBeVisible();
    await expectAccessible(guest);

    await form.getByLabel('People can sign in through').uncheck();
    await form.getByRole('button', { name: 'Save', exact: true }).click();
    await guest.goto('/');
    await expect(guest.getByRole('button', { name: 'Use a passkey' })).toBeVisible();
    await expect(guest.getByRole('button', { name: /^Sign in through/ })).toHaveCount(0);
  } finally {
    await provider.stop();
  }
});
