/** The Box: from figures to a vented box that keeps the brief, drags and keys, the built box, boards. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import DxfParser from 'dxf-parser';
import { expectSaved, openDemo } from './desk';
import { expectAccessible } from './accessible';

const promise = (page: Page, id: string) => page.locator(`[data-promise="${id}"]`);
const rows = (page: Page) => page.getByRole('table', { name: 'Boxes side by side' });
const findings = (page: Page) => page.getByRole('status', { name: 'Findings about the box' });
const blank = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true });

async function openBox(page: Page): Promise<string> {
  const id = await openDemo(page);
  await page.getByRole('link', { name: /^Box/ }).click();
  await expect(rows(page).getByRole('row')).toHaveCount(2);
  return id;
}

/** A figure of a box in the table, by the column's place. */
async function figure(page: Page, box: string | RegExp, column: number): Promise<number> {
  const cell = rows(page).getByRole('row', { name: box }).getByRole('cell').nth(column);
  await expect(cell).toHaveText(/[\d.]/);
  return Number(await cell.textContent());
}
/** The same once it follows nothing any more. */
async function atRest(page: Page, box: string | RegExp, column: number): Promise<number> {
  let before = NaN;
  const isStill = async () => {
    const now = await figure(page, box, column);
    const isSame = now === before;
    before = now;
    return isSame;
  };
  await expect.poll(isStill, { intervals: [700] }).toBe(true);
  return before;
}
const columns = { litres: 0, tuned: 1, f3: 2, f10: 3 } as const;

async function chooseKind(page: Page, kind: string): Promise<void> {
  await page.getByRole('button', { name: /Kind of box/ }).click();
  await page.getByRole('option', { name: kind }).click();
}

async function fill(page: Page, name: string, value: string): Promise<void> {
  await blank(page, name).fill(value);
  await blank(page, name).press('Enter');
}

test('a search finds a vented box that keeps F3 and F10 of the brief; in use, the promises are kept', async ({
  page,
}) => {
  await openBox(page);
  await expect(promise(page, 'reach-3')).toHaveAttribute('data-state', 'broken');
  await page.keyboard.press('Alt+2');
  await page.getByRole('button', { name: 'Search boxes' }).click();
  const found = page.getByRole('table', { name: 'Boxes that were found' });
  await expect(found.locator('[data-kept]').first()).toContainText('vented', { timeout: 30_000 });
  await found
    .getByRole('button', { name: /^Keep vented/ })
    .first()
    .click();
  await expect(rows(page).getByRole('row')).toHaveCount(3);
  const keyed = page.getByRole('region', { name: 'Section of the box and its curves' });
  await expect(keyed.getByRole('heading', { name: 'Box A' })).toBeVisible();
  await page.keyboard.press('u');
  await expect(promise(page, 'reach-3')).toHaveAttribute('data-state', 'kept');
  await expect(promise(page, 'reach-10')).toHaveAttribute('data-state', 'kept');
  await page.keyboard.press('Alt+1');
  await expect(page.getByRole('status', { name: 'Facts of the port' })).toContainText('it fits');
  await expectSaved(page);
  await page.reload();
  await expect(rows(page).getByRole('row', { name: /Box A/ })).toContainText('in use');
  await expect(promise(page, 'reach-3')).toHaveAttribute('data-state', 'kept');
});

test('from Thiele–Small figures alone: a box is drawn, tuned and given a port that fits', async ({
  page,
}) => {
  const id = await openDemo(page);
  const { document } = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    document: { drivers: object[]; measurements: object[]; ways: object[] };
  };
  const [woofer] = document.drivers;
  const bare = {
    ...document,
    ...{ name: 'From figures', measurements: [], ways: [], panels: [], boxes: [] },
    drivers: [
      {
        ...woofer,
        ...{ responseId: null, impedanceId: null, offAxisIds: [] },
        mounting: { ...(woofer as { mounting: object }).mounting, panelId: null },
      },
    ],
  };
  const made = await page.request.post('/api/projects', { data: { document: bare } });
  const { id: own } = (await made.json()) as { id: string };
  await page.goto(`/p/${own}/box`);
  await page.getByRole('button', { name: 'Draw a box' }).click();
  await page.keyboard.press('Alt+2');
  await page.getByRole('button', { name: 'Search boxes' }).click();
  const found = page.getByRole('table', { name: 'Boxes that were found' });
  await expect(found.locator('[data-kept]').first()).toContainText('vented', { timeout: 30_000 });
  await found
    .getByRole('button', { name: /^Keep vented/ })
    .first()
    .click();
  expect(await figure(page, /Box B/, columns.f3)).toBeLessThanOrEqual(48);
  await page.keyboard.press('Alt+1');
  await expect(page.getByRole('status', { name: 'Facts of the port' })).toContainText('it fits');
  // Another tuning: the length follows; one that no port gives is said.
  await fill(page, 'Tuning', '30');
  await expect(blank(page, 'Tuning')).toHaveValue('30 Hz');
  const length = Number.parseFloat(await blank(page, 'Length of the port').inputValue());
  await fill(page, 'Tuning', '25');
  await expect
    .poll(async () => Number.parseFloat(await blank(page, 'Length of the port').inputValue()))
    .toBeGreaterThan(length);
  await fill(page, 'Tuning', '280');
  await expect(page.getByText(/No port of this width tunes this box to 280 Hz/)).toBeVisible();
});

test('the rear wall is dragged and keyed: volume, tuning and F3 follow, and one step undoes it', async ({
  page,
}) => {
  await openBox(page);
  await chooseKind(page, 'A vented box');
  await expect.poll(() => figure(page, /As built/, columns.tuned)).toBeGreaterThan(20);
  const before = await figure(page, /As built/, columns.litres);
  const wall = page.getByRole('button', { name: /^Rear wall/ });
  const box = (await wall.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height * 0.3];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 30, y, { steps: 6 });
  await page.mouse.up();
  await expect.poll(() => figure(page, /As built/, columns.litres)).toBeGreaterThan(before + 5);
  const dragged = await atRest(page, /As built/, columns.litres);
  await wall.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(() => figure(page, /As built/, columns.litres)).toBeLessThan(dragged);
  await expect(findings(page)).toContainText('A vented box is filled.');
  await page.getByRole('button', { name: 'Line the walls only' }).click();
  await expect(findings(page)).not.toContainText('A vented box is filled.');
  // It was put on the rear, clear of the woofer. Its inner end by keys: it gets longer, the tuning falls.
  const tuned = await atRest(page, /As built/, columns.tuned);
  await page.getByRole('button', { name: /^Port, / }).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(() => figure(page, /As built/, columns.tuned)).toBeLessThan(tuned);
  await page.getByRole('button', { name: /^Undo: length of the port/ }).click();
  await expect.poll(() => figure(page, /As built/, columns.tuned)).toBe(tuned);
});

test('the impedance of the built box tells what it became, and the port that mends it', async ({
  page,
}) => {
  await openBox(page);
  await chooseKind(page, 'A vented box');
  await page.getByRole('button', { name: /Fill$/ }).click();
  await page.getByRole('option', { name: 'empty' }).click();
  await fill(page, 'Net volume', '55');
  await fill(page, 'Length of the port', '120');
  await expect.poll(() => figure(page, /As built/, columns.tuned)).toBeGreaterThan(30);
  const planned = await atRest(page, /As built/, columns.tuned);
  // The same box by the command, with a port 30 mm shorter: its ends stand freer than was thought.
  const folder = mkdtempSync(join(tmpdir(), 'fair-box-'));
  const spec = {
    driver: {
      ...{
        fs_hz: 27.14,
        qms: 5.946,
        qes: 0.3928,
        vas_l: 137,
        sd_cm2: 335,
        re_ohm: 5.3,
        le_mh: 0.9,
      },
    },
    enclosure: {
      ...{ type: 'vented', volume_l: 55, ql: 7 },
      port: { count: 1, diameter_mm: 70, length_mm: 90, qp: 80, ends: ['free', 'flanged'] },
    },
  };
  writeFileSync(join(folder, 'built.json'), JSON.stringify(spec));
  const { stdout } = spawnSync(
    process.execPath,
    ['bin/fair.mjs', 'box', join(folder, 'built.json'), '--from', '10', '--to', '400'],
    { encoding: 'utf8' },
  );
  const [, ...lines] = stdout.trim().split('\n');
  const table = lines.map((line) => {
    const [hz, , , , , ohms, degrees] = line.split(',');
    return `${hz}\t${ohms}\t${degrees}`;
  });
  await page.getByRole('tab', { name: 'Built' }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Import its impedance' }).click();
  await (
    await chooser
  ).setFiles({
    name: 'built box.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from(['Hz\tohm\tdeg', ...table].join('\n')),
  });
  const built = page.getByRole('region', { name: 'The built box' });
  await expect(built.getByRole('row', { name: /tuned to/ })).toContainText(planned.toFixed(1));
  await expect(built).toContainText(/The port acts \d+ % shorter than planned/);
  const told = /the port is to be (\d+) mm/i.exec((await built.textContent())!);
  // It acts 30 mm shorter: that much longer it must be cut.
  expect(Math.abs(Number(told![1]) - 150)).toBeLessThan(4);
  await expectSaved(page);
  // A file that is none is said.
  const again = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Import its impedance' }).click();
  await (
    await again
  ).setFiles({
    name: 'nothing.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('no numbers'),
  });
  await expect(page.getByText(/nothing\.txt/)).toBeVisible();
});

test('boards: a cut list and its sheets are exported and read back', async ({ page }) => {
  await openBox(page);
  await page.keyboard.press('Alt+4');
  const list = page.getByRole('table', { name: 'Cut list' });
  await expect(list.getByRole('row', { name: /^front/ })).toContainText('710 × 300');
  const saved = async (item: string) => {
    await page.getByRole('button', { name: 'Export the boards' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    return readFileSync(await download.path(), 'utf8');
  };
  const csv = (await saved('Cut list, CSV')).trim().split('\n');
  expect(csv[0]).toBe('board,count,length_mm,width_mm,thickness_mm,material,work');
  expect(csv[1]).toMatch(/^As built: front,2,710,300,22,birch plywood,/);
  const dxf = new DxfParser().parseSync(await saved('Sheets, DXF at full size'))!;
  expect(dxf.header.$INSUNITS).toBe(4);
  const sizes = dxf.entities
    .filter(({ type, layer }) => type === 'LWPOLYLINE' && (layer === 'cut' || layer === 'frame'))
    .map((line) => (line as unknown as { vertices: { x: number; y: number }[] }).vertices)
    .map(([a, b, c]) => [Math.round(b.x - a.x), Math.round(c.y - b.y)].join(' × '));
  expect(sizes.filter((size) => size === '710 × 300')).toHaveLength(4);
  expect(sizes).toContain('2500 × 1250');
  expect(await saved('Sheets, SVG at full size')).toContain('width="710" height="300"');
  await page.getByRole('button', { name: /Joint/ }).click();
  await page.getByRole('option', { name: 'rebated' }).click();
  await expect(list.getByRole('row', { name: /^front/ })).toContainText('691 × 281');
  await fill(page, 'Width of a sheet', '200');
  await expect(page.getByText(/no sheet of 2500 × 200 mm holds it/)).toBeVisible();
});

test('a front that is narrowed until its woofer no longer fits stops the boards, in words', async ({
  page,
}) => {
  await openBox(page);
  await page.keyboard.press('u');
  await fill(page, 'Width of the box', '240');
  await expect(findings(page)).toContainText(
    /Woofer is cut 266 mm wide, [\d.]+ mm over the edge of the front/,
  );
  await fill(page, 'Width of the box', '300');
  await expect(findings(page)).not.toContainText('over the edge of the front');
  await fill(page, 'Depth of the box', '120');
  await expect(findings(page)).toContainText(/Woofer is [\d.]+ mm too deep for the box/);
  await page.keyboard.press('Escape');
  await page.getByRole('tab', { name: 'Boards' }).click();
  await expect(page.getByText(/Woofer is [\d.]+ mm too deep/).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Export the boards' })).toBeDisabled();
});

test('a folded line has its boards in the cut list, and is told where its box is too small', async ({
  page,
}) => {
  await openBox(page);
  await chooseKind(page, 'A transmission line');
  // A first line is one that its box holds.
  await expect(page.getByRole('row', { name: /As built/ })).toContainText('line');
  await expect(findings(page)).not.toContainText('The line is');
  await fill(page, 'Segment 1, area', '400');
  await expect(findings(page)).toContainText('The line is 68.0 l; the box has 52.0 l for it.');
  await fill(page, 'Segment 1, area', '300');
  await expect(findings(page)).not.toContainText('The line is');
  await page.getByText(/^Where the volume goes/).click();
  await expect(page.getByText(/^divider 2: /)).toBeVisible();
  await page.getByRole('tab', { name: 'Boards' }).click();
  const list = page.getByRole('table', { name: 'Cut list' });
  // 1700 mm in an inside of 262 × 672 mm: two turns, each 300 cm² open.
  await expect(list.getByRole('row', { name: /^divider/ })).toHaveCount(2);
  await expect(list.getByRole('row', { name: /^divider 1/ })).toContainText('557.5 × 262');
});

test('what was measured in which box is said, and each kind of box has its numbers', async ({
  page,
}) => {
  await openBox(page);
  await page.keyboard.press('u');
  await expect(findings(page)).not.toContainText('It is not said in which box');
  await page.getByText('Measured in', { exact: true }).click();
  await page.getByRole('button', { name: /Woofer, response: measured in/ }).click();
  await page.getByRole('option', { name: 'not said' }).click();
  await expect(findings(page)).toContainText(
    'It is not said in which box the response of Woofer was measured.',
  );
  await fill(page, 'Splice', '150');
  await expect(findings(page)).toContainText('Below 150 Hz the model of this box is used');
  for (const [kind, label] of [
    ['A box with a passive radiator', 'Passive: added mass'],
    ['A transmission line', 'Segment 1, length'],
    ['An open baffle', 'Path from the rear'],
    ['A sealed box', 'Net volume'],
  ]) {
    await chooseKind(page, kind);
    await expect(blank(page, label)).toBeVisible();
    await expect.poll(() => figure(page, /As built/, columns.f10)).toBeGreaterThan(5);
  }
});

test('the box has no barriers, light and dark', async ({ page }) => {
  await openBox(page);
  await expect(findings(page)).toContainText('Standing waves');
  await expectAccessible(page);
  for (const side of ['Alt+1', 'Alt+2', 'Alt+3', 'Alt+4']) {
    await page.keyboard.press(side);
    await expectAccessible(page, 'panel');
  }
  await page.keyboard.press('Control+Shift+e');
  await expectAccessible(page, 'colours');
});
