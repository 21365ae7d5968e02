/** Around: maps, findings, the trade between axis and window, seats, the joint search, exports. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import { expectSaved, openDemo } from './desk';
import { expectAccessible } from './accessible';

async function openAround(page: Page): Promise<string> {
  const id = await openDemo(page);
  await page.getByRole('link', { name: /^Around/ }).click();
  await expect(map(page, 'Horizontal')).toBeVisible({ timeout: 30_000 });
  return id;
}

const map = (page: Page, title: 'Horizontal' | 'Vertical') =>
  page.getByRole('slider', { name: `${title}: cursor` });
const promise = (page: Page, id: string) => page.locator(`[data-promise="${id}"]`);
const slider = (page: Page) => page.getByRole('slider', { name: 'Axis against window' });

async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`${label}$`) }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

test('the ballooning is found with its cause; a network from the slider keeps the promise of directivity', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await openAround(page);
  await expect(promise(page, 'directivity')).toHaveAttribute('data-state', 'broken');
  const causes = page.getByRole('table', { name: /^Causes removed: Narrows by 2\.\d dB/ });
  await expect(causes.getByRole('row', { name: /^midrange as small as a point −/ })).toBeVisible({
    timeout: 40_000,
  });
  await expect(page.getByText(/cross over at 2\.\d kHz in the place of 4\.4 kHz/)).toBeVisible();
  await expect(page.getByText('Widens by', { exact: false }).first()).toBeVisible({
    timeout: 30_000,
  });
  // Every place of the slider is a fitted network, shown at once.
  await expect(slider(page)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Move it: each place is a network')).toBeVisible({ timeout: 60_000 });
  await slider(page).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(slider(page)).toHaveAccessibleDescription(/^axis ±1\.\d\d dB, window ±1\.\d\d dB/);
  await expect(promise(page, 'window')).toHaveAttribute('data-state', 'kept');
  await page.getByRole('button', { name: 'Take it over' }).click();
  await expect(promise(page, 'window')).toHaveAttribute('data-state', 'kept');
  await expect(promise(page, 'directivity')).toHaveAttribute('data-state', 'kept');
  await expectSaved(page);
  await page.getByRole('button', { name: /^Undo: axis ±/ }).click();
  await expect(promise(page, 'directivity')).toHaveAttribute('data-state', 'broken');
});

test('by keyboard: one cursor reads maps, polar plot and curves; what a finding proposes is one step', async ({
  page,
}) => {
  await openAround(page);
  await map(page, 'Vertical').focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await expect(map(page, 'Vertical')).toHaveAttribute(
    'aria-valuetext',
    /^987 Hz, 20° up: −?\d+\.\d dB, measured$/,
  );
  await page.keyboard.press('Shift+ArrowRight');
  await expect(map(page, 'Vertical')).toHaveAttribute('aria-valuetext', /^1\.\d* kHz, 20° up/);
  await expect(page.getByRole('figure', { name: /^Polar plot at 1\.\d* kHz/ })).toBeVisible();
  await expect(page.getByRole('slider', { name: 'Levels: cursor' })).toHaveAttribute(
    'aria-valuetext',
    /^1\.\d* kHz: /,
  );
  const relative = await map(page, 'Vertical').getAttribute('aria-valuetext');
  await page.keyboard.press('r');
  await expect(map(page, 'Vertical')).not.toHaveAttribute('aria-valuetext', relative!);
  await page.keyboard.press('Escape');
  await expect(map(page, 'Vertical')).toHaveAttribute('aria-valuetext', 'no cursor');
  await page.keyboard.press('Alt+4');
  const balloon = page.getByRole('img', { name: /^Balloon at/ });
  await expect(balloon).toHaveAccessibleName(
    /turned -52°, tilted 20°; directivity index \d+\.\d dB/,
  );
  await balloon.focus();
  await page.keyboard.press('ArrowRight');
  await expect(balloon).toHaveAccessibleName(/turned -42°/);
  await page.keyboard.press('Alt+1');
  await page.getByRole('button', { name: 'Set target slopes there' }).first().click();
  await expect(page.getByRole('button', { name: /^Undo: cross over at/ })).toBeVisible();
  await page.getByRole('button', { name: /^Undo: cross over at/ }).click();
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeDisabled();
});

test('seats hear the floor and the other speaker; it stays after a reload, and axe finds nothing', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openAround(page);
  await page.getByRole('tab', { name: 'Seats' }).click();
  await expect(page.getByRole('table', { name: 'Seats' }).getByRole('row')).toHaveCount(8);
  await expect(page.getByText(/^Preference estimate \d\.\d of 10/)).toBeVisible();
  await choose(page, 'Curves shown', 'the seats');
  const near = page.locator('[data-curve="near-middle"]').first();
  await expect(near).toHaveText(/ at 1k/);
  const before = await near.textContent();
  await page.getByText('Floor', { exact: true }).click();
  await expect.poll(() => near.textContent()).not.toBe(before);
  await page.getByRole('textbox', { name: 'Floor: absorbed, percent' }).fill('60');
  await page.keyboard.press('Enter');
  await page.getByText('Both speakers of a pair play').click();
  await expectSaved(page);
  await page.reload();
  await page.getByRole('tab', { name: 'Seats' }).click();
  await expect(page.getByRole('textbox', { name: 'Floor: absorbed, percent' })).toHaveValue('60');
  await expect(page.getByRole('textbox', { name: 'Pair: apart' })).toHaveValue('2 m');
  for (const tab of ['Seats', 'Search', 'Balloon', 'Findings']) {
    await page.getByRole('tab', { name: tab }).click();
    await expectAccessible(page, tab === 'Seats' ? 'all' : 'panel');
  }
});

test('the joint search moves drivers and values within limits; one layout is taken over and undone', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await openAround(page);
  await page.getByRole('tab', { name: 'Search' }).click();
  await expect(page.getByRole('button', { name: 'Search', exact: true })).toBeDisabled();
  await expect(promise(page, 'window')).toHaveAccessibleName(/Now ±/);
  const before = /Now \S+ dB/.exec((await promise(page, 'window').getAttribute('aria-label'))!)![0];
  await page.getByRole('textbox', { name: 'Tweeter: up or down' }).fill('40');
  await page.getByRole('textbox', { name: 'Largest radius' }).fill('25');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  const bar = page.getByRole('progressbar', { name: 'Search for layout and network' });
  await expect(bar).toBeVisible();
  await expect(page.getByText(/tried; best so far, .*: axis about ±/)).toBeVisible({
    timeout: 60_000,
  });
  const found = page.getByRole('table', { name: 'What the search found' });
  await expect(found.getByRole('row')).toHaveCount(3, { timeout: 150_000 });
  await expect(
    page.getByRole('list', { name: 'What each millimetre buys' }).getByRole('listitem').first(),
  ).toContainText(/(Tweeter \d+ mm (up|down)|edges rounded by \d+ mm): (axis|window|DI) ±/);
  const claimed = await found.getByRole('row').last().getByRole('cell').nth(1).textContent();
  await page.getByRole('button', { name: 'Take it over' }).last().click();
  // The promise is kept, and tells what the search has told, once all around is worked out again.
  await expect(promise(page, 'window')).toHaveAttribute('data-state', 'kept', { timeout: 60_000 });
  const tenths = Number(/[\d.]+/.exec(claimed!)![0]).toFixed(1);
  await expect(promise(page, 'window')).toHaveAccessibleName(new RegExp(`Now ±${tenths} dB`));
  await expectSaved(page);
  await page.getByRole('button', { name: 'Undo: a layout with its network' }).click();
  await expect(promise(page, 'window')).toHaveAccessibleName(new RegExp(before), {
    timeout: 60_000,
  });
});

/** Saves what a choice of the export menu gives. */
async function exported(page: Page, item: string): Promise<Buffer> {
  await page
    .getByRole('region', { name: 'Around the speaker' })
    .getByRole('button', { name: 'Export', exact: true })
    .click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: item }).click(),
  ]);
  return readFileSync(await download.path());
}

test('maps, curves, orbits and directivity are exported; SOFA is read by another program', async ({
  page,
}, info) => {
  await openAround(page);
  const png = await exported(page, 'Both maps, PNG');
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  const svg = (await exported(page, 'Both maps, SVG')).toString();
  expect(svg).toContain('vertical, dB against the axis, lines every 3 dB');
  expect(svg.match(/<path /g)!.length).toBeGreaterThan(12);
  const tables = unzipSync(await exported(page, 'All curves, CSV (zip)'));
  expect(Object.keys(tables)).toEqual(expect.arrayContaining(['averages.csv', 'orbits.csv']));
  const orbits = unzipSync(await exported(page, 'A response table for each direction (zip)'));
  expect(Object.keys(orbits)).toHaveLength(70);

  const path = info.outputPath('directivity.sofa');
  const { writeFileSync } = await import('node:fs');
  writeFileSync(path, await exported(page, 'Directivity, SOFA (AES69)'));
  const dump = (...options: string[]) =>
    spawnSync('h5dump', [...options, path], { encoding: 'utf8' }).stdout;
  const attributes = dump('-A');
  for (const said of ['FreeFieldDirectivityTF', 'SOFA', 'free field', 'degree, degree, metre'])
    expect(attributes).toContain(`"${said}"`);
  expect(attributes).toMatch(/DATASET "Data\.Real"[^]*?\( 1, 70, 240 \)/);
  expect(attributes).toContain('"pascal"');
  // 74 to 100 dB at 1 m for what is loudest; without the places that they stand at.
  const data = dump('-y', '-w', '1', '-d', '/Data.Real').split('DATA {')[1].split('}')[0];
  const loudest = Math.max(
    ...data.split(/[\s,]+/).flatMap((text) => (text === '' ? [] : Math.abs(Number(text)))),
  );
  expect(loudest).toBeGreaterThan(0.1);
  expect(loudest).toBeLessThan(2);
  // 90° to the right is 270° by the standard's count.
  expect(dump('-d', '/ReceiverPosition')).toMatch(/270/);
});

test('a speaker of which nothing is known off the axis says what is missing', async ({ page }) => {
  const id = await openDemo(page);
  const held = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    readonly document: {
      readonly drivers: readonly { readonly mounting: object }[];
    };
  };
  const bare = {
    ...held.document,
    drivers: held.document.drivers.map((driver) => ({
      ...driver,
      offAxisIds: [],
      mounting: { ...driver.mounting, panelId: null },
    })),
  };
  const made = await page.request.post('/api/projects', { data: { document: bare } });
  const { id: other } = (await made.json()) as { id: string };
  await page.goto(`/p/${other}/around`);
  await expect(
    page.getByText('It is not known what Woofer, Midrange and Tweeter do off the axis.'),
  ).toBeVisible();
  await expect(page.getByRole('link', { name: 'Baffle', exact: true })).toBeVisible();
});
