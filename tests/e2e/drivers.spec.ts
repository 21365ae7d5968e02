/**
 * Drivers beyond one project: the library, their files, the printed sheet; measuring with a sound
 * device; lessons.
 */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { expectSaved, openDemo, stored } from './desk';
import { fakeSoundDevice } from './soundDevice';

const tab = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`${label}$`) }).click();
  await page.getByRole('option', { name: option }).click();
}

async function emptyBench(page: Page): Promise<string> {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.waitForURL(/\/p\/[0-9a-f-]+\//);
  await page.getByRole('link', { name: /^Bench/ }).click();
  await expect(page.getByRole('heading', { name: 'Drivers', exact: true })).toBeVisible();
  return /\/p\/([0-9a-f-]+)\//.exec(page.url())![1];
}

test('a driver goes through the library and a file into other projects', async ({ page }) => {
  await openDemo(page, 'bench');
  const name = `Shelf midrange ${Date.now() % 100_000}`;
  await tab(page, 'Library');
  await choose(page, 'driver for the library', 'Midrange');
  await page.getByRole('button', { name: 'Put it there' }).click();
  await expect(page.getByText('Midrange is in the library.')).toBeVisible();
  const field = page.getByRole('textbox', { name: 'Name of Midrange in the library' }).last();
  await field.fill(name);
  await field.press('Enter');
  const entry = page.getByRole('region', { name: `${name} in the library` });
  await expect(entry.getByRole('row')).toHaveCount(2);
  await choose(page, 'place in the library', `a sample of ${name}`);
  await page.getByRole('button', { name: 'Put it there' }).click();
  await expect(entry.getByRole('row')).toHaveCount(3);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: `Save ${name} as a file` }).click(),
  ]);
  const buffer = readFileSync(await download.path());
  expect(download.suggestedFilename()).toMatch(/\.driver\.zip$/);
  await page.getByRole('button', { name: `Take ${name} out of the library` }).click();
  await expect(entry).toBeHidden();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(entry).toBeVisible();
  await page.getByRole('button', { name: `Take ${name} out of the library` }).click();
  await expect(entry).toBeHidden();

  const id = await emptyBench(page);
  await tab(page, 'Library');
  const file = page.getByLabel('Driver file', { exact: true });
  await file.setInputFiles({
    name: 'broken.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from('PK'),
  });
  await expect(page.getByText(/broken\.zip: The archive can’t be unpacked/)).toBeVisible();
  await file.setInputFiles({ name: 'd.driver.zip', mimeType: 'application/zip', buffer });
  await expect(entry.getByRole('row')).toHaveCount(3);
  await page.getByRole('button', { name: `Add Midrange of ${name} to this project` }).click();
  await expect(
    page.getByText('Midrange is in this project now, with 54 measurements.'),
  ).toBeVisible();
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: { drivers: { name: string; responseId: string }[]; measurements: { id: string }[] };
  };
  expect(document.drivers).toHaveLength(1);
  expect(document.measurements.map((m) => m.id)).toContain(document.drivers[0].responseId);
  // One step, so one undo takes it away.
  await page.keyboard.press('Control+z');
  await expect(page.getByText('No driver yet.', { exact: false })).toBeVisible();
});

test('a driver’s sheet prints on one page, alone', async ({ page }) => {
  await openDemo(page, 'bench');
  await tab(page, 'Driver sheet');
  await expect(page.getByRole('heading', { name: 'Impedance' })).toBeVisible();
  const figures = page.getByRole('table', { name: 'Figures of the driver' });
  // Qms 4.2 and Qes 0.39 or so of the demo's woofer give Qts 0.36.
  await expect(figures.getByRole('row', { name: /^Qts/ })).toContainText('0.36');
  await expect(page.getByRole('region', { name: 'Where it comes from' })).toContainText(
    'woofer response.txt',
  );
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('heading', { name: 'Drivers', exact: true })).toBeHidden();
  await expect(figures).toBeVisible();
  const pdf = await page.pdf({ format: 'A4' });
  expect(pdf.toString('latin1').match(/\/Type\s*\/Page\b/g)).toHaveLength(1);
});

test('a microphone measures quietly first, against the loop-back', async ({ page }) => {
  test.slow();
  await fakeSoundDevice(page);
  const id = await emptyBench(page);
  await tab(page, 'Measure');
  await choose(page, 'Measure with', 'a microphone on this machine');
  await expect(
    page.getByText('Sweeps can damage ears and tweeters.', { exact: false }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Open the sound device' }).click();
  const level = page.getByRole('textbox', { name: 'level of the sweep' });
  await expect(level).toHaveValue('−50 dB');
  const play = page.getByRole('button', { name: 'Play the sweep' });
  await expect(play).toBeDisabled();
  const check = async () => {
    await page.getByRole('button', { name: 'Check the level' }).click();
    await expect(page.getByRole('progressbar')).toBeVisible();
    await expect(page.getByRole('progressbar')).toBeHidden({ timeout: 15_000 });
  };
  // Too loud before it was checked: not taken.
  await level.fill('-20');
  await level.press('Enter');
  await expect(level).toHaveAttribute('aria-invalid', 'true');
  await level.press('Escape');
  await check();
  await expect(page.getByText(/Microphone: peak −5\d dB.*raise the level/)).toBeVisible();
  await level.fill('-40');
  await level.press('Enter');
  await check();
  await level.fill('-30');
  await level.press('Enter');
  await expect(page.getByText('The level has changed since the check')).toBeVisible();
  await check();
  await expect(page.getByText(/Microphone: peak −3\d dB.*a good level/)).toBeVisible();
  await page.getByText('The second channel records the output directly').click();
  const seconds = page.getByRole('textbox', { name: 'length of the sweep' });
  await seconds.fill('1');
  await seconds.press('Enter');
  await play.click();
  await expect(page.getByText('1 measurement read.')).toBeVisible({ timeout: 20_000 });
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: { measurements: { id: string; microphone: { commonTiming: boolean } }[] };
  };
  const [measurement] = document.measurements;
  expect(measurement.microphone.commonTiming).toBe(true);
  const numbers = (await (
    await page.request.get(`/api/measurements/${measurement.id}`)
  ).json()) as { frequencyHz: number[]; magnitude: number[]; phaseDeg: number[] };
  const at = numbers.frequencyHz.findIndex((hz) => hz >= 300);
  // Half the amplitude, and 3 ms behind the loop-back.
  expect(Math.abs(numbers.magnitude[at] + 6.02)).toBeLessThan(0.3);
  const turns = numbers.phaseDeg[at] / 360 + 0.003 * numbers.frequencyHz[at];
  expect(Math.abs(turns - Math.round(turns))).toBeLessThan(0.06);
});

test('a microphone that goes away is told, and one that is not wanted any more is let go of', async ({
  page,
}) => {
  await fakeSoundDevice(page);
  await emptyBench(page);
  await tab(page, 'Measure');
  await choose(page, 'Measure with', 'a microphone on this machine');
  const open = page.getByRole('button', { name: 'Open the sound device' });
  await open.click();
  await page.getByRole('button', { name: 'Check the level' }).click();
  await expect(page.getByRole('progressbar')).toBeVisible();
  await page.evaluate('unplugSound()');
  await expect(page.getByText(/The sound input went away while it recorded/)).toBeVisible();
  await expect(page.getByRole('progressbar')).toBeHidden();
  await expect.poll(() => page.evaluate('isSoundOpen()')).toBe(false);
  // Plugged in again, it begins quietly and with a check.
  await open.click();
  await expect(page.getByText(/^Begin with a check/)).toBeVisible();
  await expect(page.getByText(/The sound input went away/)).toHaveCount(0);
  expect(await page.evaluate('isSoundOpen()')).toBe(true);
  await tab(page, 'Measurement');
  await expect.poll(() => page.evaluate('isSoundOpen()')).toBe(false);

  // The browser may ask for long; the answer comes when nobody waits for it any more.
  await page.evaluate(() => {
    const ask = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
    navigator.mediaDevices.getUserMedia = () =>
      new Promise((resolve) => {
        Object.assign(window, { allowSound: () => resolve(ask()) });
      });
  });
  await tab(page, 'Measure');
  await choose(page, 'Measure with', 'a microphone on this machine');
  await open.click();
  await expect(page.getByText(/^Opening it: if the browser asks/)).toBeVisible();
  await tab(page, 'Measurement');
  await page.evaluate('allowSound()');
  await expect.poll(() => page.evaluate('isSoundOpen()')).toBe(false);
});

test('without a microphone, or without leave to use it, it says so', async ({ page }) => {
  await page.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () =>
      Promise.reject(new DOMException('no', 'NotAllowedError'));
  });
  await emptyBench(page);
  await tab(page, 'Measure');
  await choose(page, 'Measure with', 'a microphone on this machine');
  await page.getByRole('button', { name: 'Open the sound device' }).click();
  await expect(page.getByText('was not allowed to use the microphone')).toBeVisible();
});

test('a lesson follows what is done', async ({ page }) => {
  await emptyBench(page);
  await tab(page, 'Measure');
  await page.getByRole('button', { name: 'From a sweep to a driver' }).click();
  const lesson = page.getByRole('region', { name: 'Lesson' });
  await expect(lesson).toContainText('1 of 5');
  await page.getByRole('button', { name: 'Play the sweep' }).click();
  await expect(lesson).toContainText('2 of 5', { timeout: 20_000 });
  await page.getByRole('button', { name: 'Measure the impedance' }).click();
  await expect(lesson).toContainText('3 of 5', { timeout: 20_000 });
  await lesson.getByRole('button', { name: 'Show where' }).click();
  await expect(page.getByRole('tab', { name: 'Measurement', exact: true })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await lesson.getByRole('button', { name: 'Leave the lesson' }).click();
  await expect(lesson).toBeHidden();
});
