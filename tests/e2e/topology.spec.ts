/**
 * Networks beyond plain rails, by keyboard and by pointer: stacked, shared, bridged, switched, two
 * amplifiers, netlists.
 */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { drawn, expectCurves, expectSaved, openDemo, part, settled } from './desk';

const undo = (page: Page) => page.getByRole('button', { name: /^Undo: / });
const way = (page: Page, id: string) => page.locator(`[data-target="way-${id}"]`);
const expectDrawn = (page: Page, path: string, isSame: boolean) =>
  expect.poll(async () => (await drawn(page, 'sum')) === path).toBe(isSame);

/** Chooses from a list that a button opens. */
async function choose(page: Page, label: RegExp, option: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: label }).first().click();
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click();
}

/** A row of key strokes: parts by their keys, values typed after Enter. */
async function type(page: Page, key: string, name: string, value: string): Promise<void> {
  await page.keyboard.press(key);
  await expect(part(page, name)).toBeFocused();
  await page.keyboard.press('Enter');
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
  await part(page, name).focus();
}

test('a three-way network is built from nothing by keyboard alone, and is the one of the demo', async ({
  page,
}) => {
  test.slow();
  await openDemo(page);
  const demo = await settled(page, 'sum');
  for (const id of ['woofer', 'midrange', 'tweeter']) {
    await way(page, id).focus();
    await page.keyboard.press('Delete');
    await expect(way(page, id)).toHaveCount(0);
  }
  const give = page.getByRole('button', { name: 'Give each driver its way' });
  await give.focus();
  await page.keyboard.press('Enter');
  const end = (name: string) => page.getByRole('button', { name: new RegExp(`^${name}: ${name}`) });
  // The first way has the focus: one begins with the woofer.
  await expect(end('Woofer')).toBeFocused();
  const plan = {
    Woofer: [
      ['l', 'L1', '3.3'],
      ['Shift+C', 'C1', '56'],
    ],
    Midrange: [
      ['c', 'C2', '47'],
      ['Shift+L', 'L2', '3.3'],
      ['l', 'L3', '0.47'],
      ['Shift+C', 'C3', '8.2'],
      ['r', 'R1', '2.2'],
    ],
    Tweeter: [
      ['c', 'C4', '5.6'],
      ['Shift+L', 'L4', '0.33'],
      ['r', 'R2', '1.8'],
      ['Shift+R', 'R3', '10'],
    ],
  } as const;
  for (const [name, parts] of Object.entries(plan)) {
    await end(name).focus();
    for (const [key, partName, value] of parts) await type(page, key, partName, value);
  }
  const losses = { L1: '0.36', L2: '0.42', L3: '0.24', L4: '0.21' };
  for (const [name, ohms] of Object.entries(losses)) {
    await part(page, name).focus();
    await page.keyboard.press('Enter');
    await page.keyboard.press('Tab');
    await expect(page.getByLabel('Resistance of its wire')).toBeFocused();
    await page.keyboard.type(ohms);
    await page.keyboard.press('Enter');
  }
  await expectDrawn(page, demo, true);
});

test('ways are stacked and shared, drivers doubled, and every step is undone', async ({ page }) => {
  await openDemo(page);
  const start = await settled(page, 'sum');
  await way(page, 'tweeter').focus();
  await choose(page, /It starts from$/, 'the return of Woofer');
  await expectDrawn(page, start, false);
  const stacked = await settled(page, 'sum');
  await choose(page, /It starts from$/, 'behind C2 of Midrange');
  await expectDrawn(page, stacked, false);
  await way(page, 'woofer').focus();
  await page.getByRole('button', { name: 'Add one like it' }).click();
  await expect(
    page.getByRole('button', { name: /^Woofer: Woofer, in phase, beside Woofer 2, in phase/ }),
  ).toBeVisible();
  await choose(page, /Its drivers are joined$/, 'in series');
  await page.getByRole('button', { name: 'Turn driver 2 round' }).click();
  await expect(
    page.getByRole('button', {
      name: /^Woofer: Woofer, in phase, in series with Woofer 2, reversed/,
    }),
  ).toBeVisible();
  for (let step = 0; step < 5; step++) await undo(page).click();
  await expectDrawn(page, start, true);
});

test('two pairs of terminals have their amplifiers, and links join them', async ({ page }) => {
  await openDemo(page);
  const start = await settled(page, 'sum');
  await page.getByRole('button', { name: 'Add a second pair' }).click();
  await way(page, 'woofer').focus();
  await choose(page, /It starts from$/, 'the pair Pair 2');
  await expect(page.locator('[data-curve^="load-"]').first()).toBeAttached();
  const apart = await settled(page, 'sum');
  await page.getByRole('button', { name: 'Amplifier and terminals: Pair 2' }).focus();
  const gain = page.getByRole('textbox', { name: 'gain at Pair 2' });
  await gain.fill('6');
  await gain.press('Enter');
  await expectDrawn(page, apart, false);
  // Joined, one amplifier drives both, and the gain of the second counts no more.
  await page.getByText('Links join the pairs').click();
  await expectDrawn(page, start, true);
  await page.getByRole('button', { name: 'Remove the pair Pair 2' }).click();
  await expectDrawn(page, start, true);
});

test('a bridge is set, moved and removed; a part and a filter are copied', async ({ page }) => {
  await openDemo(page);
  const start = await settled(page, 'sum');
  await part(page, 'L3').focus();
  await page.keyboard.press('j');
  await expect(part(page, 'C5')).toHaveAccessibleName(/as a bridge/);
  await expectDrawn(page, start, false);
  await choose(page, /^.* From$/, 'the terminals');
  await expect(part(page, 'C5')).toHaveAccessibleName(/from the terminals to behind L3/);
  await part(page, 'C5').focus();
  await page.keyboard.press('Delete');
  await expectDrawn(page, start, true);
  await way(page, 'midrange').focus();
  await page.keyboard.press('Control+c');
  await way(page, 'woofer').focus();
  await page.keyboard.press('Control+v');
  await expect(undo(page)).toHaveAccessibleName('Undo: put a copied filter on Woofer');
  await part(page, 'R1').focus();
  await page.keyboard.press('Alt+PageDown');
  await expect(undo(page)).toHaveAccessibleName('Undo: move R1 to Tweeter');
  await expectSaved(page);
});

test('a way mirrors another: a change to either is one to both, by keyboard', async ({ page }) => {
  await openDemo(page);
  const start = await settled(page, 'sum');
  await way(page, 'tweeter').focus();
  await page.keyboard.press('w');
  const fourth = page.getByRole('button', { name: /^Way 4: / });
  await expect(fourth).toBeFocused();
  await page.keyboard.press('Enter');
  await choose(page, /A change to its filter$/, 'is one to that of Tweeter too');
  await expect(fourth).toHaveAccessibleName(/mirrors Tweeter/);
  await expect(part(page, 'C5')).toHaveAccessibleName(/5\.6 µF/);
  await part(page, 'C5').focus();
  await page.keyboard.press('ArrowUp');
  await expect(part(page, 'C4')).toHaveAccessibleName(/6\.2 µF/);
  await expect(part(page, 'C5')).toHaveAccessibleName(/6\.2 µF/);
  await part(page, 'R3').focus();
  await page.keyboard.press('Delete');
  await expect(part(page, 'R3')).toHaveCount(0);
  await expect(part(page, 'R5')).toHaveCount(0);
  await fourth.focus();
  await page.keyboard.press('Enter');
  await choose(page, /A change to its filter$/, 'is its own');
  await expect(undo(page)).toHaveAccessibleName('Undo: Way 4 is alone');
  for (let step = 0; step < 5; step++) await undo(page).click();
  await expectDrawn(page, start, true);
  await expect(fourth).toHaveCount(0);
});

test('a switch has its positions side by side, and turning it changes what is connected to the rails', async ({
  page,
}) => {
  await openDemo(page);
  await part(page, 'R2').click();
  await choose(page, /By switch: R2$/, 'set by a new switch');
  const value = page.getByLabel(/^Value/);
  await value.fill('4.7');
  await value.press('Enter');
  const now = await settled(page, 'sum');
  await expect(page.locator('[data-curve^="beside-"]').first()).toBeAttached();
  // The switches stand with the amplifier.
  await page.getByRole('button', { name: 'Amplifier and terminals' }).click();
  await page.getByRole('button', { name: 'Turn Switch 1 to B' }).click();
  await expect(part(page, 'R2')).toHaveAccessibleName(/1\.8 Ω/);
  await expectDrawn(page, now, false);
  await page.getByRole('button', { name: 'Turn Switch 1 to A' }).click();
  await expect(part(page, 'R2')).toHaveAccessibleName(/4\.7 Ω/);
  await expectDrawn(page, now, true);
});

test('a bump is pulled down by a trap that is dragged on the curve, and by keys', async ({
  page,
}) => {
  await openDemo(page);
  const start = await settled(page, 'sum');
  await part(page, 'L3').focus();
  await page.keyboard.press('d');
  const handle = page.getByRole('slider', { name: /^Trap / });
  await expect(handle).toBeFocused();
  await expectDrawn(page, start, false);
  const told = () => handle.getAttribute('aria-valuetext');
  const proposed = await told();
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) {
    await page.mouse.move(box.x - 3 * i, box.y + 2 * i);
    // Held still for longer than nudges may lie apart.
    if (i === 4) await page.waitForTimeout(1500);
  }
  await page.mouse.up();
  await expect.poll(told).not.toBe(proposed);
  // What the trap works against is asked for when the hand rests; its depth follows.
  await expect
    .poll(async () => {
      const before = await told();
      await page.waitForTimeout(600);
      return before === (await told());
    })
    .toBe(true);
  const [, db, hz] = /^([\d.]+) dB at ([\d.]+) kHz/.exec((await told())!)!;
  const [, dbBefore, hzBefore] = /^([\d.]+) dB at ([\d.]+) kHz/.exec(proposed!)!;
  expect(Number(hz)).toBeLessThan(Number(hzBefore));
  expect(Number(db)).toBeGreaterThan(Number(dbBefore));
  const dragged = await told();
  // One hold is one step, however many moves it had and however long it took.
  await undo(page).click();
  await expect(undo(page)).toHaveAccessibleName(/^Undo: trap at/);
  await page.getByRole('button', { name: /^Redo: / }).click();
  await expect.poll(told).toBe(dragged);
  await handle.focus();
  await page.keyboard.press('PageUp');
  await expect.poll(told).not.toBe(dragged);
  await expect(undo(page)).toHaveAccessibleName(/^Undo: move the trap/);
  await undo(page).click();
  await expect.poll(told).toBe(dragged);
  await undo(page).click();
  await undo(page).click();
  await expectDrawn(page, start, true);
});

test('a network that was taken out as a netlist is read back, and a bad one is explained', async ({
  page,
}) => {
  await openDemo(page);
  const start = await settled(page, 'sum');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.keyboard.press('Control+Alt+n'),
  ]);
  const deck = readFileSync(await download.path());
  await way(page, 'midrange').focus();
  await page.keyboard.press('Delete');
  await expectDrawn(page, start, false);
  const read = async (name: string, text: Buffer) => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: /^Choose (a|another) file$/ }).click(),
    ]);
    await chooser.setFiles({ name, mimeType: 'text/plain', buffer: text });
  };
  await page.keyboard.press('Control+Alt+r');
  await read('bad.cir', Buffer.from('x\nq1 1 2 3 bc547\n'));
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('bad.cir:2');
  await read('deck.cir', deck);
  await expect(page.getByRole('button', { name: /Midrange represents$/ })).toContainText(
    'midrange',
  );
  await page.getByRole('button', { name: 'Lay it out on rails' }).click();
  await expectDrawn(page, start, true);
  await expect(part(page, 'L3')).toBeVisible();
  await expectCurves(page);
});

test('a way that starts from one that is left out is marked with it on the drawing', async ({
  page,
}) => {
  await openDemo(page);
  await way(page, 'tweeter').focus();
  await choose(page, /It starts from$/, 'the end of Midrange');
  await page.getByRole('link', { name: /^Bench/ }).click();
  const card = page.locator('[aria-label="Midrange"]');
  await card.getByRole('button', { name: /Impedance/ }).click();
  await page.getByRole('option', { name: 'no impedance yet' }).click();
  await page.getByRole('link', { name: /^Network/ }).click();
  await expect(way(page, 'midrange')).toHaveAccessibleName(/at fault/);
  await expect(way(page, 'tweeter')).toHaveAccessibleName(/at fault/);
});

test('a search goes on when its page is closed, and what it found is taken over later', async ({
  page,
}) => {
  test.slow();
  await openDemo(page);
  const address = page.url();
  await page.getByRole('tab', { name: 'Search', exact: true }).click();
  const most = page.getByRole('textbox', { name: 'largest number of parts' });
  await most.fill('6');
  await most.press('Enter');
  await page.getByText('On the server, where it goes on').click();
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.getByText(/networks fitted/)).toBeVisible({ timeout: 20_000 });
  await page.goto('about:blank');
  await page.waitForTimeout(3000);
  await page.goto(address);
  await expectCurves(page);
  await page.getByRole('tab', { name: 'Search', exact: true }).click();
  await expect(page.getByText(/: done/)).toBeVisible({ timeout: 90_000 });
  await page.getByRole('button', { name: /^Show the \d+ networks found/ }).click();
  await page
    .getByRole('button', { name: /^Take over the network of/ })
    .first()
    .click();
  await expect(undo(page)).toHaveAccessibleName(/take over a network/);
});
