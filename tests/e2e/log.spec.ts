import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { readProjectFile } from '@/core/formats/projectFile';
import { drawn, expectCurves, expectSaved, openDemo, part, settled } from './desk';

async function nudge(page: Page, name: string, key: string, times: number): Promise<void> {
  await part(page, name).focus();
  for (let i = 0; i < times; i++) await page.keyboard.press(key);
  await expectSaved(page);
}

async function openLog(page: Page): Promise<void> {
  await page.getByRole('link', { name: /^Log/ }).click();
  await page.waitForURL(/log/);
  await expect(page.getByRole('option').first()).toBeVisible();
}

const versionRow = (page: Page, number: number) =>
  page.getByRole('option', { name: new RegExp(`^v${number}\\b`) });

const curvesBack = (page: Page) => page.keyboard.press('h');

test('back to an old version and forward again, with nothing lost', async ({ page }) => {
  await openDemo(page);
  const start = await drawn(page, 'sum');
  await openLog(page);
  await page.getByLabel('Name of this version').fill('as it came');
  await page.keyboard.press('Enter');
  await expect(versionRow(page, 1)).toContainText('as it came');
  await page.getByRole('link', { name: /^Network/ }).click();
  await nudge(page, 'L1', 'ArrowUp', 3);
  const changed = await settled(page, 'sum');
  expect(changed).not.toBe(start);

  await openLog(page);
  await expect(versionRow(page, 2)).toContainText('set L1');
  await versionRow(page, 1).click();
  await page.getByRole('button', { name: 'Go back to it' }).click();
  await expectSaved(page);
  await expect(versionRow(page, 3)).toBeVisible();
  await page.getByRole('link', { name: /^Network/ }).click();
  await expect.poll(() => drawn(page, 'sum')).toBe(start);

  await openLog(page);
  await versionRow(page, 2).click();
  await page.getByRole('button', { name: 'Go back to it' }).click();
  await expectSaved(page);
  await page.getByRole('link', { name: /^Network/ }).click();
  await expect.poll(() => drawn(page, 'sum')).toBe(changed);
  await page.reload();
  await expectCurves(page);
  await expect.poll(() => drawn(page, 'sum')).toBe(changed);
  await openLog(page);
  await expect(page.getByRole('option')).toHaveCount(4);
});

test('a pinned state lies under the curves, is flipped to by a held key, and moves the strip', async ({
  page,
}) => {
  await openDemo(page);
  const start = await drawn(page, 'sum');
  await page.keyboard.press('Shift+P');
  await expect(page.getByText('against r1, hold')).toBeVisible();
  await nudge(page, 'L3', 'ArrowUp', 4);
  await expect(part(page, 'L3')).toHaveAccessibleName(/0\.68 mH/);
  const changed = await settled(page, 'sum');
  expect(await drawn(page, 'pinned')).toBe(start);
  const impedance = page.locator('[data-promise="lowest-impedance"]');
  await expect(impedance).toHaveAccessibleName(/Better by/);
  await page.keyboard.down('`');
  await expect.poll(() => drawn(page, 'sum')).toBe(start);
  await expect(impedance).toHaveAttribute('data-state', 'broken');
  await expect(part(page, 'L3')).toHaveAccessibleName(/0\.47 mH/);
  await page.keyboard.up('`');
  await expect.poll(() => drawn(page, 'sum')).toBe(changed);
  // Let go of in another window, the key is not left held here.
  await page.keyboard.down('`');
  await expect.poll(() => drawn(page, 'sum')).toBe(start);
  await page.evaluate(() => window.dispatchEvent(new Event('blur')));
  await expect.poll(() => drawn(page, 'sum')).toBe(changed);
  await page.keyboard.up('`');
  await expect(part(page, 'L3')).toHaveAccessibleName(/0\.68 mH/);
  await page.reload();
  await expect(page.getByText('against r1, hold')).toBeVisible();
});

test('two variants are compared, and one is brought back', async ({ page }) => {
  await openDemo(page);
  await openLog(page);
  await page.getByLabel('Name of a new variant').fill('milder coil');
  await page.keyboard.press('Enter');
  await expectSaved(page);
  await page.getByRole('link', { name: /^Network/ }).click();
  await nudge(page, 'L1', 'ArrowUp', 3);
  await nudge(page, 'L3', 'ArrowUp', 4);
  const milder = await settled(page, 'sum');
  await openLog(page);
  const table = page.getByRole('region', { name: 'Variants' }).getByRole('table');
  await expect(table.getByRole('row', { name: /^Lowest/ })).toContainText('4.0 Ω not kept');
  await expect(table.getByRole('row', { name: /^Lowest/ })).toContainText('4.9 Ω');

  // The comparison of the newest version with the one before names part and promise.
  const comparison = page.getByRole('region', { name: 'Comparison' });
  await expect(comparison.getByRole('row', { name: /^L3/ })).toContainText('0.47 mH');
  await expect(comparison.getByRole('row', { name: /^L3/ })).toContainText('0.68 mH');
  await expect(comparison.getByRole('row', { name: /^Lowest/ })).toContainText('▲ better');
  await expect(comparison.locator('[data-curve="earlier"]')).toHaveText(/ at 1k/);

  await page.getByRole('button', { name: 'Work on main line' }).click();
  await expectSaved(page);
  await page.getByRole('button', { name: 'Bring milder coil back to the main line' }).click();
  await expectSaved(page);
  await expect(page.getByText('now on the desk: main line')).toBeVisible();
  await page.getByRole('link', { name: /^Network/ }).click();
  await expect.poll(() => drawn(page, 'sum')).toBe(milder);
});

test('a note is kept however its field is left: by Escape, the way back, a new load', async ({
  page,
}) => {
  const id = await openDemo(page);
  await openLog(page);
  const note = page.getByLabel('Note', { exact: true });
  const write = page.getByRole('button', { name: /Write a note|Edit the note/ });
  await write.click();
  await note.fill('by Escape');
  await page.keyboard.press('Escape');
  await expect(page.locator('article').getByText('by Escape')).toBeVisible();
  await expect(write).toBeFocused();
  await page.keyboard.press('Enter');
  await note.fill('by a list of actions');
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.locator('article').getByText('by a list of actions')).toBeVisible();
  await write.click();
  await note.fill('by a press elsewhere');
  await page.getByRole('heading', { name: /^Version 1/ }).click();
  await expect(page.locator('article').getByText('by a press elsewhere')).toBeVisible();
  await write.click();
  await note.fill('by the way back');
  await page.goBack();
  await page.waitForURL(/network$/);
  const noteOnServer = async () => {
    const versions = await page.request.get(`/api/projects/${id}/log`);
    return JSON.stringify(await versions.json());
  };
  await expect.poll(noteOnServer).toContain('by the way back');
  await openLog(page);
  await write.click();
  await note.fill('by a new load');
  await page.reload();
  await expect(page.locator('article').getByText('by a new load')).toBeVisible();
  await expect.poll(noteOnServer).toContain('by a new load');

  await page.getByRole('button', { name: 'Write down what was heard' }).click();
  await page.getByLabel('What was heard').fill('half an impression');
  await page.goBack();
  await page.waitForURL(/network$/);
  await expect.poll(noteOnServer).toContain('half an impression');
});

test('notes and impressions are kept, found, shown without script, and travel with the project', async ({
  page,
}) => {
  await openDemo(page);
  await openLog(page);
  await page.getByRole('button', { name: 'Write a note' }).click();
  await page
    .getByLabel('Note', { exact: true })
    .fill(
      'The **lows** are right.\n\n<img src=x onerror="document.title=\'bad\'"><script>document.title="bad"</script>[x](javascript:alert(1))',
    );
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('article strong', { hasText: 'lows' })).toBeVisible();
  expect(await page.title()).not.toBe('bad');
  expect(
    await page.locator('article a').evaluateAll((all) => all.map((a) => a.getAttribute('href'))),
  ).not.toContain('javascript:alert(1)');
  await page.getByRole('button', { name: 'Write down what was heard' }).click();
  await page.getByLabel('What was heard').fill('voices are in front');
  await page.getByLabel('Where (seat)').fill('back row');
  await page.getByLabel('Level, dB').fill('rather loud');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'Type a level between' })).toBeVisible();
  await page.getByLabel('Level, dB').fill('76,5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('cell', { name: 'voices are in front', exact: true })).toBeVisible();
  await expect(page.getByRole('cell', { name: '76.5' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Write down what was heard' })).toBeFocused();

  const search = page.getByLabel('Search the log');
  await search.fill('voices back');
  await expect(page.getByRole('option')).toHaveCount(1);
  await search.fill('nothing of the kind');
  await expect(page.getByText('Nothing in the log says that.')).toBeVisible();
  await search.fill('');

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.keyboard.press('Control+s'),
  ]);
  const path = await download.path();
  const { log } = readProjectFile(new Uint8Array(readFileSync(path)), 'project.zip');
  expect(log.at(-1)).toMatchObject({
    impressions: [{ heard: 'voices are in front', levelDb: 76.5 }],
  });
  await page.goto('/');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import a project file' }).click(),
  ]);
  await chooser.setFiles(path);
  await page.waitForURL(/network$/);
  await expectCurves(page);
  await openLog(page);
  await expect(page.getByRole('option')).toHaveCount(1);
  await versionRow(page, 1).click();
  await expect(page.getByRole('cell', { name: 'voices are in front', exact: true })).toBeVisible();
});

test('everything in the log by keyboard: keep a version under a name, choose another', async ({
  page,
}) => {
  await openDemo(page);
  await curvesBack(page);
  await curvesBack(page);
  await page.keyboard.press('Control+m');
  const name = page.getByLabel('Name of this version');
  await expect(name).toBeFocused();
  await page.keyboard.type('kept by key');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Tab');
  await page.keyboard.type('written without leaving the network');
  await page.keyboard.press('Escape');
  await expect(name).toHaveCount(0);
  await nudge(page, 'C1', 'ArrowUp', 1);
  await openLog(page);
  await expect(versionRow(page, 1)).toContainText('kept by key');
  await versionRow(page, 2).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('heading', { name: 'Version 1' })).toBeVisible();
});
