import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** Signs in on the real form and waits for the queue. */
export async function signIn(page: Page, email = 'ines.sorrel@merrowstrait.example'): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Mail address').fill(email);
  await page.getByLabel('Password').fill('lantern-demo');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Incidents', exact: true })).toBeVisible();
}

/** No violation of WCAG 2.2 A and AA that a machine can see (axe-core's rules). */
export async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map((violation) => ({
      rule: violation.id,
      where: violation.nodes.map((node) => node.html.slice(0, 160)),
    })),
  ).toEqual([]);
}

/** Opens the mail window as a person of the demo. */
export async function playPerson(page: Page, name: string): Promise<void> {
  await page.goto('/stand-ins/mail');
  const chooser = page.getByLabel('Switch person');
  const label = await chooser.locator('option', { hasText: name }).first().innerText();
  await chooser.selectOption({ label });
  await expect(page.getByText(`You are ${name}`)).toBeVisible();
}

/** Writes and sends a mail. */
export async function sendMail(
  page: Page,
  mail: {
    to: string;
    subject: string;
    body: string;
    files?: { name: string; mimeType: string; buffer: Buffer }[];
  },
): Promise<void> {
  await page.getByRole('button', { name: 'Write a mail' }).click();
  await page.getByLabel('To', { exact: true }).fill(mail.to);
  await page.getByLabel('To', { exact: true }).press('Enter');
  await page.getByLabel('Subject').fill(mail.subject);
  await page.getByLabel('Text of the mail').fill(mail.body);
  if (mail.files) await page.getByLabel('Attach files').setInputFiles(mail.files);
  await page.getByRole('button', { name: 'Send' }).click();
}

/** Publishes everything that is drafted. */
export async function publish(page: Page, name: string): Promise<void> {
  await page.goto('/publish');
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByLabel('Why', { exact: true }).fill('A story');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText(/Revision \d+ is in force/)).toBeVisible();
}
