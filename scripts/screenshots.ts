/**
 * npm run screenshots: makes docs/screenshots from the demo in a running application (npm start), one picture of each
 * main view.
 */
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';

const address = process.env.FAIR_URL ?? 'http://127.0.0.1:8417';
const folder = join(import.meta.dirname, '../docs/screenshots');

async function openDemo(page: Page): Promise<void> {
  await page.goto(address);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.locator('[data-curve="sum"]').first().waitFor();
}

const shoot = async (page: Page, name: string) => {
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(folder, `${name}.png`) });
};

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
try {
  const page = await browser.newPage({
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
  });
  await openDemo(page);
  await page.getByRole('button', { name: /^C2, / }).focus();
  await shoot(page, 'network');
  await page.getByRole('link', { name: /^Bench/ }).click();
  await page.getByRole('heading', { name: 'Level as measured' }).waitFor();
  await shoot(page, 'bench');
  await page.goto(address);
  await shoot(page, 'projects');

  const evening = await browser.newPage({
    viewport: { width: 1280, height: 800 },
    colorScheme: 'dark',
  });
  await openDemo(evening);
  const chart = evening.getByRole('slider', { name: /^On axis/ });
  await chart.focus();
  await chart.press('End');
  for (let i = 0; i < 8; i++) await chart.press('Shift+ArrowLeft');
  await shoot(evening, 'evening');
} finally {
  await browser.close();
}
