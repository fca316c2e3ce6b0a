/** From a false positive to a better rule in minutes, knowing its cost. Changes a rule of the demo, so it comes late. */
import { expect, test } from '@playwright/test';
import { expectAccessible, playPerson, sendMail, signIn } from './workbench.js';

test('the noisy rule is made quiet, with replay and publishing, and held to its promise', async ({
  page,
}) => {
  // A whole replay runs in it.
  test.setTimeout(240_000);
  await signIn(page);
  await page.goto('/insight/rules');
  const noisy = page.getByRole('row', { name: /Rule of The ship purchase stays inside/ });
  await noisy.getByRole('link', { name: 'Prevent false positives' }).click();
  await expect(page.getByRole('heading', { name: 'Prevent false positives' })).toBeVisible();
  const best = page.getByRole('article').first();
  await expect(best).toHaveAccessibleName(
    /Approve an exchange: Port Operations sends Ship purchase Slackwater/,
  );
  await expect(best).toContainText('none missed');
  // A change that misses confirmed cases is marked, and stands after those that do not.
  const marked = page.getByRole('article').filter({ hasText: '▲ Misses' });
  await expect(marked.last()).toBeVisible();
  await expect(page.getByRole('article').last()).toContainText('▲ Misses');
  await expectAccessible(page);
  await best.getByRole('button', { name: 'Show what else would get through' }).click();
  await expect(best.getByRole('row').first()).toBeVisible();
  await best.getByRole('button', { name: 'Change the draft' }).click();
  await expect(page.getByText('The draft has the change')).toBeVisible();
  await expect(
    page.getByText(/Not published yet\. Promised: \d+ of \d+ false positives fewer\./),
  ).toBeVisible();

  await page.getByRole('link', { name: 'Replay the drafts' }).click();
  const begun = page.waitForResponse(
    (response) => response.request().method() === 'POST' && response.url().includes('/replays'),
  );
  await page
    .getByRole('button', { name: /^Replay/ })
    .first()
    .click();
  await begun;
  // Figures of an earlier replay stand there until this one is done.
  await page.reload();
  await expect(page.getByText(/started by Ines Sorrel: done/)).toBeVisible({ timeout: 90_000 });
  await expect(page.getByText(/newly let through/i).first()).toBeVisible();

  await page.goto('/publish');
  await page.getByLabel('Name', { exact: true }).fill('Tides are not the ship');
  await page.getByLabel('Why', { exact: true }).fill('False positives of the ports');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText(/Revision \d+ is in force/)).toBeVisible();

  // Of Port Operations, for whom the exchange was approved.
  await playPerson(page, 'Per Halloran');
  await sendMail(page, {
    to: 'office@eddisport-authority.example',
    subject: 'Tides',
    body: 'Slackwater tomorrow is at 07:20, please have the tug ready.',
  });
  await expect(page.getByText('The mail is on its way', { exact: true })).toBeVisible();
  await page.goto('/insight/rules');
  await expect(noisy).toContainText(/Too early to say\. Promised: .* Since revision \d+: 0 incidents/);
});

test('decisions say what the weights of a pattern should be, and how well that comes true', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/patterns/payment-card');
  await page.getByRole('link', { name: 'What decisions say about its weights' }).click();
  const weights = page.getByRole('region', { name: 'Weights' });
  await expect(weights.getByRole('row', { name: /its check digits are valid/ })).toBeVisible();
  await expect(page.getByText(/Learned from \d+ decisions, tried on \d+ that were held out/)).toBeVisible();
  await expect(page.getByText(/Brier score now 0\.\d{3}, learned 0\.\d{3}/)).toBeVisible();
  await expectAccessible(page);
});
