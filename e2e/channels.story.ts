/** What a person at work meets on each channel, from their act to the incident in the queue. */
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, sendMail, signIn } from './workbench.js';

const stamp = Date.now().toString(36);
const CARD = 'card 4111 1111 1111 1111';
/** As travel documents print it for tests (ICAO 9303 part 4, Utopia). */
const PASSPORT = 'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10';

/** Opens a stand-in as somebody: a person of the demo, or a partner outside. */
async function play(page: Page, path: string, name: string): Promise<void> {
  await page.goto(`/stand-ins/${path}`);
  const chooser = page.getByLabel('Switch person');
  const label = await chooser.locator('option', { hasText: name }).first().innerText();
  await chooser.selectOption({ label });
  await expect(page.getByText(`You are ${name}`)).toBeVisible();
}

/** A number of 15 digits with the check digit of payment cards (ISO/IEC 7812-1, annex B). */
function withCheckDigit(digits: string): string {
  const sum = [...digits]
    .reverse()
    .map((digit, at) => (at % 2 === 0 ? Number(digit) * 2 : Number(digit)))
    .reduce((total, value) => total + (value > 9 ? value - 9 : value), 0);
  return `${digits}${(10 - (sum % 10)) % 10}`;
}

/** Chooses a label in the window of a stand-in. */
async function chooseLabel(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: /choose$/ }).click();
  await page.getByRole('option', { name: new RegExp(`^${name}`) }).click();
}

/** The number under which a person is told that something was recorded. */
async function recordedNumber(page: Page): Promise<string> {
  const told = await page
    .getByRole('alert')
    .getByText(/recorded under number/)
    .last()
    .innerText();
  return /number (\d+)/.exec(told)?.[1] ?? '';
}

async function expectInQueue(page: Page, number: string, words: RegExp | string): Promise<void> {
  await page.goto(`/incidents/${number}`);
  await expect(page.getByText(`Incident ${number},`)).toBeVisible();
  await expect(page.getByRole('main').or(page.locator('body')).getByText(words).first()).toBeVisible();
}

test.beforeEach(({ page }) => signIn(page));

test('chat: a message is withheld from a guest, explained, cleaned and shown', async ({ page }) => {
  await play(page, 'chat', 'Orla Fenwick');
  await page.getByRole('button', { name: /Island Holidays groups/ }).click();
  await expect(page.getByText('A guest reads this room')).toBeVisible();
  const box = page.getByRole('textbox', { name: 'Write to Island Holidays groups' });
  await box.fill(`Refund ${stamp} please, ${CARD}`);
  await box.press('Control+Enter');
  await expect(page.getByText('withheld, visible only to you').last()).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Your message was not sent' }).last()).toBeVisible();
  await expectAccessible(page);
  const number = await recordedNumber(page);

  await page.getByRole('button', { name: 'Report a false finding' }).last().click();
  await page.getByLabel(/What is it really/).fill('A number from the training book');
  await page.getByRole('button', { name: 'Say so' }).click();
  await expect(page.getByText('An analyst will review your report of a false finding').last()).toBeVisible();

  await play(page, 'chat', 'Group bookings');
  await page.getByRole('button', { name: /Island Holidays groups/ }).click();
  await expect(page.getByText(`Refund ${stamp} please`)).toHaveCount(0);

  await play(page, 'chat', 'Orla Fenwick');
  await page.getByRole('button', { name: /Island Holidays groups/ }).click();
  await page.getByRole('button', { name: 'Remove the values and try again' }).last().click();
  await expect(page.getByText(`Refund ${stamp} please, card [taken out]`)).toBeVisible();
  await page.reload();
  await expect(page.getByText(`Refund ${stamp} please, card [taken out]`)).toBeVisible();

  await play(page, 'chat', 'Group bookings');
  await page.getByRole('button', { name: /Island Holidays groups/ }).click();
  await expect(page.getByText(`Refund ${stamp} please, card [taken out]`)).toBeVisible();
  await expectInQueue(page, number, /reported this as a false finding/);
});

test('drive: a restriction shows early, acts backwards, and lifts by itself', async ({ page }) => {
  await play(page, 'drive', 'Orla Fenwick');
  await page.getByLabel('Upload a file').setInputFiles({
    name: `List ${stamp}.txt`,
    mimeType: 'text/plain',
    buffer: Buffer.from('Departures for groups'),
  });
  await expect(page.getByRole('heading', { name: `List ${stamp}.txt` })).toBeVisible();
  await chooseLabel(page, 'Open water');
  await page.getByLabel('Share with').fill('Group bookings');
  await page.getByRole('button', { name: /Group bookings, Island Holidays/ }).click();
  await expect(page.getByText('open', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'whoever holds it' }).click();
  const link = await page.getByRole('link', { name: /stand-ins\/drive\/link/ }).getAttribute('href');
  await expectAccessible(page);

  const cards = [
    '4111 1111 1111 1111',
    '5555 5555 5555 4444',
    '3782 822463 10005',
    '6011 1111 1111 1117',
    '5105 1051 0510 5100',
  ];
  await page
    .getByLabel('Content of the file')
    .fill(`Card numbers\n${cards.map((number) => `card ${number}`).join('\n')}`);
  await expect(page.getByRole('status').filter({ hasText: 'It will carry Passenger care' })).toBeVisible();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: 'This file is internal only' })).toBeVisible();
  await expect(page.getByText('withdrawn', { exact: true })).toHaveCount(2);
  await expect(page.getByText('No one outside can read it, even if it is shared with them.')).toBeVisible();

  await play(page, 'drive', 'Group bookings');
  await page.getByRole('button', { name: new RegExp(`List ${stamp}`) }).click();
  await expect(page.getByRole('heading', { name: `"List ${stamp}.txt" does not open` })).toBeVisible();
  await page.goto(link ?? '');
  await expect(page.getByText('a rule of the organisation ended the access')).toBeVisible();
  await page.reload();
  await expect(page.getByText('a rule of the organisation ended the access')).toBeVisible();

  await play(page, 'drive', 'Orla Fenwick');
  await page.getByRole('button', { name: new RegExp(`List ${stamp}`) }).click();
  const number = await recordedNumber(page);
  await page.getByRole('button', { name: 'Remove the values' }).click();
  await expect(page.getByRole('heading', { name: 'This file is internal only' })).toHaveCount(0);
  await expect(page.getByText('withdrawn', { exact: true })).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Label' })).toContainText('Open water');
  await page.goto(link ?? '');
  await expect(page.getByRole('heading', { name: `List ${stamp}.txt` })).toBeVisible();
  await expectInQueue(page, number, /shared drives/);
});

test('labels appear while somebody writes, and count from the next movement on', async ({ page }) => {
  await play(page, 'chat', 'Orla Fenwick');
  await page.getByRole('button', { name: /Island Holidays groups/ }).click();
  const box = page.getByRole('textbox', { name: 'Write to Island Holidays groups' });
  await box.fill(`For the desk, ${stamp}: ${PASSPORT}`);
  const said = page.getByRole('status').filter({ hasText: 'It will carry Passenger care' });
  await expect(said).toBeVisible();
  await expectAccessible(page);
  await box.fill(`Gate two opens at five, ${stamp}`);
  await expect(said).toHaveCount(0);
  await chooseLabel(page, 'Passenger care');
  await box.press('Control+Enter');
  const message = page.getByRole('article').filter({ hasText: `Gate two opens at five, ${stamp}` });
  await expect(message.getByText('Passenger care')).toBeVisible();

  await play(page, 'chat', 'Group bookings');
  await page.getByRole('button', { name: /Island Holidays groups/ }).click();
  await expect(page.getByText('Its label "Passenger care" does not let you read it').last()).toBeVisible();
  await expect(page.getByText(`Gate two opens at five, ${stamp}`)).toHaveCount(0);

  await play(page, 'mail', 'Orla Fenwick');
  await page.getByRole('button', { name: 'Write a mail' }).click();
  await page.getByLabel('Text of the mail').fill(PASSPORT);
  await expect(page.getByRole('status').filter({ hasText: 'It will carry Passenger care' })).toBeVisible();
});

test('mail: the values are taken out of the text, and it goes', async ({ page }) => {
  await play(page, 'mail', 'Orla Fenwick');
  const numbers = Array.from({ length: 25 }, (_each, index) =>
    withCheckDigit(`411111${String(100_000_000 + index * 37)}`),
  );
  await sendMail(page, {
    to: 'desk@islandholidays.example',
    subject: `Refunds ${stamp}`,
    body: numbers.map((number) => `card ${number}`).join('\n'),
  });
  await expect(page.getByRole('heading', { name: 'Your mail was not sent' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove the values from the text' }).click();
  await expect(page.getByLabel('Text of the mail')).toHaveValue(/^(card \[taken out\]\n?){25}$/);
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByText('The mail is on its way')).toBeVisible();
});

test('machine: what is taken from the booking system goes back there or into the manifest', async ({
  page,
}) => {
  await play(page, 'desktop', 'Bea Lindqvist');
  await page.getByRole('button', { name: 'Copy', exact: true }).first().click();
  await page.getByRole('button', { name: 'Manifest editor' }).click();
  await page.getByRole('button', { name: 'Paste' }).click();
  await expect(page.getByText('Copy')).toBeVisible();
  await page.getByRole('button', { name: /^Blue stick/ }).click();
  await page.getByRole('button', { name: 'Copy to drive' }).click();
  await expect(page.getByRole('heading', { name: 'Your copy was not made' })).toBeVisible();
  await expectAccessible(page);
  const number = await recordedNumber(page);
  await page.getByRole('button', { name: 'Request an override' }).click();
  await page.getByLabel(/Reason. The person who decides reads it/).fill(`The ship needs it, ${stamp}`);
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText('waiting, not visible to others yet')).toBeVisible();

  await page.goto('/incidents/waiting');
  const row = page.getByText(`The ship needs it, ${stamp}`);
  await expect(row).toBeVisible();
  await expectInQueue(page, number, /It was taken from the application Booking system/);

  await play(page, 'desktop', 'Bea Lindqvist');
  await page.getByRole('button', { name: 'Crane control' }).click();
  await expect(page.getByText('cannot be monitored')).toBeVisible();
});

test('machine: nothing of passengers leaves a remote session', async ({ page }) => {
  await play(page, 'desktop', 'Bea Lindqvist');
  await page.getByRole('button', { name: /^Remote computer/ }).click();
  await page
    .getByRole('textbox', { name: 'Put a text or a file onto Remote computer' })
    .fill(`Take it home ${stamp}: ${CARD}`);
  await page.getByRole('button', { name: 'Do it' }).click();
  await expect(page.getByRole('heading', { name: 'Your copy was not made' }).last()).toBeVisible();
  const number = await recordedNumber(page);
  await expectInQueue(page, number, /remote computer/i);
});

test('browser: an assistant is told nothing of passengers, and a private mailbox asks', async ({ page }) => {
  await play(page, 'browser', 'Orla Fenwick');
  const box = page.getByRole('textbox', { name: 'Type or paste into Ask Marlow' });
  await box.fill(`Write a letter ${stamp}: passenger paid with ${CARD}`);
  await page.getByRole('button', { name: 'Submit' }).click();
  await expect(page.getByRole('heading', { name: 'What you put in did not go in' }).last()).toBeVisible();
  const number = await recordedNumber(page);

  await page.getByRole('button', { name: 'Pigeonpost' }).click();
  await page.getByRole('textbox', { name: 'Type or paste into Pigeonpost' }).fill(`To me ${stamp}: ${CARD}`);
  await page.getByRole('button', { name: 'Submit' }).click();
  await expect(page.getByRole('heading', { name: 'What you put in: a question first' }).last()).toBeVisible();
  await expect(page.getByText(/While this page is open, until .* at the latest/).last()).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await page.getByLabel('It is my own card').last().check();
  await page.getByRole('button', { name: 'Put it in with this reason' }).last().click();
  await expect(page.getByRole('heading', { name: 'What you put in: a question first' })).toHaveCount(0);
  await expect(page.getByText(`To me ${stamp}`)).toBeVisible();

  await page.getByRole('button', { name: 'Harbour notice form' }).click();
  await page
    .getByRole('textbox', { name: 'Type or paste into Harbour notice form' })
    .fill(`Berth ${stamp}: ${CARD}`);
  await page.getByRole('button', { name: 'Submit' }).click();
  await expect(page.getByText('unencrypted connection').first()).toBeVisible();
  await expect(page.getByRole('heading', { name: 'What you put in did not go in' }).last()).toBeVisible();
  await expectInQueue(page, number, /It was put into the host chat.askmarlow.example/);
});

test('agents are given keys, and applications are named, on screen', async ({ page }) => {
  await page.goto('/doors');
  await page.getByLabel('Name of the agent').fill(`Gateway ${stamp}`);
  await page.getByRole('button', { name: 'Create key' }).click();
  await expect(page.getByText(/The key of Gateway/)).toBeVisible();
  await expectAccessible(page);
  const row = page.getByRole('row', { name: new RegExp(`Gateway ${stamp}`) });
  await row.getByRole('button', { name: 'Revoke key' }).click();
  await expect(row.getByText('key revoked')).toBeVisible();

  await page.goto('/policies/spots');
  await page.getByRole('button', { name: 'Create group' }).click();
  await page.getByLabel('Name', { exact: true }).fill(`Harbour sites ${stamp}`);
  await page.getByLabel('Add', { exact: true }).selectOption({ label: 'a site or host' });
  await page.getByLabel('Host', { exact: true }).fill('portoffice.example');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByRole('button', { name: `Harbour sites ${stamp}` })).toBeVisible();
  await expectAccessible(page);
});
