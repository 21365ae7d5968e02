/** The baffle: moving drivers over it, what is found, the search, tracing, and what is exported. */
import { readFileSync } from 'node:fs';
import DxfParser from 'dxf-parser';
import { PDFDocument } from 'pdf-lib';
import { expect, test, type Page } from '@playwright/test';
import { drawn, expectSaved, openDemo, pressAtOnce, settled } from './desk';
import { expectAccessible } from './accessible';
import { chartPicture } from './chartPicture';

async function openBaffle(page: Page): Promise<string> {
  const id = await openDemo(page);
  await page.getByRole('link', { name: /^Baffle/ }).click();
  await expect(page.getByRole('figure', { name: /on this front, on the axis/ })).toBeVisible();
  return id;
}

const front = (page: Page) => page.getByRole('group', { name: 'Front of the baffle, to scale' });
const driver = (page: Page, name: string) =>
  front(page).getByRole('button', { name: new RegExp(`^${name},`) });
const findings = (page: Page) => page.getByRole('status', { name: 'Findings about the baffle' });

async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`${label}$`) }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

test('a driver dragged over the front has another bump and other findings; all of it is undone at once', async ({
  page,
}) => {
  await openBaffle(page);
  await expect(findings(page)).toContainText('Midrange: two edges at 150 mm');
  await driver(page, 'Midrange').focus();
  await expect(page.getByRole('figure', { name: /^Midrange on this front/ })).toBeVisible();
  const before = await settled(page, 'now');
  const box = (await driver(page, 'Midrange').boundingBox())!;
  // Its name is left of the front: the frame is at the right end.
  const [x, y] = [box.x + box.width - 20, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let step = 1; step <= 8; step++) await page.mouse.move(x - 3 * step, y);
  await page.mouse.up();
  await expect.poll(() => drawn(page, 'now')).not.toBe(before);
  await expect(driver(page, 'Midrange')).toHaveAttribute('aria-label', /^Midrange, −\d\d mm right/);
  await expect(findings(page)).not.toContainText('two edges at 150 mm');
  await expect(page.getByRole('status', { name: 'What is measured of Midrange' })).toContainText(
    'divided out',
  );
  await page.getByRole('button', { name: 'Undo: move Midrange' }).click();
  await expect(driver(page, 'Midrange')).toHaveAttribute('aria-label', /^Midrange, 0 mm right/);
  await expect.poll(() => drawn(page, 'now')).toBe(before);
});

test('by keyboard: choose, move, mount proud, see what it costs, mend it', async ({ page }) => {
  await openBaffle(page);
  await page.keyboard.press('n');
  await driver(page, 'Tweeter').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowUp');
  await expect(driver(page, 'Tweeter')).toHaveAttribute(
    'aria-label',
    /^Tweeter, 10 mm right, 67 mm up/,
  );
  await choose(page, 'Mounting of Tweeter', 'proud');
  const height = page.getByRole('textbox', {
    name: 'height of the frame over the front of Tweeter',
  });
  await height.fill('4');
  await height.press('Enter');
  await expect(findings(page)).toContainText('Tweeter stands 4 mm proud: its own frame is an edge');
  await choose(page, 'Mounting of Tweeter', 'flush');
  await expect(findings(page)).not.toContainText('proud');
  // A frame beyond the edge is said at once, and mended with the next key.
  await driver(page, 'Woofer').focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight');
  await expect(findings(page)).toContainText('Woofer stands 13 mm over the right edge');
  await expectSaved(page);
});

test('keys that come faster than the drawing all count, on an edge, in a field and on a port', async ({
  page,
}) => {
  await openBaffle(page);
  const width = page.getByRole('textbox', { name: 'Width of the front' });
  await front(page)
    .getByRole('button', { name: /^right edge/ })
    .focus();
  const before = parseFloat(await width.inputValue());
  await pressAtOnce(page, Array(12).fill('ArrowRight'));
  await expect.poll(async () => parseFloat(await width.inputValue())).toBe(before + 12);
  await width.focus();
  await pressAtOnce(page, Array(5).fill('ArrowUp'));
  await expect.poll(async () => parseFloat(await width.inputValue())).toBe(before + 17);
  await page.getByText(/^Ports \(/).click();
  await page.getByRole('button', { name: 'Add a port' }).click();
  const port = front(page)
    .getByRole('button', { name: /^Port \d/ })
    .last();
  await port.focus();
  const [, up] = /, (\S+) mm up/.exec((await port.getAttribute('aria-label'))!)!;
  await pressAtOnce(page, Array(7).fill('ArrowUp'));
  const there = parseFloat(up.replace('−', '-')) + 7;
  await expect(port).toHaveAttribute(
    'aria-label',
    new RegExp(`, ${String(there).replace('-', '−')} mm up`),
  );
});

test('a search finds places, tells what centring costs, and is stopped or taken over', async ({
  page,
}) => {
  await openBaffle(page);
  await page.keyboard.press('Alt+2');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await page.getByRole('button', { name: 'Stop' }).click();
  await page.getByText('Woofer may move').click();
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  const take = page.getByRole('button', { name: 'Take these places' });
  await take.waitFor({ timeout: 30_000 });
  await expect(page.getByText(/Centred drivers cost/)).toBeVisible();
  await page.getByRole('button', { name: 'Map of Tweeter' }).click();
  await take.click();
  await expect(driver(page, 'Tweeter')).not.toHaveAttribute('aria-label', /^Tweeter, 0 mm right/);
  await expect(driver(page, 'Woofer')).toHaveAttribute('aria-label', /^Woofer, 0 mm right/);
  await expectSaved(page);
  await page.reload();
  await expect(driver(page, 'Tweeter')).not.toHaveAttribute('aria-label', /^Tweeter, 0 mm right/);
});

test('two layouts are compared and exchanged', async ({ page }) => {
  await openBaffle(page);
  await page.keyboard.press('b');
  await driver(page, 'Tweeter').focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(page.locator('[data-curve="other"]')).toHaveText(/ at 1k/);
  await expect
    .poll(async () => (await drawn(page, 'other')) === (await drawn(page, 'now')))
    .toBe(false);
  await page.keyboard.press('x');
  await expect(driver(page, 'Tweeter')).toHaveAttribute('aria-label', /^Tweeter, 0 mm right/);
});

test('the drawing is exported to scale and read back by other packages', async ({ page }) => {
  await openBaffle(page);
  const save = async (item: string) => {
    await page.getByRole('main').getByRole('button', { name: 'Export', exact: true }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    return readFileSync(await download.path());
  };
  const dxf = new DxfParser().parseSync((await save('Drilling drawing, DXF')).toString('utf8'))!;
  const circles = dxf.entities.filter(({ type }) => type === 'CIRCLE') as unknown as {
    layer: string;
    radius: number;
    center: { x: number; y: number };
  }[];
  // The tweeter: 150 mm from the left, 710 − 124 mm above the bottom; its hole is 76 mm.
  expect(circles).toContainEqual(
    expect.objectContaining({
      layer: 'cut',
      radius: 38,
      center: expect.objectContaining({ x: 150, y: 586 }),
    }),
  );
  const pdf = await PDFDocument.load(await save('Drilling drawing, PDF at full size'));
  const [sheet, first] = pdf.getPages();
  expect(sheet.getWidth()).toBeCloseTo((320 / 25.4) * 72, 3);
  expect(first.getHeight()).toBeCloseTo((297 / 25.4) * 72, 3);
  expect((await save('Drilling drawing, SVG')).toString('utf8')).toContain('width="320mm"');
  const rows = (await save('Diffraction of all drivers, CSV')).toString('utf8').split('\n');
  expect(rows[0]).toBe('driver,freq_hz,plane,angle_deg,mag_db');
  expect(rows.length).toBe(1 + 3 * 48 * 240 + 1);
});

test('a curve is traced from a picture, put on a driver, and sounds on a front', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.waitForURL(/\/p\/[0-9a-f-]+\//);
  await page.getByRole('link', { name: /^Bench/ }).click();
  await page
    .getByRole('button', { name: /^Add a driver/ })
    .first()
    .click();
  const table = Array.from({ length: 200 }, (_, k) => {
    const hz = 150 * (18_000 / 150) ** (k / 199);
    const x = hz / 900;
    const hill = 3 * Math.exp(-((Math.log2(hz / 6000) / 0.25) ** 2));
    return [hz, 91 + 20 * Math.log10((x * x) / Math.hypot(1 - x * x, x / 0.8)) + hill] as const;
  });
  const picture = await chartPicture(page, table);
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles({
    name: 'dome sheet.png',
    mimeType: 'image/png',
    buffer: picture.buffer,
  });
  const dialog = page.getByRole('dialog', { name: 'Trace a curve from dome sheet.png' });
  const plate = dialog.getByRole('application');
  const box = (await plate.boundingBox())!;
  const click = (x: number, y: number) =>
    plate.click({
      position: { x: (x * box.width) / picture.width, y: (y * box.height) / picture.height },
    });
  await click(picture.x(100), picture.y(60));
  await click(picture.x(10_000), picture.y(60));
  await click(picture.x(50), picture.y(70));
  await click(picture.x(50), picture.y(100));
  const [hz, db] = table[120];
  await click(picture.x(hz), picture.y(db));
  await expect(dialog.getByText(/\d{3} points of the curve/)).toBeVisible();
  await dialog.getByRole('button', { name: /Driver of the traced curve/ }).click();
  await page.getByRole('option', { name: 'Driver 1' }).click();
  await dialog.getByRole('button', { name: 'Read this curve' }).click();
  await expect(dialog).toBeHidden();
  await expectSaved(page);
  const id = /\/p\/([0-9a-f-]+)\//.exec(page.url())![1];
  const project = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    document: { measurements: { id: string; origin: { readAs: string }; measuredOn: object }[] };
  };
  const [traced] = project.document.measurements;
  expect(traced.origin.readAs).toContain('traced from a picture');
  expect(traced.measuredOn).toEqual({ kind: 'wall' });
  const numbers = (await (await page.request.get(`/api/measurements/${traced.id}`)).json()) as {
    frequencyHz: number[];
    magnitude: number[];
  };
  const truth = (at: number) => {
    const k = Math.max(
      1,
      table.findIndex(([f]) => f >= at),
    );
    const [[f0, d0], [f1, d1]] = [table[k - 1], table[k]];
    return d0 + ((d1 - d0) * Math.log(at / f0)) / Math.log(f1 / f0);
  };
  expect(numbers.frequencyHz.length).toBeGreaterThan(200);
  expect(numbers.frequencyHz[0]).toBeLessThan(170);
  expect(numbers.frequencyHz.at(-1)).toBeGreaterThan(16_000);
  numbers.frequencyHz.forEach((at, i) =>
    expect(Math.abs(numbers.magnitude[i] - truth(at))).toBeLessThan(0.5),
  );
  await page.getByRole('link', { name: /^Baffle/ }).click();
  await page.getByRole('button', { name: 'Draw a front' }).click();
  await expect(page.getByRole('figure', { name: /^Driver 1 on this front/ })).toBeVisible();
  await expect(page.getByRole('status', { name: 'What is measured of Driver 1' })).toContainText(
    'baffle step and edges of this front modelled',
  );
});

test('a file that is no picture, and one that lies about it, are refused in words', async ({
  page,
}) => {
  await openDemo(page, 'bench');
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles({
    name: 'sheet.png',
    mimeType: 'image/png',
    buffer: Buffer.from('GIF89a, not a picture'),
  });
  await expect(page.getByText(/sheet\.png: This can’t be read as a picture/)).toBeVisible();
  // Three dozen bytes that say they unpack to 14 GB.
  const head = Buffer.alloc(33);
  head.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52]);
  head.writeUInt32BE(60_000, 16);
  head.writeUInt32BE(60_000, 20);
  await page.getByLabel('Measurement files', { exact: true }).setInputFiles({
    name: 'bomb.png',
    mimeType: 'image/png',
    buffer: head,
  });
  await expect(page.getByText(/bomb\.png: This picture has 60000 × 60000 pixels/)).toBeVisible();
});

test('the baffle has no barriers, light and dark', async ({ page }) => {
  await openBaffle(page);
  await expect(findings(page)).toContainText('two edges');
  await expectAccessible(page);
  for (const side of ['Alt+1', 'Alt+2', 'Alt+3']) {
    await page.keyboard.press(side);
    await expectAccessible(page, 'panel');
  }
  await page.keyboard.press('Control+Shift+e');
  await expectAccessible(page, 'colours');
});
