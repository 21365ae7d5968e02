/** From an empty project to a summed response, only with what the screens offer. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { createPredictor } from '@/core/prediction/predict';
import { readDesign } from '@/core/document/readDesign';
import { readTable } from '@/core/formats/readTable';
import { readProjectFile } from '@/core/formats/projectFile';
import { drawn, expectCurves, expectSaved, openDemo, part, stored, settled } from './desk';

const folder = 'demo/reading-room';

/** Takes something out and gives the text of the file. */
async function takeOut(page: Page, item: string): Promise<Buffer> {
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: item }).click(),
  ]);
  return readFileSync(await download.path());
}

const levelsOf = (file: Buffer) => readTable(new Uint8Array(file), 'taken.txt').samples;

/** Browser and test may differ in the last digits of a logarithm. */
function expectClose(got: Float64Array, wanted: Float64Array): void {
  expect(got).toHaveLength(wanted.length);
  const worst = got.reduce((max, value, i) => Math.max(max, Math.abs(value - wanted[i])), 0);
  expect(worst).toBeLessThan(1e-9);
}

test('import two tables, assign, change a coil: the sum is what the core computes', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.waitForURL(/brief$/);
  await page.getByRole('link', { name: /^Bench/ }).click();
  await page
    .getByLabel('Measurement files', { exact: true })
    .setInputFiles([`${folder}/woofer response.txt`, `${folder}/woofer impedance.txt`]);
  await expect(page.getByText('2 measurements read.')).toBeVisible();

  // The last file read is shown: what it was taken for and why, and the head of its table.
  await expect(page.getByText(/the header speaks of ohms/)).toBeVisible();
  await expect(page.getByRole('cell', { name: '10', exact: true })).toBeVisible();
  await page.getByRole('button', { name: /^woofer response/ }).click();
  await page.getByRole('button', { name: /Belongs to/ }).click();
  await page.getByRole('option', { name: 'a new driver' }).click();
  await page.getByRole('button', { name: /^woofer impedance/ }).click();
  await page.getByRole('button', { name: /Belongs to/ }).click();
  await page.getByRole('option', { name: 'Woofer' }).click();

  await page.getByRole('link', { name: /^Network/ }).click();
  await page.getByRole('button', { name: 'Give each driver its way' }).click();
  await expectCurves(page);
  await page.getByRole('button', { name: /Add a part before the driver, Woofer/ }).click();
  await page.getByRole('menuitem', { name: 'coil' }).first().click();
  await expect(part(page, 'L1')).toBeFocused();
  const before = await drawn(page, 'sum');
  const value = page.getByLabel(/^Value/);
  await value.fill('2,7 mH');
  await value.press('Enter');
  await expect(
    page.getByRole('button', { name: 'L1, coil in series, 2.7 mH, Woofer' }),
  ).toBeVisible();
  await expect.poll(() => drawn(page, 'sum')).not.toBe(before);
  await expectSaved(page);

  const id = /\/p\/([0-9a-f-]+)\//.exec(page.url())![1];
  const design = readDesign((await stored(page, id)).document, 'server');
  const data = new Map(
    design.measurements.map((m) => [
      m.id,
      readTable(new Uint8Array(readFileSync(`${folder}/${m.origin.fileName}`)), m.name).samples,
    ]),
  );
  const expected = createPredictor()(design, data);
  const taken = levelsOf(await takeOut(page, 'Summed response as a text table'));
  expectClose(taken.magnitude, expected.sum!.levelDb);
  const load = levelsOf(await takeOut(page, 'Impedance as a text table'));
  expectClose(load.magnitude, expected.impedance!.ohms);

  const picture = await settled(page, 'sum');
  await page.reload();
  await expectCurves(page);
  await expect.poll(() => drawn(page, 'sum')).toBe(picture);
});

test('export, delete, import: the same curves to the last digit', async ({ page }) => {
  const name = `To be moved ${Date.now()}`;
  const id = await openDemo(page);
  await page.getByLabel('Project name').fill(name);
  await page.getByLabel('Project name').press('Enter');
  await expectSaved(page);
  const sum = await takeOut(page, 'Summed response as a text table');
  const file = await takeOut(page, 'Whole project as one file');
  expect(readProjectFile(new Uint8Array(file), 'project.zip').design.name).toBe(name);

  await page.getByRole('link', { name: /all projects/ }).click();
  await page.getByRole('button', { name: `More for ${name}` }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByText(`“${name}” is deleted.`)).toBeVisible();
  await expect(page.getByRole('link', { name: new RegExp(name) })).toHaveCount(0);

  await page
    .getByLabel('Project file')
    .setInputFiles({ name: 'project.fair.zip', mimeType: 'application/zip', buffer: file });
  await page.waitForURL(/network$/);
  expect(page.url()).not.toContain(id);
  await expectCurves(page);
  expect((await takeOut(page, 'Summed response as a text table')).toString()).toBe(sum.toString());
});

test('bad files are refused with file and line, and nothing is lost', async ({ page }) => {
  await openDemo(page, 'bench');
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles([
    {
      name: 'letter.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from('Dear reader,\nthis is no table.\n'),
    },
    {
      name: '<img src=x onerror=alert(1)>.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from('20 80 1\n30 oops 1\n40 80 1\n'),
    },
    {
      name: 'good.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from('20 80 1\n30 81 1\n40 82 1\n'),
    },
  ]);
  await expect(
    page.getByText('letter.txt: There is no table of numbers in this file.'),
  ).toBeVisible();
  await expect(page.getByText(/^<img src=x onerror=alert\(1\)>\.txt:2: /)).toBeVisible();
  await expect(page.getByText('1 measurement read.')).toBeVisible();
  await expect(
    page.getByRole('list', { name: 'Measurements that were read' }).getByRole('listitem'),
    // Seven, and what was measured off the axis of three drivers.
  ).toHaveCount(10);
});

test('a kind that was guessed wrong is overruled', async ({ page }) => {
  await openDemo(page, 'bench');
  // A response around 40 dB without header looks like ohms.
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles({
    name: 'quiet.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('100 40.5 10\n200 41.2 8\n400 42 3\n'),
  });
  await expect(page.getByText(/as ohms would be/)).toBeVisible();
  await page.getByRole('button', { name: /Taken for/ }).click();
  await page.getByRole('option', { name: 'a response (dB)' }).click();
  await expect(page.getByRole('heading', { name: 'Level as measured' })).toBeVisible();
});

test('a hostile project file is refused on the list of projects', async ({ page }) => {
  await page.goto('/');
  await page.getByLabel('Project file').setInputFiles({
    name: 'no.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from('PK\u0003\u0004 nonsense'),
  });
  await expect(page.getByText(/no\.zip: The archive can’t be unpacked/)).toBeVisible();
});
