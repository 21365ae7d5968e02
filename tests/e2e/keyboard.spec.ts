/** From nothing to a two-way by keyboard alone: no pointer is used anywhere in this file. */
import { expect, test, type Page } from '@playwright/test';
import { drawn, expectCurves, expectSaved } from './desk';

const folder = 'demo/reading-room';

/** Presses Tab until the focus is on what is wanted. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  await expect(page.locator('[inert]')).toHaveCount(0);
  for (let i = 0; i < 80; i++) {
    await page.keyboard.press('Tab');
    const label = await page.evaluate(() => {
      const element = document.activeElement;
      // The whole page, whose text has every name.
      if (element === document.body) return '';
      const labelled =
        element
          ?.getAttribute('aria-labelledby')
          ?.split(' ')
          .map((id) => document.getElementById(id)?.textContent ?? '') ?? [];
      return [element?.getAttribute('aria-label') ?? '', ...labelled, element?.textContent ?? '']
        .join(' ')
        .trim();
    });
    if (name.test(label)) return;
  }
  throw new Error(`Tab never came to ${String(name)}`);
}

/** Opens a list that has the focus and chooses an entry by its first letters. */
async function choose(page: Page, text: string): Promise<void> {
  await page.keyboard.press('Enter');
  const option = page.getByRole('option', { name: text, exact: true });
  await expect(option).toBeVisible();
  for (let i = 0; i < 12; i++) {
    if (
      await option.evaluate(
        (element) => element === document.activeElement || element.hasAttribute('data-focused'),
      )
    )
      break;
    await page.keyboard.press('ArrowDown');
  }
  await page.keyboard.press('Enter');
}

test('a two-way from measurements to voiced curves', async ({ page }) => {
  // Asked for ahead: a key is quicker than the browser is told to hand its chooser over.
  const chosen = page.waitForEvent('filechooser');
  await page.goto('/');
  await tabTo(page, /New project/);
  await page.keyboard.press('Enter');
  await page.waitForURL(/brief$/);
  await expect(page.getByRole('heading', { name: 'The brief' })).toBeVisible();
  await page.keyboard.press('2');
  await page.waitForURL(/bench$/);
  await expect(page.getByRole('heading', { name: 'Drivers' })).toBeVisible();
  await page.keyboard.press('f');
  await (
    await chosen
  ).setFiles(
    [
      'midrange response.csv',
      'midrange impedance.txt',
      'tweeter response.txt',
      'tweeter impedance.txt',
    ].map((name) => `${folder}/${name}`),
  );
  // Whose they are is proposed; here the drivers are made by hand.
  await expect(page.getByRole('heading', { name: '4 measurements were read' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take over', exact: true })).toBeFocused();
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByText('4 measurements read.')).toBeVisible();

  await page.keyboard.press('d');
  await page.keyboard.press('d');
  await expect(page.getByRole('region', { name: 'Driver 2' })).toBeVisible();
  await page.locator('body').press('Tab');
  for (const [driver, name] of [
    ['Driver 1', 'midrange'],
    ['Driver 2', 'tweeter'],
  ]) {
    const card = page.getByRole('region', { name: driver });
    await card.getByRole('button', { name: /Response/ }).focus();
    await choose(page, `${name} response`);
    await card.getByRole('button', { name: /Impedance/ }).focus();
    await choose(page, `${name} impedance`);
  }
  await expectSaved(page);

  await page.keyboard.press('Escape');
  await page.keyboard.press('5');
  await page.waitForURL(/network$/);
  await tabTo(page, /Give each driver its way/);
  await page.keyboard.press('Enter');
  await expectCurves(page);
  await expect(page.getByRole('button', { name: /^Driver 1: Driver 1, in phase/ })).toBeFocused();
  await page.getByRole('button', { name: /^Driver 2: Driver 2, in phase/ }).focus();

  // Second-order slopes on both rails.
  await page.keyboard.press('c');
  await expect(
    page.getByRole('button', { name: /^C1, capacitor in series, 10 µF, Driver 2/ }),
  ).toBeFocused();
  await page.keyboard.press('Shift+L');
  await expect(page.getByRole('button', { name: /^L1, coil in shunt/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await page.keyboard.type('0,33');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^L1, coil in shunt, 0.33 mH/ })).toBeVisible();
  const before = await drawn(page, 'sum');
  await page.getByRole('button', { name: /^C1, / }).focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(
    page.getByRole('button', { name: /^C1, capacitor in series, 3.9 µF/ }),
  ).toBeFocused();
  await page.keyboard.press('p');
  await expect.poll(() => drawn(page, 'sum')).not.toBe(before);
  await expectSaved(page);
});
