import { expect, test, type Page } from '@playwright/test';
import type { Design } from '@/core/document/schema';
import { expectSaved, openDemo, part, stored } from './desk';

const promise = (page: Page, id: string) => page.locator(`[data-promise="${id}"]`);

/** Tabs until an element with this accessible name has the focus. */
async function tabTo(page: Page, name: string): Promise<void> {
  for (let i = 0; i < 120; i++) {
    await page.keyboard.press('Tab');
    const label = await page.evaluate(() => {
      const element = document.activeElement;
      return (
        element?.getAttribute('aria-label') ??
        element?.closest('[aria-label]')?.getAttribute('aria-label') ??
        ''
      );
    });
    if (label === name) return;
  }
  throw new Error(`The keyboard never reached “${name}”.`);
}

async function choose(page: Page, label: string, text: string): Promise<void> {
  const button = page.getByRole('button', { name: new RegExp(`${label}$`) });
  for (let i = 0; i < 120; i++) {
    await page.keyboard.press('Tab');
    if (await button.evaluate((element) => element === document.activeElement)) break;
  }
  await expect(button).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('option', { name: text })).toBeVisible();
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await expect(button).toContainText(text);
}

test('the brief is answered by keyboard alone, and its promises wait for drivers', async ({
  page,
}) => {
  test.slow();
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.waitForURL(/brief$/);
  await expect(page.getByText('Answer the Brief')).toBeVisible();
  await choose(page, 'Purpose', 'listening to music');
  await tabTo(page, 'Nearest seat');
  await page.keyboard.type('2,2');
  await tabTo(page, 'Farthest seat');
  await page.keyboard.type('4.5 m');
  await tabTo(page, 'Spread of the seats, to each side');
  await page.keyboard.type('25');
  await choose(page, 'Kind of amplifier', 'Transistors, 60 W');
  await tabTo(page, 'Rated impedance');
  await page.keyboard.type('6');
  await tabTo(page, 'Loudness');
  await page.keyboard.type('85');
  await tabTo(page, 'Headroom');
  await page.keyboard.type('12');
  await tabTo(page, 'F3, 3 dB down');
  await page.keyboard.type('48');
  await tabTo(page, 'Deviation on axis');
  await page.keyboard.type('1.5');
  await page.keyboard.press('Enter');

  // What waits takes no room: it is behind one press.
  await page.getByRole('button', { name: /^\d+ wait$/ }).click();
  await expect(promise(page, 'lowest-impedance')).toContainText('needs drivers');
  await expect(promise(page, 'seat-level')).toContainText('needs drivers');
  await page.keyboard.press('Escape');
  // Ranking by keys: F3 gives way before money.
  await page.getByRole('row', { name: /^F3: / }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page.getByRole('row').first()).toContainText('F3');
  await expectSaved(page);
  const id = /\/p\/([0-9a-f-]+)\//.exec(page.url())![1];
  const { document } = await stored(page, id);
  expect(document).toMatchObject({
    brief: {
      purpose: 'music',
      nearestSeatMm: 2200,
      farthestSeatMm: 4500,
      spreadDeg: 25,
      ratedWatts: 60,
      lowestLoadOhms: 4,
      ratedOhms: 6,
      loudnessDb: 85,
      headroomDb: 12,
      reach3Hz: 48,
      evennessDb: 1.5,
      givesWay: ['reach', 'size', 'loudness', 'money', 'evenness'],
    },
  });
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Farthest seat' })).toHaveValue('4.5 m');
  // An emptied answer is open again, and its promises go.
  await page.getByLabel('F3, 3 dB down').fill('');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^\d+ wait$/ }).click();
  await expect(promise(page, 'seat-level')).toHaveCount(1);
  await expect(promise(page, 'reach-3')).toHaveCount(0);
});

test('what the answers mean follows them, with its arithmetic', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  const meaning = page.getByRole('complementary', { name: 'What this means' });
  const trade = meaning.locator('[data-consequence="trade"]');
  await expect(trade).toHaveAttribute('data-tone', 'fine');
  await page.getByLabel('Largest depth').fill('9 cm');
  await page.getByLabel('F3, 3 dB down').fill('28');
  await page.keyboard.press('Enter');
  await expect(trade).toHaveAttribute('data-tone', 'conflict');
  await expect(trade).toContainText('Of these loudness gives way first');
  await trade.getByText('arithmetic').click();
  await expect(trade).toContainText('2.05·10⁻⁶');
  await expect(meaning.locator('details[data-out="true"]').first()).toBeVisible();
});

test('Brief and Network tell the same excursion and power, at the drive that was chosen', async ({
  page,
}) => {
  const id = await openDemo(page);
  await part(page, 'L1').focus();
  await page.getByText('in phase').first().click();
  const told = page.getByText(/Woofer moves up to ±[\d.]+ mm of ±6\.5 mm and takes/);
  await expect(told).toContainText('That is beyond Xmax: it distorts.');
  const figures = /moves up to .* by its rating\)/.exec((await told.textContent())!)![0];
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  const woofer = page.locator('[data-consequence="load-way-woofer-woofer"]');
  await expect(woofer).toContainText(figures);
  // Music moves it by the root of a fifth.
  await page.getByRole('button', { name: /How the amplifier is driven$/ }).click();
  await page.getByRole('option', { name: 'music, just short of clipping' }).click();
  await expect(woofer).toContainText('with music just short of clipping');
  await expect(woofer).not.toContainText('distorts');
  const mm = (text: string | null) => Number(/it moves up to ±([\d.]+)/.exec(text!)![1]);
  const worst = Number(/up to ±([\d.]+)/.exec(figures)![1]);
  expect(mm(await woofer.textContent()) / worst).toBeCloseTo(Math.sqrt(0.2), 1);
  await expectSaved(page);
  expect((await stored(page, id)).document).toMatchObject({ brief: { programme: 'music' } });
});

test('a data sheet says which power it means, and the driver is held against that', async ({
  page,
}) => {
  const id = await openDemo(page);
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  const tweeter = page.locator('[data-consequence="load-way-tweeter-tweeter"]');
  await expect(tweeter).toContainText('of 10 W by its rating');
  await page.getByRole('button', { name: /Tweeter: kind of rated power$/ }).click();
  await page.getByRole('option', { name: 'noise (IEC)' }).click();
  await expect(tweeter).toContainText('of 80 W by its rating');
  await page.getByRole('textbox', { name: 'Tweeter: rated power' }).fill('1');
  await page.keyboard.press('Enter');
  await expect(tweeter).toHaveAttribute('data-tone', 'conflict');
  await expect(tweeter).toContainText('its voice coil may burn');
  await page.getByRole('button', { name: /more/ }).click();
  await expect(promise(page, 'driver-power')).toHaveAttribute('data-state', 'broken');
  await page.keyboard.press('Escape');
  await expectSaved(page);
  const { document } = await stored(page, id);
  expect((document as unknown as Design).drivers[2].sheet).toMatchObject({
    ratedAs: 'noise',
    ratedWatts: 1,
  });
});

test('what can be read in two ways is asked back, and nothing is taken over', async ({ page }) => {
  await openDemo(page);
  await part(page, 'C1').click();
  const value = page.getByRole('textbox', { name: /^Value/ });
  for (const [typed, asked] of [
    ['4R7', 'Type 4u7.'],
    ['10 MF', 'Type 10 µF.'],
    ['2,500', 'Type 2.5 or 2500.'],
  ]) {
    await value.fill(typed);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('alert').filter({ hasText: asked })).toBeVisible();
    await expect(value).toHaveValue(typed);
  }
  await value.press('Escape');
  await expect(value).toHaveValue('56 µF');
});

test('a promise that a coil breaks says where, and which parts move it', async ({ page }) => {
  // Wide enough for every promise: kept ones make room for broken ones.
  await page.setViewportSize({ width: 1900, height: 800 });
  await openDemo(page);
  const impedance = promise(page, 'lowest-impedance');
  await expect(impedance).toHaveAttribute('data-state', 'broken');
  await part(page, 'L1').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowUp');
  await part(page, 'L3').focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp');
  await expect(impedance).toHaveAttribute('data-state', 'kept');
  const kept = await impedance.locator('output').textContent();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowDown');
  await expect(impedance).toHaveAttribute('data-state', 'broken');
  expect(await impedance.locator('output').textContent()).not.toBe(kept);
  await expect(impedance).toContainText('≥ 4.8 Ω');
  await expect(impedance).toHaveAccessibleName(/Now [\d.]+ Ω at [\d.]+ k?Hz, broken/);
  await expect(impedance).toHaveAccessibleName(/What moves it most: [A-Z]\d+ (larger|smaller)/);
  // The value on the strip is the one that the impedance chart tells.
  await expect(async () => {
    const told = await page.getByText(/^lowest [\d.]+ Ω at/).textContent();
    expect(await impedance.locator('output').textContent()).toContain(/[\d.]+/.exec(told!)![0]);
  }).toPass();
  // From any screen, the promise leads to the place where it is mended.
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  await impedance.focus();
  await page.keyboard.press('Enter');
  await page.waitForURL(/network$/);
});

test('promises are adjusted, taken away, brought back, and made by hand', async ({ page }) => {
  const id = await openDemo(page);
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  await page.getByLabel('On axis: at most').fill('5');
  await page.keyboard.press('Enter');
  await expect(promise(page, 'on-axis')).toHaveAttribute('data-state', 'kept');
  await page.getByRole('button', { name: 'as derived' }).click();
  await expect(promise(page, 'on-axis')).toHaveAttribute('data-state', 'broken');
  await page.getByRole('button', { name: 'Take Excursion away' }).click();
  const excursion = page.getByRole('row', { name: /^Excursion/ });
  await expect(excursion).toHaveCount(0);
  await page.getByRole('button', { name: 'bring back Excursion' }).click();
  await expect(excursion).toHaveCount(1);
  await page.getByRole('button', { name: 'Add a promise' }).click();
  await expect(page.getByText('made by hand')).toBeVisible();
  await expectSaved(page);
  expect((await stored(page, id)).document).toMatchObject({
    promises: [{ kind: 'lowest-impedance', isOff: false }],
  });
  // One step at a time, all of it can be taken back.
  for (let i = 0; i < 5; i++) await page.keyboard.press('Control+z');
  await expect(page.getByText('made by hand')).toHaveCount(0);
  await expect(page.getByLabel('On axis: at most')).toHaveValue('1.5 dB');
});

test('what gives way first is ranked by dragging, and a target point is dragged', async ({
  page,
}) => {
  await openDemo(page);
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  const rows = page.getByRole('row');
  await expect(rows.first()).toContainText('money');
  await page.getByRole('row', { name: /^F3: / }).dragTo(rows.first(), {
    targetPosition: { x: 60, y: 2 },
  });
  await expect(rows.first()).toContainText('F3');
  await page.getByRole('button', { name: /Shape$/ }).click();
  await page.getByRole('option', { name: 'drawn by points' }).click();
  const point = page.getByRole('slider', { name: 'Point 3 of the target' });
  await point.scrollIntoViewIfNeeded();
  const box = (await point.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y - 25, { steps: 4 });
  await page.mouse.up();
  await expect(point).toHaveAttribute('aria-valuetext', /^\d.*Hz, [2-9]\.\d dB$/);
  // The whole drag is one step.
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(point).toHaveAttribute('aria-valuetext', /, 0\.0 dB$/);
});

test('a target is chosen, drawn by points with the keyboard, and read from a table', async ({
  page,
}) => {
  await openDemo(page);
  await page.keyboard.press('1');
  await page.waitForURL(/brief$/);
  const shape = page.locator('[data-target]');
  const flat = await shape.getAttribute('d');
  const deviation = promise(page, 'on-axis').locator('output');
  const ofFlat = await deviation.textContent();
  await page.getByRole('button', { name: /House target$/ }).click();
  await page.getByRole('option', { name: 'Low sun' }).click();
  await expect(shape).not.toHaveAttribute('d', flat!);
  await expect(deviation).not.toHaveText(ofFlat!);
  const before = await deviation.textContent();
  await page.getByRole('button', { name: /Shape$/ }).click();
  await page.getByRole('option', { name: 'drawn by points' }).click();
  await page.getByRole('slider', { name: 'Point 5 of the target' }).focus();
  for (let i = 0; i < 60; i++) await page.keyboard.press('ArrowUp');
  await expect(deviation).not.toHaveText(before!);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Read it from a table' }).click(),
  ]);
  await chooser.setFiles({
    name: 'house.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('Hz dB\n20 84\n200 83\n1000 80\n20000 78\n'),
  });
  await expect(page.getByText('4 points.')).toBeVisible();
  await expect(page.getByRole('slider', { name: 'Point 1 of the target' })).toHaveAttribute(
    'aria-valuetext',
    '20 Hz, 4.0 dB',
  );
});
