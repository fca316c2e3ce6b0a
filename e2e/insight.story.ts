/** The questions of a Monday: what changed, which rules are worth their price, who and where, what to do; and a report. */
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, playPerson, sendMail, signIn } from './workbench.js';

const stamp = Date.now().toString(36);

/** What the desk says it lists, of one kind. */
async function counted(page: Page, what: 'Incidents' | 'Matches' | 'Movements'): Promise<number> {
  const tab = page
    .getByRole('group', { name: 'List' })
    .getByRole('button', { name: new RegExp(`^${what} [\\d,]+$`) });
  return numberIn(await tab.innerText());
}
const numberIn = (text: string): number =>
  Number(/[\d,]+/u.exec(text)?.[0].replaceAll(',', '') ?? Number.NaN);

async function openInsight(page: Page, question: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Work areas' })
    .getByRole('link', { name: /^Insight/ })
    .click();
  await page.getByRole('navigation', { name: 'Questions' }).getByRole('link', { name: question }).click();
}

test('why one day was so loud, down to the broken export', async ({ page }) => {
  await signIn(page);
  await openInsight(page, 'What changed');
  const loud = page.getByRole('region', { name: 'What stands out' });
  await expect(loud.getByText(/: 1\d\d, usually \d+ to \d+\./)).toBeVisible();
  await expectAccessible(page);
  const file = loud.getByRole('link', { name: 'open-refunds.csv' });
  const found = numberIn((await file.locator('xpath=..').innerText()).replace(/^.*csv/u, ''));
  await file.click();
  await expect.poll(() => counted(page, 'Incidents')).toBe(found);
  await page.goBack();

  // Each figure opens a list that counts the same.
  const figures = page.locator('dl a[aria-label]');
  await expect(figures).toHaveCount(7);
  const wanted = await figures.evaluateAll((links) =>
    links.map((link) => [link.getAttribute('href') ?? '', link.getAttribute('aria-label') ?? ''] as const),
  );
  expect(wanted).toHaveLength(7);
  for (const [href, label] of wanted) {
    await page.goto(href);
    const kind = label.startsWith('Matches')
      ? 'Matches'
      : label.startsWith('Movements')
        ? 'Movements'
        : 'Incidents';
    await expect
      .poll(() => counted(page, kind), { message: label })
      .toBe(numberIn(label.replace(/^.*: /u, '')));
  }

  // A bar is reached and opened by keyboard, and counts what its row says.
  await openInsight(page, 'What changed');
  const chart = page.getByRole('application', { name: /Incidents over time/ });
  await expect(chart.locator('svg text').first()).toBeVisible();
  await chart.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  const second = page.getByRole('region', { name: 'The chart as a table' }).getByRole('row').nth(2);
  const inRow = numberIn(await second.getByRole('link').innerText());
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/incidents\?filter=time/);
  await expect.poll(() => counted(page, 'Incidents')).toBe(inRow);
  await page.goBack();

  // Dragging over bars chooses the period.
  await expect(chart.locator('svg text').first()).toBeVisible();
  const all = (await chart.getAttribute('aria-label')) ?? '';
  const box = (await chart.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.3, box.y + 80);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + 90, { steps: 5 });
  await page.mouse.up();
  await expect(page).toHaveURL(/from=\d{4}-\d{2}-\d{2}&to=\d{4}-\d{2}-\d{2}/);
  await expect(chart).not.toHaveAccessibleName(all);
});

test('which rules are worth their price, and who and where most of it is', async ({ page }) => {
  await signIn(page);
  await openInsight(page, 'What rules cost');
  const noisy = page.getByRole('row', { name: /Rule of The ship purchase stays inside/ });
  await expect(noisy).toContainText('Mostly false positives');
  await expectAccessible(page);
  const matches = noisy.getByRole('cell').first().getByRole('link');
  const inRow = numberIn(await matches.innerText());
  await matches.click();
  await expect.poll(() => counted(page, 'Matches')).toBe(inRow);
  await page.goBack();
  await page.getByRole('button', { name: 'What people said' }).first().click();
  await expect(
    page.getByText(/“The portal takes twenty rows at most, the list has more”/).first(),
  ).toBeVisible();

  await openInsight(page, 'Who and where');
  const people = page.getByRole('region', { name: 'Person', exact: true });
  await expect(people.getByRole('heading')).toContainText('make up half');
  await expectAccessible(page);
  const first = people.getByRole('link').first();
  const count = numberIn(await first.innerText());
  await first.click();
  await expect.poll(() => counted(page, 'Incidents')).toBe(count);
  await page.goBack();
  const square = page.getByRole('region', { name: 'Hours' }).getByRole('link').first();
  const inSquare = numberIn(((await square.getAttribute('aria-label')) ?? '').replace(/^.*: /u, ''));
  await square.click();
  await expect.poll(() => counted(page, 'Incidents')).toBe(inSquare);
});

test('what to do next leads to where it is done', async ({ page }) => {
  await signIn(page);
  await openInsight(page, 'What to improve');
  const list = page.getByRole('region', { name: 'What to improve' });
  await expect(list.getByText(/incidents are overdue/)).toBeVisible();
  await expectAccessible(page);
  const overdue = list.getByRole('listitem').filter({ hasText: 'incidents are overdue' });
  const said = numberIn(await overdue.innerText());
  await overdue.getByRole('link').click();
  await expect.poll(() => counted(page, 'Incidents')).toBe(said);
});

test('a report is sent with what differs from the last time', async ({ page }) => {
  const name = `People ${stamp}`;
  await signIn(page);
  await openInsight(page, 'Reports');
  await page.getByRole('button', { name: 'Create report' }).click();
  const form = page.getByRole('form', { name: 'Report' });
  await form.getByLabel('Name', { exact: true }).fill(name);
  await form.getByLabel('Shows').selectOption('Incidents one by one');
  await form.getByLabel('Days before each run').fill('1');
  await form.getByLabel('Send to').fill('somebody@islandholidays.example');
  await expect(form.getByText(/Next runs: Mon/)).toBeVisible();
  await expectAccessible(page);
  await form.getByRole('button', { name: 'Save report' }).click();
  await expect(form.getByRole('alert')).toContainText('Outside: somebody@islandholidays.example');
  await form.getByLabel('Send to').fill('data-care@merrowstrait.example');
  await form.getByRole('button', { name: 'Save report' }).click();
  const report = page.getByRole('article', { name });
  await report.getByRole('button', { name: 'Run now' }).click();
  await expect(report.getByText('First report: nothing to compare with')).toBeVisible();

  await playPerson(page, 'Orla Fenwick');
  await sendMail(page, {
    to: 'desk@islandholidays.example',
    subject: `Refund ${stamp}`,
    body: 'Please refund to the card 4539 1488 0343 6467 and to 6011 0009 9013 9424, expiry 11/29.',
  });
  // Its subject stands in the list once it was judged and recorded.
  await expect(page.getByText(`Refund ${stamp}`).first()).toBeVisible();
  await signInAgain(page);
  await report.getByRole('button', { name: 'Run now' }).click();
  await expect(report.getByRole('heading', { name: 'New' })).toBeVisible();
  await expect(report.getByText(/Orla Fenwick/).first()).toBeVisible();
  await expect(async () => {
    await page.reload();
    await expect(report.getByText('data-care@merrowstrait.example: delivered').first()).toBeVisible({
      timeout: 2_000,
    });
  }).toPass();
  await expectAccessible(page);
});

async function signInAgain(page: Page): Promise<void> {
  await page.goto('/insight/reports');
  await expect(page.getByRole('button', { name: 'Create report' })).toBeVisible();
}
