/**
 * The Bench: from nothing through the practice rig to conditioned drivers; folders, faults, sound.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { expectSaved, openDemo, stored } from './desk';

async function emptyBench(page: Page): Promise<string> {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.waitForURL(/\/p\/[0-9a-f-]+\//);
  await page.getByRole('link', { name: /^Bench/ }).click();
  await expect(page.getByRole('heading', { name: 'Drivers' })).toBeVisible();
  return /\/p\/([0-9a-f-]+)\//.exec(page.url())![1];
}

const tab = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();
const listed = (page: Page, name: RegExp) =>
  page.getByRole('list', { name: 'Measurements that were read' }).getByRole('button', { name });

async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`${label}$`) }).click();
  await page.getByRole('option', { name: option }).click();
}

async function measure(page: Page, button: string): Promise<void> {
  await page.getByRole('button', { name: button }).click();
  await expect(page.getByRole('progressbar')).toBeVisible();
  await expect(page.getByRole('progressbar')).toBeHidden({ timeout: 20_000 });
}

test('from an empty project through the rig to three conditioned drivers with their depth', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const id = await emptyBench(page);
  await tab(page, 'Measure');
  for (const driver of ['woofer', 'midrange', 'tweeter']) {
    await choose(page, 'driver in the rig', `the demo’s ${driver}`);
    await measure(page, 'Play the sweep');
    await measure(page, 'Measure the impedance');
  }
  await choose(page, 'driver in the rig', 'the demo’s midrange');
  await choose(page, 'driver beside it', 'the demo’s tweeter');
  await measure(page, 'Play the sweep');

  for (const driver of ['woofer', 'midrange', 'tweeter']) {
    await listed(page, new RegExp(`^practice ${driver} hor`)).click();
    await choose(page, 'Belongs to', 'a new driver');
    await listed(page, new RegExp(`^practice ${driver} impedance`)).click();
    await choose(page, 'Belongs to', `Practice ${driver}`);
  }
  // The floor is found, and what is offered against it is taken and given to all.
  await listed(page, /^practice tweeter hor/).click();
  const findings = page.getByRole('region', { name: 'Findings' });
  await expect(findings).toContainText(/A reflection arrives 4\.\d+ ms after the direct sound/);
  await findings.getByRole('button', { name: 'Add this step: Gate' }).click();
  await expect(findings).not.toContainText('A reflection');
  await page.getByRole('button', { name: 'Copy the steps to …' }).click();
  await page.getByRole('menuitem', { name: 'All other responses' }).click();
  await expect(page.locator('[data-mark="under the gate"]').first()).toBeAttached();
  await expect(page.locator('[data-curve="conditioned"]')).toBeAttached();

  await tab(page, 'Depth');
  await page.getByRole('button', { name: 'Find the offset' }).click();
  await expect(page.getByText(/mm ± [\d.]+/)).toBeVisible({ timeout: 30_000 });
  const answer = await page.getByText(/mm ± [\d.]+/).textContent();
  const [, offset, error] = /([\d.]+) mm ± ([\d.]+)/.exec(answer!)!.map(Number);
  // The demo's hidden paths differ by 17.8 mm.
  expect(Math.abs(offset - 17.8)).toBeLessThan(2.5 * error);
  await expect(page.getByText('this path is in the data already')).toBeVisible();
  await page.getByRole('button', { name: /^Take it over/ }).click();
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: {
      drivers: { name: string; position: { zMm: number } }[];
      measurements: { recipe: { kind: string }[] }[];
    };
  };
  expect(document.drivers.map(({ name }) => name)).toEqual([
    'Practice woofer',
    'Practice midrange',
    'Practice tweeter',
  ]);
  expect(document.drivers[2].position.zMm).toBeGreaterThan(10);
  expect(
    document.measurements.filter(({ recipe }) => recipe.some(({ kind }) => kind === 'gate')),
  ).toHaveLength(4);

  // What was conditioned is what the network plays.
  await page.getByRole('link', { name: /^Network/ }).click();
  await page.getByRole('button', { name: /Give each driver its way/ }).click();
  await expect(page.locator('[data-curve="sum"]').first()).toBeAttached();
});

test('decay, harmonics and impulse of a recording are on the screen; steps can be switched off', async ({
  page,
}) => {
  await emptyBench(page);
  await tab(page, 'Measure');
  await measure(page, 'Play the sweep');
  await tab(page, 'Measurement');
  await choose(page, 'Show', 'decay');
  await expect.poll(() => page.locator('[data-ridge]').count()).toBeGreaterThan(8);
  await choose(page, 'Show', 'harmonics');
  for (const curve of ['fundamental', 'h2', 'h3', 'h4', 'h5', 'floor'])
    await expect(page.locator(`[data-curve="${curve}"]`)).toBeAttached();
  await choose(page, 'Show', 'group delay');
  await expect(page.locator('[data-curve="excess"]')).toBeAttached();
  await choose(page, 'Show', 'impulse and step');
  await expect(page.getByRole('figure', { name: /Impulse and step/ })).toBeVisible();
  await choose(page, 'Show', 'level');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name: 'Interpolation' }).click();
  await expect(page.locator('[data-mark="an artefact of the room"]')).toBeAttached();
  await page.getByRole('checkbox', { name: 'Interpolation in use' }).focus();
  await page.keyboard.press('Space');
  await expect(page.locator('[data-mark="an artefact of the room"]')).toBeHidden();
});

test('two samples are compared, and their mean is kept', async ({ page }) => {
  await emptyBench(page);
  await tab(page, 'Measure');
  await measure(page, 'Measure the impedance');
  await measure(page, 'Measure the impedance');
  await tab(page, 'Samples');
  await choose(page, 'Compare', 'impedances');
  const boxes = page.getByRole('list', { name: 'Measurements to compare' }).getByRole('checkbox');
  await expect(boxes).toHaveCount(2);
  for (const box of await boxes.all()) {
    await box.focus();
    await page.keyboard.press('Space');
  }
  await page.getByRole('button', { name: 'Compare them' }).click();
  await expect(page.getByText(/A pair: they differ by at most 0\.0\d dB/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep the mean as a measurement' }).click();
  await expect(listed(page, /^mean of practice woofer impedance/)).toBeVisible();
});

test('an interpolated stretch stays marked where the response is used', async ({ page }) => {
  await openDemo(page, 'bench');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('menuitem', { name: 'Interpolation' }).click();
  const reason = page.getByRole('textbox', { name: 'reason of the interpolation' });
  await reason.fill('a lamp sang');
  await reason.press('Enter');
  await page.getByRole('link', { name: /^Network/ }).click();
  await expect(page.locator('[data-mark="Woofer: a lamp sang"]')).toBeAttached();
  await page.getByRole('button', { name: 'where these come from' }).click();
  await expect(page.getByRole('dialog', { name: 'Where the curves come from' })).toContainText(
    /Response: woofer response, from woofer response\.txt .* after bridge\./,
  );
});

test('parameters are fitted and put in the place of the data sheet’s', async ({ page }) => {
  await emptyBench(page);
  await tab(page, 'Measure');
  await choose(page, 'driver in the rig', 'the demo’s midrange');
  await measure(page, 'Measure the impedance');
  await measure(page, '… with a mass');
  await listed(page, /^practice midrange impedance, |^practice midrange impedance(?! with)/)
    .first()
    .click();
  await choose(page, 'Belongs to', 'a new driver');
  await tab(page, 'Parameters');
  await page.getByRole('button', { name: 'Fit the parameters' }).click();
  await expect(page.getByText(/effective area of the cone is not known/)).toBeVisible();
  await page.getByRole('textbox', { name: 'effective area' }).fill('76');
  await page.keyboard.press('Enter');
  await choose(page, 'second run', 'with a mass on the cone');
  await page.getByRole('textbox', { name: 'added mass' }).fill('10');
  await page.keyboard.press('Enter');
  await choose(page, 'second impedance', /with 10 g/);
  await page.getByRole('button', { name: 'Fit the parameters' }).click();
  const table = page.getByRole('table', { name: 'Driver parameters' });
  const figure = async (name: string) =>
    parseFloat(
      (await table.getByRole('row', { name: new RegExp(`^${name} `) }).textContent())!.slice(
        name.length,
      ),
    );
  await expect(table).toBeVisible({ timeout: 20_000 });
  // The hidden driver: 118 Hz, 6.6 g, Qes 0.62.
  expect(await figure('fs')).toBeCloseTo(118, 0);
  expect(await figure('Mms')).toBeCloseTo(6.6, 1);
  expect(await figure('Qes')).toBeCloseTo(0.62, 2);
  await page.getByRole('button', { name: /in the place of the data sheet/ }).click();
  await expect(table.getByRole('row', { name: /^fs/ })).toContainText(/[^.\d]0\.0 %/);
});

test('a folder of 37 angles is taken at once, and its angles can be corrected', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'angles-'));
  try {
    for (let i = 0; i < 37; i++) {
      const degrees = -90 + 5 * i;
      const rows = Array.from({ length: 60 }, (_, k) => {
        const hz = 100 * 2 ** (k / 8);
        return `${hz.toFixed(2)} ${(85 - ((degrees + 3) / 30) ** 2 * Math.log10(hz / 50)).toFixed(3)} ${(-k).toFixed(1)}`;
      });
      writeFileSync(join(folder, `dome H_${degrees}.txt`), `Hz dB deg\n${rows.join('\n')}\n`);
    }
    writeFileSync(join(folder, 'notes.txt'), 'measured in the hall, window open\n');
    const id = await emptyBench(page);
    await page.getByRole('button', { name: 'Add a driver' }).click();
    await page.getByLabel('Folder of measurement files').setInputFiles(folder);
    const proposed = page.getByRole('heading', { name: '37 measurements were read' });
    await expect(proposed).toBeVisible({ timeout: 30_000 });
    await page.getByRole('button', { name: 'Only the measurements' }).click();
    await expect(page.getByText('37 measurements read.')).toBeVisible();
    await expect(page.getByText(/notes\.txt/)).toBeVisible();
    await tab(page, 'Angles');
    await expect(page.getByRole('heading', { name: '37 responses with an angle' })).toBeVisible();
    await page.getByRole('button', { name: 'Driver 1', exact: true }).click();
    const angle = page.getByRole('textbox', { name: 'Angle of dome H_-45', exact: true });
    await expect(angle).toHaveValue('−45°');
    await angle.fill('-44');
    await angle.press('Enter');
    await expectSaved(page);
    const { document } = (await stored(page, id)) as unknown as {
      document: {
        drivers: { offAxisIds: string[] }[];
        measurements: { name: string; angle: { plane: string; degrees: number } }[];
      };
    };
    expect(document.drivers[0].offAxisIds).toHaveLength(37);
    expect(document.measurements.find(({ name }) => name === 'dome H_-45')!.angle).toEqual({
      plane: 'horizontal',
      degrees: -44,
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
});

test('a file in the wrong unit, and one that is no sound, are caught', async ({ page }) => {
  await emptyBench(page);
  const rows = Array.from(
    { length: 80 },
    (_, k) => `${20 * 2 ** (k / 8)} ${1 + 0.2 * Math.sin(k / 9)} 0`,
  );
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles([
    {
      name: 'pascals.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from(`Hz dB deg\n${rows.join('\n')}\n`),
    },
    { name: 'broken.wav', mimeType: 'audio/wav', buffer: Buffer.from('RIFF....WAVE') },
  ]);
  await expect(page.getByText(/broken\.wav: There is no sound/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Findings' })).toContainText(
    'These levels look like a linear magnitude, not decibels.',
  );
});
