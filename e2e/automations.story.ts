import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, publish, signIn } from './workbench.js';

const stamp = Date.now().toString(36);

const asPerson = async (page: Page, name: string) => {
  const people = page.getByLabel('Switch person');
  const option = people.locator('option').filter({ hasText: name }).first();
  await people.selectOption((await option.getAttribute('value')) ?? '');
};

test('a flow is refused while it is built, mended, and runs', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page);
  await page.goto('/stand-ins/automations');
  await asPerson(page, 'Bea Lindqvist');
  await page.getByRole('button', { name: 'New flow' }).click();
  const editor = page.getByRole('form', { name: 'New flow' });
  await editor.getByLabel('Name', { exact: true }).fill(`Guests ${stamp}`);
  await editor.getByLabel('Workspace').selectOption({ label: 'On passage' });
  const step = page.getByRole('complementary', { name: 'Step' });
  await step.getByLabel(/^Add a step/u).selectOption({ label: 'Booking ledger' });
  await expect(editor.getByRole('status')).toContainText('No rule forbids this.');
  // Told as soon as it is chosen, with what would be allowed instead.
  await step.getByLabel(/^Add a step/u).selectOption({ label: 'Social poster' });
  const told = editor.getByRole('status');
  await expect(told).toContainText('Data from Booking ledger may not go to Social poster');
  await expect(told).toContainText('It may go to Company mail, Crew roster, Deck chat, Harbour sheets.');
  await expect(page.getByText('not allowed').first()).toBeVisible();
  await expectAccessible(page);
  await editor.getByRole('button', { name: 'Save and switch on' }).click();
  await expect(page.getByText('Saved, but not switched on: it may not run as it is')).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Own automations' })).toContainText('may not run');
  // Mended, it runs.
  const again = page.getByRole('form', { name: `Edit Guests ${stamp}` });
  await again
    .getByRole('button', { name: /^Social poster/u })
    .first()
    .click();
  await step.getByLabel(/^Service/u).selectOption({ label: 'Deck chat' });
  await step.getByLabel('What it does').selectOption({ label: 'Post to a room' });
  await expect(again.getByRole('status')).toContainText('No rule forbids this.');
  await again.getByRole('button', { name: 'Save and switch on' }).click();
  await expect(page.getByText('Saved, and it runs')).toBeVisible();
});

test('an assistant is refused on publishing, and mended', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page);
  await page.goto('/stand-ins/automations');
  await asPerson(page, 'Jun Abara');
  await page.getByRole('button', { name: 'New assistant' }).click();
  const editor = page.getByRole('form', { name: 'New assistant' });
  await editor.getByLabel('Name', { exact: true }).fill(`Ask the manifests ${stamp}`);
  await editor.getByLabel('Workspace').selectOption({ label: 'On passage' });
  await editor.getByRole('checkbox', { name: /^Manifests/u }).check();
  await editor.getByLabel('Who may use it').selectOption({ label: 'anybody' });
  await editor.getByRole('checkbox', { name: 'a chat' }).check();
  await expect(editor.getByRole('status')).toContainText('may be used by people who sign in only');
  await expectAccessible(page);
  await editor.getByRole('button', { name: 'Save and publish' }).click();
  await expect(page.getByText('Saved, but not switched on: it may not run as it is')).toBeVisible();
  const again = page.getByRole('form', { name: `Edit Ask the manifests ${stamp}` });
  await again.getByLabel('Who may use it').selectOption({ label: 'people who sign in' });
  await expect(again.getByRole('status')).toContainText('No rule forbids this.');
  await again.getByRole('button', { name: 'Save and publish' }).click();
  await expect(page.getByText('Saved, and it runs')).toBeVisible();
});

test('an address is tried, breaches are taken out, and a set is published with its warning', async ({
  page,
}) => {
  test.setTimeout(150_000);
  await signIn(page);
  await page.goto('/automations/sets');
  const form = page.getByRole('form', { name: 'Edit Nothing through the hull' });
  const tried = form.getByLabel('Try an address on Web request');
  const said = form.getByRole('group', { name: 'Web request' }).getByRole('status');
  for (const [address, words] of [
    ['https://WWW.Tides.Example.:443/today', 'Allowed by line 2.'],
    ['https://badtides.example/', 'Refused: no line names it.'],
    ['https://intern.tides.example/', 'Refused by line 1.'],
    ['https://{{host}}/', 'put together only while the flow runs'],
  ] as const) {
    await tried.fill(address);
    await expect(said).toContainText(words);
  }
  await form.getByRole('button', { name: 'Booking ledger to Social poster: no' }).click();
  await expect(form.getByText('No arrow leads from Aboard to Ashore.').first()).toBeVisible();
  await expectAccessible(page);

  await page.goto('/automations/breaches');
  await expect(page.getByRole('row').filter({ hasText: 'Good news' })).toContainText(
    'Data from Booking ledger may not go to Social poster',
  );
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export CSV' }).click();
  expect(readFileSync(await (await download).path(), 'utf8')).toContain('Rosters as a page');

  // A set that would stop what runs says so before it is published.
  await page.goto('/automations/sets');
  await page.getByLabel('Data may go from Lookout to Ashore').uncheck();
  await form.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page.goto('/publish');
  await expect(page.getByText(/automations? that runs? now stops?/u)).toBeVisible();
  await page.getByRole('link', { name: 'Which, and whose they are' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Tides on the site' })).toContainText(
    'orla.fenwick@merrowstrait.example',
  );
  // Published all the same, it is switched off; allowed again, its owner switches it on.
  await publish(page, `No way ashore ${stamp}`);
  await page.goto('/automations');
  const tides = page.getByRole('button', { name: /^Tides on the site/u });
  await expect(tides).toContainText('stopped, 1 breach');
  await page.goto('/automations/sets');
  await page.getByLabel('Data may go from Lookout to Ashore').check();
  await form.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByText('Draft saved')).toBeVisible();
  await publish(page, `Ashore again ${stamp}`);
  await page.goto('/automations');
  await expect(tides).toContainText('off');
  await page.goto('/stand-ins/automations');
  await asPerson(page, 'Orla Fenwick');
  await page.getByRole('button', { name: /^Tides on the site/u }).click();
  await page.getByRole('button', { name: 'Save and switch on' }).click();
  await expect(page.getByText('Saved, and it runs')).toBeVisible();

  await page.goto('/automations/services');
  await page.getByRole('button', { name: 'Add service' }).click();
  const service = page.getByRole('form', { name: 'New service' });
  const document = {
    openapi: '3.1.0',
    info: { title: `Berths ${stamp}`, version: '1' },
    paths: {
      '/berths': { get: { operationId: 'listBerths' }, post: {} },
      '/x': { $ref: 'https://a.example/x' },
    },
  };
  await page.getByLabel('OpenAPI document').setInputFiles({
    ...{ name: 'berths.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(document)) },
  });
  await expect(service.getByRole('status')).toContainText(
    '2 operations read from berths.json. 1 path left out',
  );
  await expectAccessible(page);
  await service.getByRole('button', { name: 'Save draft' }).click();
  await expect(page.getByRole('button', { name: new RegExp(`^Berths ${stamp}`, 'u') })).toContainText(
    '2 operations',
  );
  await page.getByRole('button', { name: 'Remove service …' }).click();
  await page.getByRole('button', { name: 'Remove service' }).click();
  await expect(page.getByRole('button', { name: new RegExp(`^Berths ${stamp}`, 'u') })).toHaveCount(0);
});

test('a flow runs against the other programs, and waits where its movement waits', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page);
  await page.goto('/stand-ins/automations');
  await asPerson(page, 'Bea Lindqvist');
  await page.getByRole('button', { name: /^Refunds to the desk/u }).click();
  const runs = page.getByRole('region', { name: 'Runs' });
  await runs.getByRole('button', { name: 'Run now' }).click();
  const shown = runs.getByRole('status');
  await expect(shown).toContainText('Refunds of the day: done. Read 100 records of claims');
  await expect(shown).toContainText('Into the refund sheet: done. Wrote the sheet "Refunds of the day.csv"');
  await expect(shown).toContainText(/finished|waiting for an answer|stopped/u);
  await expectAccessible(page);
  // The sheet lies on the drive of the owner.
  await page.goto('/stand-ins/drive');
  await asPerson(page, 'Bea Lindqvist');
  await expect(page.getByText('Refunds of the day.csv').first()).toBeVisible();
});

test('an assistant answers out of its places, and what it is asked is judged', async ({ page }) => {
  test.setTimeout(150_000);
  await signIn(page);
  await page.goto('/stand-ins/automations');
  await asPerson(page, 'Jun Abara');
  await page.getByRole('button', { name: /^Fares and times/u }).click();
  const ask = page.getByRole('form', { name: 'Ask' });
  await ask.getByLabel('Your question').fill('When does the ferry to Skerrin sail?');
  await ask.getByRole('button', { name: 'Ask', exact: true }).click();
  const first = page.getByRole('article', { name: 'When does the ferry to Skerrin sail?' }).first();
  await expect(first).toContainText('nothing outside of this machine can be reached', { timeout: 90_000 });
  await expectAccessible(page);
  // Somebody outside may ask what is for anybody, and nothing else.
  await page.goto('/stand-ins/automations');
  await asPerson(page, 'Agency desk');
  await expect(page.getByRole('navigation', { name: 'Assistants' })).toContainText('Fares and times');
  await expect(page.getByRole('button', { name: 'New flow' })).toHaveCount(0);
  await expectAccessible(page);
});

test('the Lantern says whether a flow may run, and coverage where no set guards', async ({ page }) => {
  await signIn(page);
  await page.goto('/policies');
  await page.getByRole('button', { name: /^Lantern/u }).click();
  const lantern = page.getByRole('complementary', { name: 'Lantern' });
  const workflow = {
    arazzo: '1.0.1',
    info: { title: 'Guests', 'x-workspace': 'live', 'x-owner': 'jun.abara@merrowstrait.example' },
    sourceDescriptions: [
      { name: 'ledger', url: 'ledger.yaml' },
      { name: 'poster', url: 'poster.yaml' },
    ],
    workflows: [
      {
        workflowId: 'guests',
        steps: [
          { stepId: 'a', operationId: '$sourceDescriptions.ledger.read' },
          { stepId: 'b', operationId: '$sourceDescriptions.poster.post' },
        ],
      },
    ],
  };
  await lantern.getByLabel('Text to inspect').fill(JSON.stringify(workflow, null, 2));
  await lantern.getByRole('button', { name: 'Check the text above' }).click();
  const published = lantern.getByRole('region', { name: 'By what is published' });
  await expect(published).toContainText('it may not run');
  await expect(published).toContainText('Data from Booking ledger may not go to Social poster');
  await expectAccessible(page);
  await lantern.getByLabel('Existing flow or assistant').selectOption({ label: 'Tides on the site, flow' });
  await expect(published).toContainText('it may run');

  await page.goto('/policies/coverage');
  const flows = page.getByRole('region', { name: 'Flows and assistants' });
  await expect(flows).toContainText(
    'No set can govern Terminal kiosk. It asks nobody before it shows something.',
  );
  await expectAccessible(page);
});
