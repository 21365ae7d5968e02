import { expect, test } from '@playwright/test';
import { expectAccessible } from './accessible';
import { openDemo, part } from './desk';

for (const table of ['light', 'dark'] as const) {
  test.describe(`on the ${table} table`, () => {
    test.use({ colorScheme: table });
    const looked = table === 'light' ? 'all' : 'colours';

    test('axe finds nothing on any screen', async ({ page }) => {
      // Looking through a whole page takes seconds.
      test.slow();
      await openDemo(page);
      await expectAccessible(page, looked);
      await part(page, 'C2').focus();
      await expectAccessible(page, looked);
      await page.keyboard.press('Control+k');
      await expect(page.getByLabel('Name of an action')).toBeVisible();
      await expectAccessible(page, looked);
      await page.keyboard.press('Escape');
      await page.getByRole('link', { name: /^Bench/ }).click();
      await expect(page.getByRole('heading', { name: 'Level as measured' })).toBeVisible();
      await expectAccessible(page, looked);
      await page.getByRole('link', { name: /^Brief/ }).click();
      await expect(page.getByRole('heading', { name: 'Enclosure' })).toBeVisible();
      await expectAccessible(page, looked);
      await page.getByRole('link', { name: /^Log/ }).click();
      await expect(page.getByRole('heading', { name: 'Change of level' })).toBeVisible();
      await expectAccessible(page, looked);
      await page.goto('/');
      // Until the page can answer, all of it is inert.
      await expect(page.locator('main')).not.toHaveAttribute('inert');
      await expectAccessible(page, looked);
      await page.goto('/p/nothing/bench');
      await expectAccessible(page, looked);
    });
  });
}

for (const table of ['light', 'dark'] as const) {
  test.describe(`on the ${table} table`, () => {
    test.use({ colorScheme: table });
    const looked = table === 'light' ? 'all' : 'colours';

    test('axe finds nothing with traps on the curve, sheets and menus open', async ({ page }) => {
      test.slow();
      await openDemo(page);
      await page.getByRole('button', { name: 'Notch the highest peak' }).click();
      await expect(page.getByRole('slider', { name: /trap/i })).toBeVisible();
      await expectAccessible(page, looked);
      await part(page, 'L1').focus();
      await page.keyboard.press('?');
      await expect(page.getByRole('dialog')).toBeVisible();
      await expectAccessible(page, looked);
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Export', exact: true }).click();
      await expect(page.getByRole('menu')).toBeVisible();
      await expectAccessible(page, looked);
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Read a netlist' }).click();
      await expect(page.getByRole('dialog')).toBeVisible();
      await expectAccessible(page, looked);
      await page.keyboard.press('Escape');
      await page.getByRole('link', { name: /^Bench/ }).click();
      const files = ['a hor 0', 'a hor 30', 'a Z'].map((name, i) => ({
        name: `${name}.txt`,
        mimeType: 'text/plain',
        buffer: Buffer.from(
          name.endsWith('Z')
            ? 'Hz ohm deg\n20 6 1\n200 7 2\n'
            : `Hz dB turn\n20 8${i} -10\n200 8${i} 40\n`,
        ),
      }));
      await page.getByLabel('Measurement files', { exact: true }).setInputFiles(files);
      await expect(page.getByRole('heading', { name: '3 measurements were read' })).toBeVisible();
      await expectAccessible(page, looked);
    });
  });
}

test('axe finds nothing on what is laid out on the Bench', async ({ page }) => {
  test.slow();
  await openDemo(page, 'bench');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name: 'Tails' }).click();
  await expectAccessible(page);
  for (const table of [
    'Measurement',
    'Angles',
    'Depth',
    'Parameters',
    'Samples',
    'Library',
    'Driver sheet',
    'Measure',
  ]) {
    await page.getByRole('tab', { name: table, exact: true }).click();
    await expect(page.getByRole('tab', { name: table, exact: true })).toHaveAttribute(
      'aria-selected',
      'true',
    );
    await expectAccessible(page, 'panel');
  }
});

test('axe finds nothing on what lies beside the rails', async ({ page }) => {
  test.slow();
  await openDemo(page);
  await page.getByRole('button', { name: /^L1, / }).click();
  await expect(page.getByText(/A tenth more moves the sum/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Tweeter: / }).click();
  await expect(page.getByRole('list', { name: 'Starting points for Tweeter' })).toBeVisible();
  await expectAccessible(page, 'panel');
  await page.getByRole('tab', { name: 'Fit', exact: true }).click();
  await page.getByRole('button', { name: 'Free all' }).click();
  await expectAccessible(page, 'panel');
  await page.getByRole('tab', { name: 'Search', exact: true }).click();
  const most = page.getByRole('textbox', { name: 'largest number of parts' });
  await most.fill('4');
  await most.press('Enter');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.getByText(/networks fitted; /)).toBeVisible({ timeout: 120_000 });
  await page
    .getByRole('button', { name: /^Show the network/ })
    .first()
    .focus();
  await expect(page.getByText('Only looked at')).toBeVisible();
  await expectAccessible(page);
});

test('styles come with the server’s page, and nothing complains in the console', async ({
  page,
}) => {
  const complaints: string[] = [];
  page.on(
    'console',
    (message) => ['error', 'warning'].includes(message.type()) && complaints.push(message.text()),
  );
  page.on('pageerror', (error) => complaints.push(error.message));
  const html = await (await page.request.get('/')).text();
  expect(html).toMatch(/<style[^>]*data-styled/);
  const id = await openDemo(page, 'bench');
  await expect(page.getByRole('heading', { name: 'Level as measured' })).toBeVisible();
  // Opened anew, what the server wrote and what the browser makes of it are the same.
  for (const stage of ['brief', 'bench', 'network', 'log']) {
    await page.goto(`/p/${id}/${stage}`);
    await expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();
  }
  expect(complaints).toEqual([]);
});

test('works at 1024 pixels, and stages not built yet say what they will do', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 768 });
  await openDemo(page);
  const overflow = await page.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  );
  expect(overflow).toBe(0);
  const stages = page.getByRole('navigation', { name: 'Stages' });
  await expect(stages.getByRole('listitem')).toHaveCount(10);
  await expect(stages.getByRole('link')).toHaveCount(7);
  // One line each; what it will do is told to whoever points at it, and to readers of the screen.
  const parts = stages.getByTitle('Later: real parts, heat, cost');
  await expect(parts).toContainText('Later: real parts, heat, cost');
  expect((await parts.boundingBox())!.height).toBeLessThan(40);
  // Each pane scrolls for itself, the page never.
  for (const stage of ['Brief', 'Bench', 'Baffle', 'Network', 'Around', 'Log']) {
    await stages.getByRole('link', { name: new RegExp(`^${stage}`) }).click();
    await page.waitForURL(new RegExp(`${stage.toLowerCase()}$`));
    const isLonger = () =>
      page.evaluate(() => {
        const { scrollHeight, clientHeight } = document.documentElement;
        return scrollHeight > clientHeight;
      });
    expect(await isLonger()).toBe(false);
  }
});

test('the promises that fit are told uncut, broken ones first; the rest is behind one press', async ({
  page,
}) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await openDemo(page);
  const strip = page.getByRole('list', { name: 'Promises, one after the other' });
  await expect(strip.getByRole('listitem')).toHaveCount(7);
  await expect(strip.locator('[data-state="broken"]')).toHaveCount(7);
  const cut = await strip.evaluate((list) =>
    [...list.querySelectorAll('em, output, span')]
      .filter(({ scrollWidth, clientWidth }) => scrollWidth > clientWidth)
      .map(({ textContent }) => textContent),
  );
  expect(cut).toEqual([]);
  await page.getByRole('button', { name: '8 more, 3 wait' }).click();
  const others = page.getByRole('dialog', { name: '8 more, 3 wait' });
  await expect(others.getByRole('listitem')).toHaveCount(11);
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(others).toHaveCount(0);
});
