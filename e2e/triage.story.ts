import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, playPerson, sendMail, signIn } from './workbench.js';

const stamp = Date.now().toString(36);
const OUTSIDE = 'desk@islandholidays.example';

const list = (page: Page) => page.getByRole('list', { name: 'Incidents' });
const counted = async (page: Page, what: 'Incidents' | 'Matches' | 'Movements'): Promise<number> => {
  const tab = page
    .getByRole('group', { name: 'List' })
    .getByRole('button', { name: new RegExp(`^${what} [\\d,]+$`) });
  return Number((await tab.innerText()).replaceAll(/\D/gu, ''));
};
const state = (page: Page) => page.getByRole('status', { name: 'Status' });

test('a morning at the desk, by keyboard alone', async ({ page }) => {
  await signIn(page);
  await expect(list(page).getByRole('button').first()).toBeVisible();
  // More rows than a screen holds, and at least 16 of them in sight.
  const rows = await list(page)
    .getByRole('listitem')
    .evaluateAll(
      (items) =>
        items.filter((item) => {
          const { top, bottom } = item.getBoundingClientRect();
          return top > 0 && bottom <= window.innerHeight;
        }).length,
    );
  expect(rows).toBeGreaterThanOrEqual(16);
  await expectAccessible(page);

  // Search narrows by words of titles; the group opens in place.
  await page.keyboard.press('/');
  await page.keyboard.type('tides');
  await expect(page).toHaveURL(/any\+co\+%22tides%22/);
  await page.keyboard.press('Escape');
  await expect.poll(() => counted(page, 'Incidents')).toBeLessThan(120);
  await page.goto(`${page.url()}&group=department`);
  await expect(page.getByRole('button', { name: /Port Operations/ }).first()).toBeVisible();
  await page.keyboard.press('j');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /Port Operations/, expanded: true })).toBeVisible();
  await expect(list(page).getByRole('checkbox').first()).toBeVisible();
  await page.keyboard.press('j');
  await expect(page).toHaveURL(/\/incidents\/\d+/);
  await expectAccessible(page);

  // Look-alikes are decided together, and put back as one.
  await page.keyboard.press('a');
  const pick = page.getByRole('button', { name: /^Pick \d+, this one included$/ });
  await expect(pick).toBeVisible();
  await expectAccessible(page);
  await page
    .getByRole('checkbox', { name: /^Include incident/ })
    .first()
    .focus();
  await page.keyboard.press('Space');
  await pick.focus();
  await page.keyboard.press('Enter');
  const together = page.getByRole('region', { name: 'Decide together' });
  const many = Number(/(\d+) incidents/.exec(await together.getByRole('heading').first().innerText())?.[1]);
  expect(many).toBeGreaterThan(5);
  await together.getByLabel('Reason, kept in each history').focus();
  await page.keyboard.type('The tide, not the ship');
  await page.keyboard.press('Tab');
  await page.keyboard.press('n');
  const last = page.getByRole('region', { name: 'Last decision together' });
  await expect(last).toContainText(`${many} of ${many}`);
  await expect(state(page)).toContainText('False positive');
  await expect(page.getByRole('region', { name: 'History' })).toContainText('The tide, not the ship');
  await page.keyboard.press('Shift+Z');
  await expect(last).toContainText('put back');
  await expect(last.getByText('Undone')).toBeVisible();
});

test('one incident: its time line, its case, a question to the person, a hand-over and an undo', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const line =
    'case pr and department eq "Treasury" and destination eq "private.mail@postbox.example" and status ne "decided"';
  await page.goto(`/incidents?${new URLSearchParams({ filter: line, order: '-time' }).toString()}`);
  await page.keyboard.press('j');
  await expect(page.getByRole('tab', { name: /^Evidence/ })).toHaveAttribute('aria-selected', 'true');

  await page.keyboard.press('o');
  const around = page.getByRole('region', { name: 'Around' });
  await expect(around.getByRole('status')).toContainText(/\d+ movements, \d+ incidents/);
  await expect(around.getByRole('img', { name: /^Time line of/ })).toBeVisible();
  await around.getByRole('button', { name: '12 weeks' }).press('Enter');
  await around.getByText('As a table').press('Enter');
  await expect(around.getByRole('row').nth(5)).toBeVisible();
  await expectAccessible(page);
  await around.getByRole('button', { name: 'This destination' }).press('Enter');
  await expect(around.getByRole('status')).toContainText('postbox.example');

  await page.keyboard.press('p');
  const attempts = page.getByRole('region', { name: 'Case' });
  await expect(attempts).toContainText('with the same content');
  await expect(attempts).toContainText('by another channel');
  await expectAccessible(page);
  await attempts.getByRole('button', { name: 'Pick the case' }).press('Enter');
  await expect(page.getByRole('region', { name: 'Decide together' })).toBeVisible();
  await page.keyboard.press('Escape');

  await page.keyboard.press('r');
  const respond = page.getByRole('dialog', { name: /^Respond to incident/ });
  await expect(respond.getByLabel('Text')).toHaveValue(/What was it for|Wofür war das/);
  await respond.getByLabel('Text').fill(`Why to a private mailbox, ${stamp}?`);
  await respond.getByRole('button', { name: 'Show preview' }).press('Enter');
  await expect(respond.getByRole('region', { name: 'Preview' })).toContainText('@merrowstrait.example');
  await expectAccessible(page);
  await respond.getByRole('button', { name: 'Send mail' }).press('Enter');
  await expect(state(page)).toContainText('Waiting for the person');

  await page.keyboard.press('e');
  // The person finds the link in their mailbox and answers without an account.
  const name = (
    await page
      .getByRole('region', { name: 'Evidence' })
      .getByText(/, Treasury/)
      .first()
      .innerText()
  ).split(',')[0];
  const mail = await page.context().newPage();
  await playPerson(mail, name ?? '');
  await mail
    .getByRole('button', { name: /A question about what you moved|Eine Frage zu/ })
    .first()
    .click();
  await expect(mail.getByText(/\/question\/[\w-]{20,}/).first()).toBeVisible();
  const link = /https?:\/\/\S+\/question\/[\w-]+/.exec(await mail.locator('body').innerText())?.[0] ?? '';
  const person = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await person.goto(new URL(new URL(link).pathname, page.url()).toString());
  await expect(person.getByText(`Why to a private mailbox, ${stamp}?`)).toBeVisible();
  await expectAccessible(person);
  await person.getByLabel('Your reply').fill(`My own recipes, ${stamp}`);
  await person.getByRole('button', { name: 'Send reply' }).click();
  await expect(person.getByText('Your reply was sent')).toBeVisible();
  await person.reload();
  await expect(person.getByText('Your reply was sent')).toBeVisible();
  await person.context().close();
  await expect(page.getByRole('region', { name: 'History' })).toContainText(
    `Replied: My own recipes, ${stamp}`,
  );
  await expect(state(page)).toContainText('Taken');

  await page.keyboard.press('h');
  const hand = page.getByRole('dialog', { name: 'Hand on' });
  await hand.getByLabel('Hand to').selectOption({ label: 'Tobias Lund' });
  await hand.getByLabel('Note for them').fill(`Please look, ${stamp}`);
  await hand.getByRole('button', { name: 'Hand on' }).press('Enter');
  await expect(state(page)).toContainText('Tobias Lund');
  await expect(page.getByRole('region', { name: 'History' })).toContainText(
    `Handed to Tobias Lund: Please look, ${stamp}`,
  );
  await page.keyboard.press('Escape');
  await page.keyboard.press('m');
  await expect(state(page)).toContainText('Harm');
  await page.keyboard.press('3');
  await expect(page.getByRole('region', { name: 'History' })).toContainText('Cause: meant it');
  await page.keyboard.press('z');
  await expect(state(page)).toContainText('Taken');
});

test('three lists under one filter, as chips and as a line, saved as a view', async ({ page }) => {
  await signIn(page);
  await page.goto('/incidents?filter=');
  await expect.poll(() => counted(page, 'Movements')).toBeGreaterThan(await counted(page, 'Incidents'));
  await page.getByRole('button', { name: 'As text' }).click();
  const line = page.getByRole('combobox', { name: 'Filter as text' });
  await line.fill('channel eq "mail" and seve');
  await page.keyboard.press('Tab');
  await line.pressSequentially('ge "hi');
  await page.keyboard.press('Tab');
  await expect(line).toHaveValue('channel eq "mail" and severity ge "high" ');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/severity\+ge\+%22high%22/);
  // The line may still be taking up what Enter asked for.
  await expect(async () => {
    await line.fill('severity is "high"');
    await expect(page.getByText(/Character 10: An operator belongs here, not is/)).toBeVisible({
      timeout: 3_000,
    });
  }).toPass();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'As chips' }).click();
  await expect(page.getByRole('button', { name: 'Remove filter: Severity is at least High' })).toBeVisible();

  await page.getByRole('button', { name: /^Matches/ }).click();
  await expect(page.getByRole('list', { name: 'Matches' }).getByRole('button').first()).toBeVisible();
  await page.getByRole('button', { name: /^Movements/ }).click();
  await expect(page.getByRole('list', { name: 'Movements' }).getByRole('button').first()).toBeVisible();
  await page.getByRole('button', { name: /^Incidents/ }).click();

  await page.getByRole('button', { name: 'Views' }).click();
  await page.getByLabel('Save what is shown as').fill(`Mail, ${stamp}`);
  await page.getByRole('button', { name: 'Save view' }).click();
  await expect(page.getByRole('button', { name: new RegExp(`Mail, ${stamp}`) })).toBeVisible();
  await expectAccessible(page);
  await page.goto('/incidents');
  await page.getByRole('button', { name: 'Views' }).click();
  await page.getByRole('button', { name: new RegExp(`Mail, ${stamp}`) }).click();
  await expect(page).toHaveURL(/severity\+ge\+%22high%22/);

  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Export' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /CSV/ }).click();
  expect((await download).suggestedFilename()).toMatch(/^incidents-.*\.csv$/);
});

test('a routing rule hands over, shows what it would have done, and goes again', async ({ page }) => {
  await signIn(page);
  await page.goto('/incidents/routing');
  await page.getByRole('button', { name: 'Add rule or watch' }).click();
  await page.getByLabel('Name', { exact: true }).fill(`Refunds ${stamp}`);
  await page.getByLabel('When').fill(`title co "${stamp}"`);
  await page.getByLabel('When').fill('person co "orla" and pattern eq "payment-card"');
  await expect(page.getByText(/incidents? of the last 30 days/)).toBeVisible();
  await page.getByLabel('Hand to').selectOption({ label: 'Nell Harrow' });
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save rule' }).click();
  await expect(page.getByText('hand to nell.harrow@merrowstrait.example')).toBeVisible();

  await playPerson(page, 'Orla Fenwick');
  await sendMail(page, {
    to: OUTSIDE,
    subject: `One refund ${stamp}`,
    body: 'please refund the card 4539 1488 0343 6467',
  });
  // Its subject stands in the list once it was judged and recorded.
  await expect(page.getByText(`One refund ${stamp}`).first()).toBeVisible();
  await page.goto('/incidents?order=-time');
  await list(page).getByRole('button').first().click();
  await expect(page.getByRole('region', { name: 'History' })).toContainText(
    `Routing rule "Refunds ${stamp}"`,
  );
  await expect(state(page)).toContainText('Nell Harrow');

  await page.goto('/incidents/routing');
  await page
    .getByRole('listitem')
    .filter({ hasText: `Refunds ${stamp}` })
    .getByRole('button', { name: 'Edit' })
    .click();
  await page.getByRole('button', { name: 'Delete rule' }).click();
  await expect(page.getByText(`Rule "Refunds ${stamp}" deleted`)).toBeVisible();
  await page.getByRole('tab', { name: 'Promised times' }).click();
  await expect(page.getByLabel('Critical')).toHaveValue('4');
  await expectAccessible(page);
  await page.getByRole('tab', { name: 'Tickets' }).click();
  await expect(page.getByText('No ticket system yet')).toBeVisible();
  await expectAccessible(page);
});

test('an approver decides with the evidence in view, and an analyst judges the approval wrong', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await playPerson(page, 'Bea Lindqvist');
  const cards = Array.from({ length: 26 }, (_, at) => cardOf(at)).join('\n');
  await sendMail(page, { to: OUTSIDE, subject: `List ${stamp}`, body: `Card numbers:\n${cards}` });
  await page.getByRole('button', { name: 'Request an override' }).click();
  await page.getByLabel(/Reason. The person who decides reads it/).fill(`The agency waits, ${stamp}`);
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText('Your request was sent.')).toBeVisible();

  const approver = await (
    await browser.newContext({ baseURL: new URL(page.url()).origin, viewport: { width: 1280, height: 800 } })
  ).newPage();
  await signIn(approver, 'milo.brandt@merrowstrait.example');
  await approver.goto('/incidents?order=-time');
  await list(approver).getByRole('button').first().click();
  const pending = approver.getByRole('list', { name: 'Pending' });
  await expect(pending).toContainText(`The agency waits, ${stamp}`);
  await expect(approver.getByRole('region', { name: 'Evidence' }).locator('.found').first()).toBeVisible();
  await pending.getByLabel('Why').fill(`Agreed with the agency, ${stamp}`);
  await pending.getByRole('button', { name: 'Allow' }).click();
  await expect(pending).toContainText('went on');
  await expectAccessible(approver);
  await approver.context().close();

  await page.goto('/incidents/waiting');
  await page.getByRole('searchbox', { name: 'Search decisions' }).fill(`agency waits, ${stamp}`);
  const decided = page.getByRole('listitem').filter({ hasText: `The agency waits, ${stamp}` });
  await decided.getByRole('button', { name: 'Judge wrong' }).click();
  await page.getByLabel('Why was it wrong to allow it?').fill(`The agency never asked, ${stamp}`);
  await expectAccessible(page);
  await page.getByRole('dialog').getByRole('button', { name: 'Judge wrong' }).click();
  await expect(page.getByText(`The agency never asked, ${stamp}`)).toBeVisible();
  await page.goto(`/incidents?${new URLSearchParams({ filter: 'override eq "judged-wrong"' }).toString()}`);
  await expect.poll(() => counted(page, 'Incidents')).toBeGreaterThan(0);
});

test('the same stays allowed for some days, is noted, and ends with a reason', async ({ page, browser }) => {
  await signIn(page);
  await playPerson(page, 'Birger Quayle');
  const cards = Array.from({ length: 27 }, (_, at) => cardOf(at + 40)).join('\n');
  const body = `Card numbers:\n${cards}`;
  await sendMail(page, { to: OUTSIDE, subject: `Weekly ${stamp}`, body });
  await page.getByRole('button', { name: 'Request an override' }).click();
  await page.getByLabel(/Reason. The person who decides reads it/).fill(`Every week, ${stamp}`);
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText('Your request was sent.')).toBeVisible();

  const approver = await (
    await browser.newContext({ baseURL: new URL(page.url()).origin, viewport: { width: 1280, height: 800 } })
  ).newPage();
  await signIn(approver, 'milo.brandt@merrowstrait.example');
  await approver.goto('/incidents/waiting');
  const request = approver.getByRole('listitem').filter({ hasText: `Every week, ${stamp}` });
  await request.getByLabel('Also allow the same for this person from now on').check();
  await request.getByLabel('For how many days').fill('10');
  await expect(request.getByLabel(`What stays allowed to ${OUTSIDE}`)).toHaveValue(OUTSIDE);
  await request.getByLabel('Why').fill(`Agreed for ten days, ${stamp}`);
  await expectAccessible(approver);
  await request.getByRole('button', { name: 'Allow', exact: true }).click();
  const standing = approver
    .getByRole('region', { name: 'Standing approvals' })
    .getByRole('listitem')
    .filter({ hasText: `Agreed for ten days, ${stamp}` });
  await expect(standing).toContainText('in force until');

  await sendMail(page, { to: OUTSIDE, subject: `Weekly again ${stamp}`, body });
  await page.goto('/incidents?order=-time');
  await list(page).getByRole('button').first().click();
  await expect(page.getByText(/Allowed by a standing approval from Milo Brandt/)).toBeVisible();

  await standing.getByRole('button', { name: 'End now' }).click();
  await approver.getByLabel('Why').last().fill(`The list goes over the portal now, ${stamp}`);
  await approver.getByRole('dialog').getByRole('button', { name: 'End now' }).click();
  await expect(standing).toBeHidden();
  await approver.context().close();
});

test('the screen at the moment of a paste is shown with a reason, and the original is downloaded', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/stand-ins/browser');
  await page
    .getByRole('textbox')
    .last()
    .fill(`For the claim ${stamp}: ${cardOf(90)} and ${cardOf(91)}, ${cardOf(92)}`);
  await page.getByRole('button', { name: 'Submit' }).click();
  await expect(page.getByText(`For the claim ${stamp}`)).toBeVisible();
  await page.goto('/incidents?order=-time');
  await list(page).getByRole('button').first().click();
  const kept = page.getByRole('region', { name: 'The original' });
  await kept.getByRole('button', { name: 'Show', exact: true }).click();
  await page.getByLabel('Why do you need to see the screen?').last().fill('Which page was it?');
  await page.getByRole('button', { name: 'Show pictures' }).click();
  const picture = kept.getByRole('img').last();
  await expect(picture).toBeVisible();
  expect(await picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(300);
  await expectAccessible(page);
  await kept.getByRole('button', { name: 'Download' }).click();
  await page.getByLabel('Why do you need the original?').last().fill('For the file');
  const download = page.waitForEvent('download');
  await page.getByRole('dialog').getByRole('button', { name: 'Download' }).click();
  expect((await download).suggestedFilename()).toMatch(/^incident-\d+-original\.zip$/u);
  await expect(page.getByText(/Original downloaded. Reason: For the file/)).toBeVisible();
});

/** A number with the check digit of Luhn (ISO/IEC 7812-1, annex B), one for each index. */
function cardOf(index: number): string {
  const body = `453914880${String(100_000 + index * 37)}`;
  const sum = [...body].reduce((total, digit, at) => {
    const doubled = Number(digit) * ((body.length - at) % 2 === 1 ? 2 : 1);
    return total + (doubled > 9 ? doubled - 9 : doubled);
  }, 0);
  return `${body}${(10 - (sum % 10)) % 10}`.replaceAll(/(.{4})(?=.)/gu, '$1 ');
}
