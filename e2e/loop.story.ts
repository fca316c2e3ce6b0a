import { docxFile, emlFile } from '@lantern/testkit';
import { expect, test } from '@playwright/test';
import { expectAccessible, playPerson, sendMail, signIn } from './workbench.js';

const WORD = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
const OUTSIDE = 'desk@islandholidays.example';
const stamp = Date.now().toString(36);

test.describe.configure({ mode: 'serial' });

test('1: an analyst signs in, sees ready patterns and writes a word list', async ({ page }) => {
  await page.goto('/');
  await expectAccessible(page);
  await page.getByLabel('Mail address').fill('ines.sorrel@merrowstrait.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('not right');
  await signIn(page);
  await page.getByRole('link', { name: /^Patterns/ }).click();
  for (const name of [
    'Payment card number',
    'International bank account number (IBAN)',
    'Passport machine-readable lines (TD3)',
  ]) {
    await page.getByLabel('Search patterns').fill(name.split(' (')[0] ?? name);
    await expect(page.getByRole('link', { name })).toBeVisible();
  }
  await page.getByLabel('Search patterns').fill('');
  await expectAccessible(page);
  await page.getByLabel('Country', { exact: true }).selectOption('PL');
  await page.getByRole('link', { name: 'Personal number, Poland (PESEL)' }).click();
  await page.getByLabel(/^Weight: its own name nearby/).fill('0');
  await expect(page.getByRole('status', { name: 'What moves' })).toContainText('What moves: 3 of');
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Patterns', exact: true }).first().click();
  await page.getByRole('button', { name: 'Create word list' }).click();
  await page.getByLabel('Name', { exact: true }).fill(`Dry dock ${stamp}`);
  await page.getByLabel('What it is for').fill('Words of the refit');
  await page
    .getByLabel('Words and phrases, one per line')
    .fill(`Quillfeather${stamp}\nquillfeather${stamp}\n\nHeron${stamp} refit`);
  await page.getByRole('button', { name: 'Save draft' }).click();
  await expect(
    page.getByText('2 words are kept. 1 duplicates were removed. 1 blank lines were skipped.'),
  ).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByLabel('Words and phrases, one per line')).toHaveValue(
    `Quillfeather${stamp}\nHeron${stamp} refit`,
  );
});

test('2: the Lantern lights up a text, a .txt, a .docx and an .eml on any screen', async ({ page }) => {
  await signIn(page);
  await page.goto('/policies');
  await expect(page.getByRole('heading', { name: 'Policies' })).toBeVisible();
  await page.keyboard.press('l');
  const lantern = page.getByRole('complementary', { name: 'Lantern' });
  await lantern
    .getByLabel('Text to inspect')
    .fill(`Please refund card 4539 1488 0343 6467, it is about Quillfeather${stamp}.`);
  await expect(lantern.getByText('Found, 2 in this browser')).toBeVisible();
  await lantern
    .getByRole('button', { name: /4539 1488 0343 6467: Payment card number, certain to (9\d|100)/ })
    .click();
  await expect(page.getByText('its check digits are valid')).toBeVisible();
  await expect(page.getByText('sum, in log-odds')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(lantern.getByRole('row', { name: /mail, outside/ })).toContainText(
    'note, rule 1 of Passenger payment data leaves by mail',
  );
  await expect(lantern.getByRole('row', { name: /to a colleague/ })).toContainText('goes through');
  await expectAccessible(page);
  const files = [
    { name: 'note.txt', mimeType: 'text/plain', buffer: Buffer.from('IBAN GB29 NWBK 6016 1331 9268 19') },
    {
      name: 'list.docx',
      mimeType: WORD,
      buffer: await docxFile({ paragraphs: ['x'], table: [['Card number'], ['4539148803436467']] }),
    },
    {
      name: 'mail.eml',
      mimeType: 'message/rfc822',
      buffer: await emlFile({
        from: 'a@b.example',
        to: ['c@d.example'],
        subject: 'S',
        text: 'card 4539 1488 0343 6467',
      }),
    },
  ];
  for (const file of files) {
    await lantern.getByLabel('File to inspect').setInputFiles(file);
    await expect(lantern.getByText(file.name, { exact: true })).toBeVisible();
    await expect(lantern.getByText(/Found, [1-9]\d* by the server, which keeps nothing/)).toBeVisible();
    await lantern.getByRole('button', { name: 'Clear' }).click();
  }
  await lantern.getByLabel('File to inspect').setInputFiles({
    name: 'broken.docx',
    mimeType: WORD,
    buffer: files[1]?.buffer.subarray(0, 900) ?? Buffer.alloc(0),
  });
  await expect(lantern.getByText('This part could not be read: it is damaged or incomplete')).toBeVisible();
});

test('3: a policy is written as a sentence, checked where it stands, and published', async ({ page }) => {
  await signIn(page);
  await page.goto('/policies/texts');
  await page.getByRole('button', { name: 'Create message' }).click();
  await page.getByLabel('Name', { exact: true }).fill(`Refit ${stamp}`);
  await page.getByLabel('Message').fill('The refit is not announced. Ask the superintendent.');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByText('The message is saved as a draft')).toBeVisible();
  await page.goto('/policies');
  await page.getByRole('button', { name: 'Create policy' }).click();
  await expect(page.getByText('The policy has no name.')).toBeVisible();
  await page.getByLabel('Name of the policy').fill(`Refit stays inside ${stamp}`);
  const rule = page.getByRole('listitem', { name: 'Rule 1' });
  await rule.getByRole('button', { name: /^it contains/ }).click();
  await page.getByLabel('Pattern', { exact: true }).selectOption({ label: `Dry dock ${stamp}` });
  await page.getByLabel('Certainty of at least', { exact: true }).fill('140');
  await page.keyboard.press('Escape');
  await expect(rule.getByRole('alert')).toContainText('A certainty must be from 0 to 100, not 140');
  await rule.getByRole('button', { name: /^it contains/ }).click();
  await page.getByLabel('Certainty of at least', { exact: true }).fill('80');
  await page.keyboard.press('Escape');
  await rule.getByRole('button', { name: 'note', exact: true }).click();
  await page.getByRole('radio', { name: /^block/ }).check();
  await page.keyboard.press('Escape');
  await expect(rule.getByRole('alert')).toContainText('stopped without an explanation');
  await rule.getByRole('button', { name: 'nothing yet' }).click();
  await page.getByLabel('Message to the sender', { exact: true }).selectOption(`Refit ${stamp}`);
  await page.keyboard.press('Escape');
  await rule.getByRole('button', { name: 'medium' }).click();
  await page.getByLabel('Severity', { exact: true }).selectOption('critical');
  await page.keyboard.press('Escape');
  await expect(page.getByText('draft saved')).toBeVisible();
  await expect(rule.getByRole('alert')).toHaveCount(0);
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByLabel('Name of the policy')).toHaveValue(`Refit stays inside ${stamp}`);
  await page.getByRole('button', { name: 'Review changes' }).click();
  await expect(page.getByText(/new: When it contains at least 1 distinct value of Dry dock/)).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel('Name', { exact: true }).fill('Autumn tightening');
  await page.getByLabel('Why', { exact: true }).fill('The refit begins.');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText(/Revision \d+ is in force/)).toBeVisible();
  await expect(page.getByText('The drafts are identical to the published revision.')).toBeVisible();
});

test('4 and 5: the mail is refused plainly, and the incident is triaged with two keys', async ({
  page,
  context,
}) => {
  await signIn(page);
  const analyst = await context.newPage();
  await analyst.goto('/incidents?order=-time');
  await expect(analyst.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();
  const waiting = await analyst.getByRole('link', { name: /^Incidents/ }).innerText();

  await playPerson(page, 'Orla Fenwick');
  await expectAccessible(page);
  const buffer = await docxFile({ paragraphs: [`The Heron${stamp} refit begins in May.`] });
  await sendMail(page, {
    to: OUTSIDE,
    subject: 'Plans',
    body: 'as promised',
    files: [{ name: 'plans.docx', mimeType: WORD, buffer }],
  });
  const refusal = page.getByRole('alert');
  await expect(refusal).toContainText('Your mail was not sent');
  await expect(refusal).toContainText(`1 × Dry dock ${stamp} in plans.docx › text`);
  await expect(refusal).toContainText(`${OUTSIDE} is outside the organisation`);
  await expect(refusal).toContainText('The refit is not announced. Ask the superintendent.');
  await expect(refusal).toContainText(
    `Rule 1 of "Refit stays inside ${stamp}". This is recorded under number`,
  );
  await expectAccessible(page);

  await expect(analyst.getByRole('link', { name: /^Incidents/ })).not.toHaveText(waiting, { timeout: 5000 });
  // The list does not move by itself: what came is announced.
  await analyst.getByRole('button', { name: /new, show$/ }).click();
  await expect(analyst.getByRole('list', { name: 'Incidents' }).getByText(`Dry dock ${stamp}`)).toBeVisible();
  await analyst.getByRole('list', { name: 'Incidents' }).getByRole('button').first().click();
  await expect(
    analyst.getByRole('heading', { name: `Dry dock ${stamp} to islandholidays.example` }),
  ).toBeVisible();
  const evidence = analyst.getByRole('region', { name: 'plans.docx › text' });
  await expect(evidence).toContainText('begins in May');
  await expect(evidence).not.toContainText(`Heron${stamp}`);
  await expect(analyst.getByText('matched, and decides')).toBeVisible();
  await expectAccessible(analyst);

  await analyst.keyboard.press('y');
  await expect(analyst.getByRole('button', { name: /^Yes Y$/ })).toHaveAttribute('aria-pressed', 'true');
  await analyst.keyboard.press('m');
  const state = analyst.getByRole('status', { name: 'Status' });
  await expect(state).toContainText('Harm, Ines Sorrel');
  await analyst.keyboard.press('1');
  await analyst.getByRole('textbox', { name: /^Note/ }).fill('Talked to her; she did not know.');
  await analyst.getByRole('button', { name: 'Add note' }).click();
  const history = analyst.getByRole('region', { name: 'History' });
  await expect(history).toContainText('Note: Talked to her; she did not know., Ines Sorrel');
  await analyst.reload();
  await expect(history).toContainText('Cause: a slip, Ines Sorrel');
  await expect(state).toContainText('Harm, Ines Sorrel');
  await analyst.keyboard.press('z');
  await expect(state).toContainText('Taken');

  // Without the outside address it goes through.
  await page.getByRole('button', { name: 'Remove outside recipient' }).click();
  await page.getByLabel('To', { exact: true }).fill('Bea Lind');
  await page
    .getByRole('listbox', { name: 'Addresses' })
    .getByRole('option', { name: /Bea Lindqvist/ })
    .click();
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByText('The mail is on its way')).toBeVisible();
  await playPerson(page, 'Bea Lindqvist');
  await page.getByRole('button', { name: /Plans/ }).click();
  await expect(page.getByText('plans.docx')).toBeVisible();
});

test('5: values are shown whole only with a reason', async ({ page }) => {
  await signIn(page);
  await page.goto(`/incidents?filter=${encodeURIComponent('pattern eq "payment-card"')}`);
  await page.getByRole('list', { name: 'Incidents' }).getByRole('button').first().click();
  const mark = page.locator('[aria-label="Evidence"] .found').first();
  await expect(mark).toContainText('••••');
  await page.getByRole('button', { name: 'Values masked, show' }).click();
  await page.getByLabel('Why do you need to see the values?').fill('The card processor asks.');
  await page.getByRole('button', { name: 'Show values' }).click();
  await expect(mark).not.toContainText('•');
  await page.reload();
  await expect(mark).toContainText('••••');
  await expect(page.getByRole('region', { name: 'History' })).toContainText(
    'Values shown. Reason: The card processor asks.',
  );
});

test('an auditor reads everything and changes nothing', async ({ page }) => {
  await signIn(page, 'ruth.amberley@merrowstrait.example');
  await expect(page.getByText('Your account may read incidents but not decide them.')).toBeVisible();
  await page.keyboard.press('y');
  await page.goto('/policies');
  await expect(page.getByRole('button', { name: 'Create policy' })).toHaveAccessibleDescription(
    'Your account may read policies but not edit them',
  );
  await page.getByRole('link', { name: 'The ship purchase stays inside' }).click();
  await expect(page.getByText('Add a rule')).toHaveCount(0);
});

test('the queue keeps its place, filters add up in the address, and keys are told', async ({ page }) => {
  await signIn(page);
  await expect(page.getByRole('region', { name: 'How the verdict was reached' })).toBeVisible();
  await page.keyboard.press('j');
  await page.keyboard.press('j');
  await expect(page).toHaveURL(/\/incidents\/\d+$/);
  const add = async (field: string, value: string) => {
    await page.keyboard.press('f');
    const menu = page.getByRole('dialog', { name: 'Add filter' });
    await menu.getByRole('button', { name: field, exact: true }).click();
    await menu.getByRole('button', { name: new RegExp(`^${value} `) }).click();
    await page.keyboard.press('Escape');
  };
  await add('Severity', 'High');
  await add('Answer', 'blocked');
  await expect(page).toHaveURL(/severity\+eq\+%22high%22\+and\+answer\+eq\+%22block%22/);
  await page.reload();
  await page.getByRole('button', { name: 'Remove filter: Severity High' }).click();
  await expect(page).not.toHaveURL(/severity/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('it was not all right to move it');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Screen, pattern, policy or action').fill('payment card');
  // Patterns come a moment after the list opens.
  await expect(page.getByRole('option', { name: 'Payment card number' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Payment card number' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Ines Sorrel' }).click();
  await page.getByRole('menuitem', { name: 'Dark colours' }).click();
  for (const place of ['/incidents', '/policies', '/patterns/payment-card', '/publish']) {
    await page.goto(place);
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
    await page.waitForLoadState('networkidle').catch(() => undefined);
    await expectAccessible(page);
  }
});
