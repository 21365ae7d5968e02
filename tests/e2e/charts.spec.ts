import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { drawn, expectCurves, expectSaved, openDemo, part, pressAtOnce, stored } from './desk';

test('a chart leaves as CSV, SVG and PNG, and to the clipboard', async ({ page }) => {
  await openDemo(page);
  const take = async (item: string) => {
    await page.getByRole('button', { name: 'Export Impedance' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    return { name: download.suggestedFilename(), content: readFileSync(await download.path()) };
  };
  const csv = await take('Save CSV');
  expect(csv.name).toBe('impedance.csv');
  expect(csv.content.toString().split('\n')[0]).toBe('frequency_Hz,phase (°),|Z| (Ω)');
  expect(csv.content.toString().trim().split('\n')).toHaveLength(480);
  const svg = (await take('Save SVG')).content.toString();
  expect(svg).toMatch(/^<svg[^>]*xmlns=/);
  // Stand-alone: no variable of the page is left in it.
  expect(svg).not.toContain('var(--');
  const png = (await take('Save PNG')).content;
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  await page.getByRole('button', { name: 'Export Impedance' }).click();
  await page.getByRole('menuitem', { name: 'Copy as CSV' }).click();
  await expect
    .poll(() => page.evaluate(() => navigator.clipboard.readText()))
    .toBe(csv.content.toString());
});

test('zoom keeps the proportion, pin keeps a place, Escape lets go', async ({ page }) => {
  await openDemo(page);
  const cursor = page.getByRole('slider', { name: /^On axis/ });
  const picture = () =>
    page
      .locator('figure canvas')
      .first()
      .evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const before = await picture();
  await cursor.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('+');
  await expect.poll(picture).not.toBe(before);
  const ticks = page
    .locator('figure')
    .first()
    .locator('.recharts-xAxis-tick-labels, .recharts-xAxis')
    .first();
  await expect(ticks).not.toContainText('20k');
  await page.keyboard.press('-');
  await expect.poll(picture).toBe(before);
  await page.keyboard.press('Enter');
  await expect(page.locator('figure').first().locator('output')).toContainText('pinned 1.0');
  await page.keyboard.press('Escape');
  await expect(cursor).toHaveAttribute('aria-valuetext', 'no cursor');
});

test('the chart with one way reversed follows the choice of way', async ({ page }) => {
  await openDemo(page);
  const before = await drawn(page, 'reversed');
  await page.getByRole('button', { name: /Way that is reversed/ }).click();
  await page.getByRole('option', { name: 'Tweeter' }).click();
  await expect.poll(() => drawn(page, 'reversed')).not.toBe(before);
  // Reversing the way itself makes the two curves change places.
  const asItIs = await drawn(page, 'sum', 1);
  await page.getByRole('button', { name: /^Tweeter: Tweeter/ }).focus();
  await page.keyboard.press('p');
  await expect.poll(() => drawn(page, 'reversed')).toBe(asItIs);
});

test('curves hide and come back, and the dark theme is remembered', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('h');
  await expect(page.locator('[data-curve="sum"]')).toHaveCount(0);
  await page.keyboard.press('h');
  await expect(page.locator('[data-curve="sum"]').first()).toBeAttached();
  await page.keyboard.press('Control+Shift+e');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
});

test('ways come and go; a way without a driver is told', async ({ page }) => {
  const id = await openDemo(page);
  await page.keyboard.press('w');
  await expect(page.getByRole('button', { name: /^Way 4: no driver/ })).toBeFocused();
  await expect(page.getByText('This way has no driver and is excluded.')).toBeVisible();
  await page.getByRole('button', { name: /Driver at its end/ }).click();
  await page.getByRole('option', { name: 'Tweeter' }).click();
  await expect(page.getByText('This way has no driver')).toHaveCount(0);
  await page.getByRole('button', { name: /^Remove way/ }).click();
  await expect(page.getByRole('button', { name: /^Way 4/ })).toHaveCount(0);
  await expectSaved(page);
  expect((await stored(page, id)).document.ways).toHaveLength(3);
});

test('positions and the microphone’s statement count a path once', async ({ page }) => {
  await openDemo(page, 'bench');
  await page.getByRole('button', { name: /show the curves/ }).click();
  await expectCurves(page);
  const start = await drawn(page, 'sum');
  const depth = page.getByRole('region', { name: 'Tweeter' }).getByLabel('forward');
  // Common timing holds the place where it was measured: moved from there, it is heard later;
  // measured here, it is not.
  await depth.fill('-60');
  await depth.press('Enter');
  await expectSaved(page);
  await expect.poll(() => drawn(page, 'sum')).not.toBe(start);
  await expect(
    page.getByText(/moved since: its path is .* mm longer, its sound comes .* ms later/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'It was measured here' }).click();
  await expect.poll(() => drawn(page, 'sum')).toBe(start);
  await page
    .getByRole('list', { name: 'Measurements that were read' })
    .getByRole('button', { name: /^tweeter response/ })
    .click();
  await page.getByText(/Timing is common to the set/).click();
  await expect.poll(() => drawn(page, 'sum')).not.toBe(start);
  await expect(
    page.getByText(/Some responses share a common timing and some do not/),
  ).toBeVisible();
});

test('files dropped on the bench are read', async ({ page }) => {
  await openDemo(page, 'bench');
  const path = test.info().outputPath('dropped.txt');
  writeFileSync(path, '20 80 1\n30 81 1\n40 82 1\n');
  // As the browser's own drag and drop delivers it: a page can't make such an event for itself.
  const cdp = await page.context().newCDPSession(page);
  const box = (await page.getByText('or drop them here').boundingBox())!;
  const data = { items: [], files: [path], dragOperationsMask: 1 };
  for (const type of ['dragEnter', 'dragOver', 'drop'] as const)
    await cdp.send('Input.dispatchDragEvent', { type, x: box.x + 20, y: box.y + 5, data });
  await expect(page.getByRole('button', { name: /^dropped/ })).toBeVisible();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByRole('button', { name: /^dropped/ })).toHaveCount(0);
});

test('typing is not held up while curves are computed', async ({ page }) => {
  await openDemo(page);
  await part(page, 'L1').focus();
  for (let i = 0; i < 30; i++) await page.keyboard.press(i % 2 === 0 ? 'ArrowUp' : 'ArrowDown');
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('button', { name: /^L1, coil in series, 3.6 mH/ })).toBeVisible();
  // One step to undo for a whole run of nudges, here without a machine's pauses between them.
  const before = (await part(page, 'L3').getAttribute('aria-label'))!;
  await part(page, 'L3').focus();
  await pressAtOnce(page, Array<string>(5).fill('ArrowUp'));
  await expect(part(page, 'L3')).not.toHaveAttribute('aria-label', before);
  await page.keyboard.press('Control+z');
  await expect(part(page, 'L3')).toHaveAttribute('aria-label', before);
});
