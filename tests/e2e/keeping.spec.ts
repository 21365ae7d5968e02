/**
 * Answers that are lost, a server that is away, measurements that it refuses: nothing is lost, and
 * nobody is told of a stranger.
 */
import { expect, test, type Page } from '@playwright/test';
import { expectCurves, expectSaved, openDemo, part, stored } from './desk';

const conflict = (page: Page) => page.getByText(/was changed elsewhere/);
const henries = async (page: Page, id: string) =>
  (await stored(page, id)).document.ways[0].parts[0].henries;

test('a save whose answer is lost is no conflict for the edits after it', async ({ page }) => {
  const id = await openDemo(page);
  await expectSaved(page);
  await page.route(`**/api/projects/${id}`, async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    // It arrives, and the answer does not.
    await route.fetch();
    await route.abort();
  });
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/Your changes are kept in this browser/)).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await page.unroute(`**/api/projects/${id}`);
  await expectSaved(page);
  await expect(conflict(page)).toHaveCount(0);
  expect(await henries(page, id)).toBe(3.9e-3);
});

test('a tab that is closed in the middle of a save finds its own work again', async ({
  context,
  page,
}) => {
  const id = await openDemo(page);
  await expectSaved(page);
  await page.route(`**/api/projects/${id}`, async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    await route.fetch();
    // The answer never comes: the page is gone by then.
    await new Promise(() => undefined);
  });
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expect.poll(() => henries(page, id)).toBe(3.6e-3);
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('button', { name: /^L1, coil in series, 3.9 mH/ })).toBeVisible();
  await page.close();
  const later = await context.newPage();
  await later.goto(`/p/${id}/network`);
  await expectCurves(later);
  await expect(later.getByRole('button', { name: /^L1, coil in series, 3.9 mH/ })).toBeVisible();
  await expectSaved(later);
  await expect(conflict(later)).toHaveCount(0);
  expect(await henries(later, id)).toBe(3.9e-3);
});

test('a project that is left while the server is away has its changes when it is opened again in the same page', async ({
  page,
}) => {
  const id = await openDemo(page);
  await expectSaved(page);
  await page.route(`**/api/projects/${id}`, (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/Your changes are kept in this browser/)).toBeVisible();
  await page.getByRole('link', { name: /Fair Voicing/ }).click();
  await expect(page.getByRole('button', { name: 'Open the demo' })).toBeVisible();
  // It tries once more when it is left, and then no more: what it kept belongs to the next visit.
  await page.waitForTimeout(500);
  await page.unroute(`**/api/projects/${id}`);
  await page.waitForTimeout(2000);
  expect(await henries(page, id)).toBe(3.3e-3);
  await page.locator(`a[href^="/p/${id}/"]`).first().click();
  await page.getByRole('link', { name: /^Network/ }).click();
  await expect(part(page, 'L1')).toHaveAccessibleName(/3.6 mH/);
  await page.keyboard.press('Escape');
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expectSaved(page);
  await expect(conflict(page)).toHaveCount(0);
  await expect.poll(() => henries(page, id)).toBe(3.9e-3);
});

test('one measurement that the server refuses blocks nothing else, and can be left out', async ({
  page,
}) => {
  const id = await openDemo(page, 'bench');
  await expectSaved(page);
  await page.route('**/api/measurements/*', (route) =>
    route.request().method() === 'PUT'
      ? route.fulfill({
          status: 422,
          json: {
            problem: {
              code: 'measurement_unusable',
              where: '',
              what: 'These numbers can’t be stored.',
              why: '',
              mend: '',
            },
          },
        })
      : route.continue(),
  );
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles({
    name: 'odd one.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('20 80 1\n30 81 1\n'),
  });
  const told = page.getByRole('alert').filter({ hasText: 'Everything is saved but for' });
  await expect(told).toContainText('odd one (from odd one.txt): These numbers can’t be stored.');
  await page.getByRole('link', { name: /^Network/ }).click();
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expect.poll(() => henries(page, id)).toBe(3.6e-3);
  await expect(told).toBeVisible();
  await told.getByRole('button', { name: 'Leave it out' }).click();
  await expectSaved(page);
  await expect(told).toHaveCount(0);
});

test('a note that is written while the server is away is kept, sent later, and survives a reload', async ({
  page,
}) => {
  const id = await openDemo(page);
  await expectSaved(page);
  await page.getByRole('link', { name: /^Log/ }).click();
  await page.route('**/api/projects/*/log/*', (route) =>
    route.request().method() === 'PATCH' ? route.abort() : route.continue(),
  );
  await page.getByRole('button', { name: 'Write a note' }).click();
  await page.getByRole('textbox', { name: 'Note' }).fill('warmer than before');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('warmer than before')).toBeVisible();
  await expect(page.getByText(/What you wrote is kept in this browser/)).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: /^kept here$/ })).toBeVisible();
  await page.reload();
  await expect(page.getByText('warmer than before')).toBeVisible();
  await page.unroute('**/api/projects/*/log/*');
  await expectSaved(page);
  const versions = (await (await page.request.get(`/api/projects/${id}/log`)).json()) as {
    note: string;
  }[];
  expect(versions[0].note).toBe('warmer than before');
});

test('of two tabs that write about one version neither overwrites the other', async ({
  context,
  page,
}) => {
  const id = await openDemo(page);
  await expectSaved(page);
  const log = async () =>
    (await (await page.request.get(`/api/projects/${id}/log`)).json()) as { note: string }[];
  const noteOf = async () => (await log())[0].note;
  const other = await context.newPage();
  // The other tab does not hear of the first one's note.
  const before = await log();
  await other.route('**/api/projects/*/log', (route) => route.fulfill({ json: before }));
  for (const tab of [page, other]) {
    await tab.goto(`/p/${id}/log`);
    await expect(tab.getByRole('button', { name: 'Write a note' })).toBeVisible();
  }
  const write = async (tab: Page, text: string) => {
    await tab.bringToFront();
    await tab.getByRole('button', { name: 'Write a note' }).click();
    await tab.getByRole('textbox', { name: 'Note' }).fill(text);
    await tab.keyboard.press('Control+Enter');
  };
  await write(page, 'from the first');
  // Which of two that are under way at once comes first is the server's affair.
  await expect.poll(noteOf).toBe('from the first');
  await write(other, 'from the second');
  await expect(other.getByText('This version’s note was changed elsewhere')).toBeVisible();
  await expect(other.getByText('from the first')).toBeVisible();
  await other.getByRole('button', { name: 'Keep both notes' }).click();
  await expect.poll(noteOf).toContain('from the second');
  expect(await noteOf()).toContain('from the first');
});

test('keeping both works for the longest names', async ({ context, page }) => {
  const id = await openDemo(page);
  await page.getByRole('textbox', { name: 'Project name' }).fill('n'.repeat(80));
  await page.keyboard.press('Enter');
  await expectSaved(page);
  const other = await context.newPage();
  await other.goto(`/p/${id}/network`);
  await expectCurves(other);
  await other.route(`**/api/projects/${id}`, (route) => route.abort());
  await part(other, 'L1').focus();
  await other.keyboard.press('ArrowUp');
  await expect(other.getByText(/Your changes are kept in this browser/)).toBeVisible();
  await page.bringToFront();
  await part(page, 'C1').focus();
  await page.keyboard.press('ArrowUp');
  await expectSaved(page);
  await other.unroute(`**/api/projects/${id}`);
  await expect(conflict(other)).toBeVisible();
  await other.getByRole('button', { name: 'Keep both: save mine as a copy' }).click();
  await expect(conflict(other)).toHaveCount(0);
  const names = (
    (await (await page.request.get('/api/projects')).json()) as { name: string }[]
  ).map(({ name }) => name);
  expect(names).toContain(`${'n'.repeat(60)} (from this tab)`);
});

test('measurements that do not come are said and asked for again', async ({ page }) => {
  const id = await openDemo(page);
  await expectSaved(page);
  // The browser keeps measurements that it had; a fresh one has none.
  const context = await page
    .context()
    .browser()!
    .newContext({ viewport: { width: 1280, height: 800 } });
  const fresh = await context.newPage();
  await fresh.route('**/api/measurements/*', (route) => route.abort());
  await fresh.goto(`${new URL(page.url()).origin}/p/${id}/network`);
  await expect(
    fresh.getByText(/Measurements could not be loaded; they are asked for again/),
  ).toBeVisible();
  await fresh.unroute('**/api/measurements/*');
  await expectCurves(fresh);
  await expect(fresh.getByText(/could not be loaded/)).toHaveCount(0);
  await context.close();
});

test('networks of others come in as variants, what differs is shown first, and one’s own stays', async ({
  page,
}) => {
  const id = await openDemo(page);
  const download = page.waitForEvent('download');
  await page.keyboard.press('Control+s');
  const path = await (await download).path();
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expectSaved(page);
  await page.getByRole('link', { name: /^Log/ }).click();
  const { readFileSync } = await import('node:fs');
  const buffer = readFileSync(path);
  await page.getByLabel('Project files as variants').setInputFiles([
    { name: 'anna.fair.zip', mimeType: 'application/zip', buffer },
    { name: 'bert.fair.zip', mimeType: 'application/zip', buffer },
  ]);
  const anna = page.getByRole('region', { name: 'What differs in anna' });
  await expect(anna.getByText('Drivers, measurements and answers are the same.')).toBeVisible();
  await expect(anna.getByRole('row', { name: /^L1/ })).toContainText('3.3 mH');
  await page.getByRole('button', { name: 'Their networks on my drivers and answers' }).click();
  await expect(
    page.getByRole('region', { name: 'Variants' }).getByRole('columnheader', { name: /bert/ }),
  ).toBeVisible();
  await expectSaved(page);
  expect(await henries(page, id)).toBe(3.6e-3);
});
