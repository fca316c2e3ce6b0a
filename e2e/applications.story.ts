/** The ledger: large exports need a second factor, on the screen and over the interface alike. */
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, signIn } from './workbench.js';

/** Opens the ledger as somebody, signed in. */
async function openLedger(page: Page, name: string): Promise<void> {
  await page.goto('/stand-ins/ledger');
  const chooser = page.getByLabel('Switch person');
  const label = await chooser.locator('option', { hasText: name }).first().innerText();
  await chooser.selectOption({ label });
  await expect(page.getByText(`You are ${name}`)).toBeVisible();
  const signedIn = page.getByText(/^Signed in /);
  const door = page.getByRole('button', { name: 'Sign in', exact: true });
  await expect(signedIn.or(door)).toBeVisible();
  if (await door.isVisible()) await door.click();
  await expect(signedIn).toBeVisible();
}

/** The code that the phone shows, once it is another than `not`. */
async function codeOf(page: Page, not = ''): Promise<string> {
  const phone = page.getByRole('region', { name: 'Phone' });
  if (!(await phone.isVisible())) await page.getByRole('button', { name: 'Phone' }).click();
  const shown = phone.locator('[data-code]');
  await expect(shown).toHaveAttribute('data-code', /^\d{6}$/);
  if (not !== '') await expect(shown).not.toHaveAttribute('data-code', not, { timeout: 45_000 });
  const code = (await shown.getAttribute('data-code')) ?? '';
  await page.getByRole('button', { name: 'Phone' }).click();
  return code;
}

test('a big export waits, is proved by a code, and is the file that was asked for', async ({ page }) => {
  await signIn(page);
  await openLedger(page, 'Jun Abara');
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Bookings of the season/ }).click();
  const form = page.getByRole('form', { name: 'Export Bookings of the season' });
  await form.getByLabel('Paid by card').uncheck();
  await form.getByLabel('Records').fill('6000');
  await form.getByRole('button', { name: 'Export' }).click();
  const told = page.getByRole('alert').filter({ hasText: 'waits until you confirm your identity' });
  await expect(told).toContainText('This is more than most people take out of the ledger');
  await expectAccessible(page);

  const code = await codeOf(page);
  await told.getByLabel('Code from your phone').fill(String((Number(code) + 1) % 1_000_000).padStart(6, '0'));
  await told.getByRole('button', { name: 'Confirm identity' }).click();
  await expect(told.getByText(/wrong or was already used/)).toBeVisible();
  await expect(told.getByText(/^2 tries/)).toBeVisible();
  await told.getByLabel('Code from your phone').fill(await codeOf(page));
  await told.getByRole('button', { name: 'Confirm identity' }).click();

  const download = page.waitForEvent('download');
  await page
    .getByRole('link', { name: /^Save Bookings of the season\.csv/ })
    .first()
    .click();
  const chunks: Buffer[] = [];
  for await (const chunk of await (await download).createReadStream()) chunks.push(chunk as Buffer);
  const lines = Buffer.concat(chunks).toString('utf8').trim().split('\r\n');
  expect(lines).toHaveLength(6_001);
  expect(lines[0]).not.toContain('Paid by card');

  // The next one is not asked: they are believed for a while, which the workbench shows and can end.
  await form.getByLabel('Records').fill('5500');
  await form.getByRole('button', { name: 'Export' }).click();
  const last = page.getByRole('region', { name: 'Last exports' }).getByRole('article').first();
  await expect(last).toContainText('5,500 records');
  await expect(last).toContainText('done');
  await page.goto('/incidents/waiting');
  const believed = page.getByRole('listitem').filter({ hasText: 'Jun Abara in the application' });
  await expect(believed).toContainText('until');
  await expectAccessible(page);
  await believed.getByRole('button', { name: 'End now' }).click();
  await expect(believed).toHaveCount(0);
});

test('a dashboard is opened as a movement, and its label is inherited', async ({ page }) => {
  await signIn(page);
  await openLedger(page, 'Bea Lindqvist');
  await page.getByRole('button', { name: /^Income by route/ }).click();
  const board = page.getByRole('region', { name: 'Dashboard Income by route' });
  await board.getByRole('button', { name: 'Open dashboard' }).click();
  await expect(board.getByRole('row').filter({ hasText: 'Eddisport to Skerrin' })).toContainText('EUR');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Activity' }).click();
  await expect(page.getByRole('article').first()).toContainText('Income by route');
});

test('a program with a key is held to the same rule, and goes on after the code', async ({
  page,
  request,
}) => {
  await signIn(page);
  await openLedger(page, 'Tomas Reave');
  await page.getByRole('button', { name: 'Programs' }).click();
  await page.getByLabel('Program name').fill('Night job');
  await page.getByRole('button', { name: 'Create key' }).click();
  const key = await page
    .getByText(/^The key is shown only once/)
    .locator('code')
    .innerText();
  const ask = (path: string, body?: object) =>
    request.fetch(`/api/stand-ins/ledger-interface/${path}`, {
      method: body ? 'POST' : 'GET',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      ...(body ? { data: body } : {}),
    });
  // Six thousands within a day are as much as six thousand at once.
  const states: string[] = [];
  let waiting = '';
  for (let at = 0; at < 6; at += 1) {
    const answer = (await (await ask(`records/freight?from=${at}&limit=1000`)).json()) as {
      id: string;
      state: string;
    };
    states.push(answer.state);
    if (answer.state === 'waiting') waiting = answer.id;
  }
  expect(states).toEqual(['went-on', 'went-on', 'went-on', 'went-on', 'went-on', 'waiting']);
  const proved = (await (await ask(`deeds/${waiting}/proof`, { code: await codeOf(page) })).json()) as {
    state: string;
    rows: unknown[];
  };
  expect(proved.state).toBe('went-on');
  expect(proved.rows).toHaveLength(1_000);
  await expect(
    page.getByRole('article', { name: /Records of freight, 1,000 records/ }).first(),
  ).toBeVisible();
});

test('an application that asks for much waits for an approver, and gets nothing once it is cut off', async ({
  page,
}) => {
  await signIn(page);
  await openLedger(page, 'Mina Carrow');
  await page.getByRole('button', { name: 'Applications' }).click();
  const robot = page.getByRole('listitem', { name: 'Growth robot' });
  await robot.getByRole('button', { name: 'Connect' }).click();
  await expect(robot.getByRole('alert')).toContainText('waits until someone decides');
  await page.goto('/incidents/waiting');
  const request = page.getByRole('listitem', { name: /^Mina Carrow sent something that is held/ }).first();
  await request.getByLabel('Why').fill('The team agreed on this');
  await request.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByText('The movement is allowed')).toBeVisible();
  await openLedger(page, 'Mina Carrow');
  await page.getByRole('button', { name: 'Applications' }).click();
  await robot.getByRole('button', { name: 'Fetch now' }).click();
  await expect(page.getByText('Growth robot received 500 records of customers')).toBeVisible();
  await robot.getByRole('button', { name: 'Disconnect' }).click();
  await expect(robot.getByRole('button', { name: 'Connect' })).toBeVisible();
  await expectAccessible(page);
});

test('an export goes on with a passkey of the person', async ({ browser, baseURL }) => {
  // Browsers bind passkeys to a name: the same workbench under it.
  const named = new URL(baseURL ?? '');
  named.hostname = 'localhost';
  const page = await (await browser.newContext({ baseURL: named.href })).newPage();
  const device = await page.context().newCDPSession(page);
  await device.send('WebAuthn.enable');
  await device.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
      ...{ isUserVerified: true, automaticPresenceSimulation: true },
    },
  });
  await signIn(page);
  await openLedger(page, 'Oskar Quayle');
  const phone = page.getByRole('region', { name: 'Phone' });
  await page.getByRole('button', { name: 'Phone' }).click();
  await phone.getByRole('button', { name: 'Add this device as a passkey' }).click();
  await expect(phone.getByText(/^Passkey of/)).toHaveCount(1);
  await page.getByRole('button', { name: 'Phone' }).click();

  await page.getByRole('button', { name: /^Bookings of the season/ }).click();
  const form = page.getByRole('form', { name: 'Export Bookings of the season' });
  await form.getByLabel('Paid by card').uncheck();
  await form.getByLabel('Records').fill('6000');
  await form.getByRole('button', { name: 'Export' }).click();
  const told = page.getByRole('alert').filter({ hasText: 'waits until you confirm your identity' });
  await expectAccessible(page);
  await told.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(page.getByRole('link', { name: /^Save Bookings of the season\.csv/ }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Phone' }).click();
  await phone.getByRole('button', { name: 'Remove' }).click();
  await expect(phone.getByText(/^Passkey of/)).toHaveCount(0);
  await phone.getByRole('button', { name: 'End now' }).click();
});
