import { expect, test } from '@playwright/test';
import { drawn, expectSaved, openDemo, part } from './desk';

test('build, nudge, flip, bypass and undo by keyboard alone', async ({ page }) => {
  await openDemo(page);
  await part(page, 'C4').focus();
  const start = await drawn(page, 'sum');

  await page.keyboard.press('ArrowUp');
  await expect(
    page.getByRole('button', { name: /^C4, capacitor in series, 6.2 µF/ }),
  ).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(
    page.getByRole('button', { name: /^C4, capacitor in series, 5.6 µF/ }),
  ).toBeFocused();
  await expect.poll(() => drawn(page, 'sum')).toBe(start);

  // The key is held: the part is out; let go: it is back.
  await page.keyboard.down('b');
  await expect(page.getByText('bypassed')).toBeVisible();
  await expect.poll(() => drawn(page, 'sum')).not.toBe(start);
  await page.keyboard.up('b');
  await expect.poll(() => drawn(page, 'sum')).toBe(start);

  await page.keyboard.press('Shift+L');
  await expect(
    page.getByRole('button', { name: /^L5, coil in shunt, 0.47 mH, Tweeter/ }),
  ).toBeFocused();
  await page.keyboard.press('t');
  await expect(page.getByRole('button', { name: /^L5, coil in series/ })).toBeVisible();
  await page.keyboard.press('Alt+ArrowLeft');
  await page.keyboard.press('Delete');
  await expect(part(page, 'L5')).toHaveCount(0);
  await page.keyboard.press('p');
  await expect(page.getByRole('button', { name: /^Tweeter: Tweeter, reversed/ })).toBeVisible();

  for (let step = 0; step < 5; step++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Tweeter: Tweeter, in phase/ })).toBeVisible();
  await expect(part(page, 'L5')).toHaveCount(0);
  await expect.poll(() => drawn(page, 'sum')).toBe(start);
  await page.keyboard.press('Control+Shift+z');
  await expect(part(page, 'L5')).toHaveCount(1);
  await expectSaved(page);
});

test('values are typed as the trade writes them; wrong ones are explained and restored', async ({
  page,
}) => {
  await openDemo(page);
  await part(page, 'C1').click();
  const value = page.getByLabel(/^Value/);
  await value.fill('82u');
  await value.press('Enter');
  await expect(page.getByRole('button', { name: /^C1, capacitor in shunt, 82 µF/ })).toBeVisible();
  await value.fill('plenty');
  await value.press('Enter');
  await expect(
    page.getByRole('alert').filter({ hasText: 'Type a capacitance such as 33, 4u7' }),
  ).toBeVisible();
  await value.press('Escape');
  await expect(value).toHaveValue('82 µF');
  await value.fill('-3');
  await value.press('Enter');
  await expect(page.getByText(/^Between/)).toBeVisible();
  await value.press('Escape');
  await value.press('ArrowUp');
  await expect(value).toHaveValue('91 µF');
  await page.getByRole('button', { name: /Kind$/ }).click();
  await page.getByRole('option', { name: 'resistor' }).click();
  await expect(page.getByRole('button', { name: /^R4, resistor in shunt/ })).toBeVisible();
});

test('a value that is being typed is taken over by the way back, and by a new load', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole('link', { name: /^Brief/ }).click();
  await page.waitForURL(/brief$/);
  await page.getByRole('link', { name: /^Network/ }).click();
  await part(page, 'C1').click();
  await page.getByLabel(/^Value/).fill('82u');
  await page.goBack();
  await page.waitForURL(/brief$/);
  await page.getByRole('link', { name: /^Network/ }).click();
  await part(page, 'C1').click();
  await expect(page.getByRole('button', { name: /^C1, capacitor in shunt, 82 µF/ })).toBeVisible();
  await page.getByLabel(/^Value/).fill('75u');
  await page.reload();
  await expect(page.getByRole('button', { name: /^C1, capacitor in shunt, 75 µF/ })).toBeVisible();
});

test('a load that can’t be solved is explained, and undo brings the curves back', async ({
  page,
}) => {
  await openDemo(page);
  await page.getByLabel('Output resistance').fill('0');
  await page.getByLabel('Output resistance').press('Enter');
  await page.getByRole('button', { name: 'Add a part before L1, Woofer' }).click();
  await page.getByRole('menuitem', { name: 'coil' }).last().click();
  const loss = page.getByLabel('Resistance of its wire');
  await loss.fill('0');
  await loss.press('Enter');
  await expect(
    page.getByText(/L5, amplifier form a loop of ideal sources and coils/),
  ).toBeVisible();
  await expect(page.getByRole('button', { name: /^L5, / })).toHaveAccessibleName(/at fault/);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.locator('[data-curve="sum"]').first()).toBeAttached();
});

test('every action is found by name, and the keys are listed', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('Control+k');
  await page.getByLabel('Name of an action').fill('bench');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.waitForURL(/bench$/);
  await page.keyboard.press('?');
  const sheet = page.getByRole('dialog', { name: 'Keys' });
  await expect(sheet.getByText('Choose measurement files')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('5');
  await page.waitForURL(/network$/);
});

test('one cursor reads all charts, by keyboard as well', async ({ page }) => {
  await openDemo(page);
  const cursor = page.getByRole('slider', { name: /^On axis/ });
  await cursor.focus();
  await page.keyboard.press('ArrowRight');
  await expect(cursor).toHaveAttribute(
    'aria-valuetext',
    /^1.0\d* kHz: .*woofer \d+\.\d {2}midrange .*sum \d/,
  );
  await expect(page.getByRole('slider', { name: /^Impedance/ })).toHaveAttribute(
    'aria-valuetext',
    /\|Z\| \d/,
  );
  // IEC 60263: 25 dB as high as a decade is wide: 50 dB of height, three decades of width.
  const plot = page.locator('.recharts-cartesian-grid').first();
  const box = (await plot.boundingBox())!;
  expect(box.width / box.height).toBeCloseTo(1.5, 1);
});

test('list: copy, delete and take the deletion back', async ({ page }) => {
  const name = `Twice ${Date.now()}`;
  await openDemo(page);
  await page.getByLabel('Project name').fill(name);
  await page.getByLabel('Project name').press('Enter');
  await expectSaved(page);
  await page.goto('/');
  await page.getByRole('button', { name: `More for ${name}`, exact: true }).click();
  await page.getByRole('menuitem', { name: 'Make a copy' }).click();
  await expect(page.getByRole('link', { name: `${name} (copy)` })).toBeVisible();
  await page.getByRole('button', { name: `More for ${name} (copy)` }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByRole('link', { name: `${name} (copy)` })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo the deletion' }).click();
  await expect(page.getByRole('link', { name: `${name} (copy)` })).toBeVisible();
});
