/** Groups on the rails, fitting, rounding, searching and taking over; every step can be undone. */
import { expect, test, type Page } from '@playwright/test';
import { drawn, expectSaved, openDemo, part, settled, stored } from './desk';

const side = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();
const undo = (page: Page) => page.getByRole('button', { name: /^Undo: / });

/** Whether the sum is drawn as it was; without printing thousands of points when it is not. */
const expectDrawn = (page: Page, path: string, isSame: boolean) =>
  expect.poll(async () => (await drawn(page, 'sum')) === path).toBe(isSame);

/** Half the height of the band on axis, as the strip shows it; no number while it is worked out. */
async function deviation(page: Page): Promise<number> {
  const told = await page.locator('[data-promise="on-axis"]').getAttribute('aria-label');
  return Number(/Now ±([\d.]+)/.exec(told!)?.[1] ?? NaN);
}

/** Takes over the first of these networks, and gives the deviation on axis that the table tells. */
async function takeOver(page: Page, name: RegExp): Promise<number> {
  const first = page.getByRole('button', { name }).first();
  const told = Number(/±([\d.]+) dB/.exec((await first.getAttribute('aria-label'))!)![1]);
  await first.click();
  return told;
}

/** The strip, with its one decimal, tells what the table has told with two. */
const expectDeviation = (page: Page, told: number) =>
  expect.poll(async () => Math.abs((await deviation(page)) - told)).toBeLessThan(0.056);

test('parts are joined, moved, left out, locked and taken apart by keyboard alone', async ({
  page,
}) => {
  const id = await openDemo(page);
  await part(page, 'L3').focus();
  await page.keyboard.press('Shift+G');
  await expect(undo(page)).toHaveAccessibleName('Undo: join L3 in parallel with the next');
  // The trap stops the midrange somewhere: its curve has changed.
  await part(page, 'C3').focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(undo(page)).toHaveAccessibleName('Undo: move C3');
  await page.keyboard.press('x');
  await expect(part(page, 'C3')).toHaveAccessibleName(/excluded/);
  await page.keyboard.press('x');
  await page.keyboard.press('k');
  await expect(part(page, 'C3')).toHaveAccessibleName(/locked/);
  const before = await settled(page, 'sum');
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(300);
  await expectDrawn(page, before, true);
  await page.keyboard.press('k');
  await page.keyboard.press('ArrowUp');
  await expectDrawn(page, before, false);
  await page.keyboard.press('u');
  await expect(undo(page)).toHaveAccessibleName('Undo: take C3 out of its group');
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: { ways: { groups: unknown[]; parts: { name: string }[] }[] };
  };
  expect(document.ways[1].groups).toEqual([]);
  expect(document.ways[1].parts.map(({ name }) => name)).toEqual(['C2', 'L3', 'C3', 'L2', 'R1']);
});

test('the free values are fitted, rounded to what one can buy, and all of it undone', async ({
  page,
}) => {
  test.slow();
  const id = await openDemo(page);
  const start = await settled(page, 'sum');
  await expect.poll(() => deviation(page)).toBeGreaterThan(3);
  await side(page, 'Fit');
  await expect(page.getByRole('button', { name: 'Fit', exact: true })).toBeDisabled();
  // What it keeps is told before.
  await expect(page.getByText(/^Keeps .*\|Z\| above 4\.8 Ω/)).toBeVisible();
  await page.getByRole('button', { name: 'Free all' }).click();
  const starts = page.getByRole('textbox', { name: 'number of starts' });
  await starts.fill('2');
  await starts.press('Enter');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await expect(page.getByText(/^Fitted with/)).toBeVisible({ timeout: 60_000 });
  await expect.poll(() => deviation(page)).toBeLessThan(1.8);
  // The outcome stands first, the settings are folded, and the focus is where it was.
  await expect(page.getByRole('list', { name: 'Parts to fit' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'Fit', exact: true })).toBeFocused();
  await expect(page.getByText(/would have to give to|all promises kept/)).toBeVisible();
  await page.getByRole('button', { name: 'Round to values one can buy' }).click();
  await expect(page.getByText(/^Rounded with/)).toBeVisible({ timeout: 60_000 });
  await expectSaved(page);
  const { document } = await stored(page, id);
  const farads = document.ways.flatMap(({ parts }) => parts.flatMap((one) => one.farads ?? []));
  for (const value of farads)
    expect(value.toExponential(6)).toMatch(/^(1\.[0258]|2\.[27]|3\.[39]|4\.7|5\.6|6\.8|8\.2)0+e/);
  for (const label of ['round to values one can buy', 'fit the free values', 'free all parts']) {
    await expect(undo(page)).toHaveAccessibleName(`Undo: ${label}`);
    await undo(page).click();
  }
  await expectDrawn(page, start, true);
});

test('a fit that is stopped keeps the best; a linked part follows', async ({ page }) => {
  await openDemo(page);
  await side(page, 'Fit');
  await page.getByRole('button', { name: /link C3 to$/ }).click();
  await page.getByRole('option', { name: 'keep the ratio to C2' }).click();
  await expect(page.getByText('0.17 × C2')).toBeVisible();
  await page.getByRole('button', { name: 'Free all' }).click();
  const starts = page.getByRole('textbox', { name: 'number of starts' });
  await starts.fill('200');
  await starts.press('Enter');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await expect(undo(page)).toHaveAccessibleName('Undo: fit the free values', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByText('Stopped; the best so far is on the desk.')).toBeVisible();
  await expect.poll(() => deviation(page)).toBeLessThan(3);
});

test('heat and money bind a fit, and what hardly matters is left out; the limits stay for the next visit', async ({
  page,
}) => {
  test.slow();
  await openDemo(page);
  const start = await settled(page, 'sum');
  await side(page, 'Fit');
  await page.getByRole('button', { name: 'Free all' }).click();
  const write = async (label: string, text: string) => {
    const blank = page.getByRole('textbox', { name: label });
    await blank.fill(text);
    await blank.press('Enter');
  };
  await write('number of starts', '2');
  await write('most heat in a resistor', '5 W');
  await write('most money for all parts', '120');
  await expect(page.getByText(/no resistor above 5\.0 W/)).toBeVisible();
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  const outcome = page.getByRole('table', { name: 'What came of it' });
  await expect(outcome).toBeVisible({ timeout: 60_000 });
  const figures = async (row: string) => {
    const cells = await outcome.getByRole('row', { name: row }).getByRole('cell').allTextContents();
    return cells.map((text) => Number(/[\d.]+/.exec(text)![0]));
  };
  const [hotBefore, hot] = await figures('hottest resistor');
  expect(hotBefore).toBeGreaterThan(8);
  expect(hot).toBeLessThan(5.05);
  const [dear, spent] = await figures('cost of parts');
  expect(dear).toBeGreaterThan(140);
  expect(spent).toBeLessThan(121);
  await page.getByText('What it works toward, and with what').click();
  await write('worth of a part', '1 dB');
  await page.getByRole('button', { name: 'Exclude parts that hardly matter' }).click();
  await expect(page.getByText(/^Excluded, not removed: [RLC]\d/)).toBeVisible({ timeout: 60_000 });
  await expect(part(page, 'R3')).toHaveAccessibleName(/excluded/);
  await expect(undo(page)).toHaveAccessibleName(/^Undo: exclude .*R3/);
  await undo(page).click();
  await expect(part(page, 'R3')).not.toHaveAccessibleName(/excluded/);
  await undo(page).click();
  await expectDrawn(page, start, true);
  await expectSaved(page);
  await page.reload();
  await settled(page, 'sum');
  await side(page, 'Search');
  await expect(page.getByRole('textbox', { name: 'most money for all parts' })).toHaveValue('120');
});

test('values are rounded to steps, and to pieces of which each is there once', async ({ page }) => {
  test.slow();
  const id = await openDemo(page);
  await side(page, 'Fit');
  await page.getByRole('button', { name: 'Free all' }).click();
  const round = page.getByRole('button', { name: 'Round to values one can buy' });
  await page.getByRole('button', { name: /series of coils$/ }).click();
  await page.getByRole('option', { name: 'steps of' }).click();
  const step = page.getByRole('textbox', { name: 'step of coils' });
  await step.fill('0.1 mH');
  await step.press('Enter');
  await page.getByRole('button', { name: /series of resistors$/ }).click();
  await page.getByRole('option', { name: 'what is owned' }).click();
  const owned = page.getByRole('textbox', { name: /^Own resistors/ });
  await owned.fill('2.2; 4.7');
  await owned.blur();
  await round.click();
  await expect(page.getByText(/3 resistors are free, and 2 are owned/)).toBeVisible();
  await owned.fill('2.2; 2.2; 8.2; 15');
  await owned.blur();
  await round.click();
  await expect(page.getByText(/^Rounded with/)).toBeVisible({ timeout: 60_000 });
  await expectSaved(page);
  const { document } = await stored(page, id);
  const parts = document.ways.flatMap((way) => way.parts) as unknown as {
    henries?: number;
    ohms?: number;
  }[];
  for (const { henries } of parts)
    if (henries) expect(Math.abs(henries * 1e4 - Math.round(henries * 1e4))).toBeLessThan(1e-6);
  const left = [2.2, 2.2, 8.2, 15];
  for (const { ohms } of parts) {
    if (!ohms) continue;
    expect(left).toContain(ohms);
    left.splice(left.indexOf(ohms), 1);
  }
});

test('a search that is stopped in its first stage keeps what it has fitted', async ({ page }) => {
  await openDemo(page);
  await side(page, 'Search');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.getByText(/looking at the families: [1-9]\d+ of/)).toBeVisible({
    timeout: 30_000,
  });
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByText(/^Stopped\. \d+ networks fitted; [1-9]\d* are left/)).toBeVisible();
  await expect(page.getByRole('button', { name: /^Take over the network/ }).first()).toBeVisible();
});

test('networks are found from nothing, looked at, and one is taken over as a variant', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const id = await openDemo(page);
  const start = await settled(page, 'sum');
  await side(page, 'Search');
  const most = page.getByRole('textbox', { name: 'largest number of parts' });
  await most.fill('6');
  await most.press('Enter');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.getByText(/networks fitted; \d+ are left/)).toBeVisible({ timeout: 120_000 });
  await expect(page.getByRole('list', { name: 'Best for' })).toContainText('Best for response:');
  const shows = page.getByRole('button', { name: /^Show the network of/ });
  // Sorted by parts, the simplest comes first.
  await page.getByRole('button', { name: /order of the networks$/ }).click();
  await page.getByRole('option', { name: 'parts', exact: true }).click();
  const counts = (await shows.allTextContents()).map(Number);
  expect(counts).toEqual([...counts].sort((a, b) => a - b));
  await shows.last().focus();
  await expect(page.getByText('Only looked at: the design itself is unchanged.')).toBeVisible();
  await expectDrawn(page, start, false);
  await page.getByRole('button', { name: 'Back to the design' }).click();
  await expectDrawn(page, start, true);
  const told = await takeOver(page, /^Take over the network of 6 parts/);
  await expect(undo(page)).toHaveAccessibleName('Undo: take over a network of 6 parts');
  await expectDeviation(page, told);
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: { variant: string; ways: { parts: unknown[] }[] };
  };
  expect(document.variant).toMatch(/^found, 6 parts/);
  expect(document.ways.flatMap(({ parts }) => parts)).toHaveLength(6);
  await undo(page).click();
  await expectDrawn(page, start, true);
});

test('the chosen part tells its influence, its heat and its failures; the cursor tells who acts', async ({
  page,
}) => {
  await openDemo(page);
  await part(page, 'R1').click();
  await expect(page.locator('[data-curve="influence"]')).toBeAttached();
  await expect(page.getByText(/A tenth more moves the sum by [−+][\d.]+ dB at/)).toBeVisible();
  await expect(
    page.getByText(/With the amplifier 3 dB into clipping, a worst case \(22\.0 V rms\)/),
  ).toBeVisible();
  // More than a watt: clearances, and that it burns skin even at half of its rating.
  await expect(
    page.getByText(/of heat\. Rated for \d+ W or more .* it burns skin\./),
  ).toBeVisible();
  await expect(page.getByText(/If it breaks: .* If it shorts: /)).toBeVisible();
  const chart = page.getByRole('figure', { name: /^On axis/ });
  const box = (await chart.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.75, box.y + box.height / 2);
  await expect(page.getByText(/^At [\d.]+ k?Hz act [RLC]\d [−+]/)).toBeVisible();
});

test('textbook beginnings are put on a rail, and can be undone', async ({ page }) => {
  const id = await openDemo(page);
  const start = await settled(page, 'sum');
  await page.getByRole('button', { name: /^Midrange: Midrange/ }).click();
  await expect(page.getByText(/Crosses over from Woofer at [\d.]+ Hz, \d+° apart/)).toBeVisible();
  await expect(page.getByText(/Crosses over to Tweeter at [\d.]+ kHz/)).toBeVisible();
  const points = page.getByRole('list', { name: 'Starting points for Midrange' });
  for (const label of [
    'Put the slope on the rail',
    'Put the L-pad before the driver',
    'Put the Zobel network across the driver',
    'Put the step on the rail',
    'Put the trap on the rail',
  ])
    await points.getByRole('button', { name: label }).click();
  await expectSaved(page);
  const { document } = (await stored(page, id)) as unknown as {
    document: { ways: { groups: { join: string }[]; parts: unknown[] }[] };
  };
  expect(document.ways[1].parts).toHaveLength(5 + 2 + 2 + 2 + 2 + 3);
  expect(document.ways[1].groups.map(({ join }) => join)).toEqual([
    'series',
    'parallel',
    'parallel',
  ]);
  await expectDrawn(page, start, false);
  for (let step = 0; step < 5; step++) await undo(page).click();
  await expectDrawn(page, start, true);
  // Or in place of what is there.
  await points.getByText('In place of what is on the rail').click();
  await points.getByRole('button', { name: 'Put the slope on the rail' }).click();
  await expectSaved(page);
  const replaced = await stored(page, id);
  expect(replaced.document.ways[1].parts.map(({ name }) => name)).toEqual(['L2', 'C2']);
});

test('with an empty brief a search keeps the load and protects the drivers, and the strip agrees with the table', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const own = await openDemo(page);
  // The demo as somebody would have it who answered nothing.
  const { document } = (await stored(page, own)) as unknown as {
    document: { brief: Record<string, unknown> };
  };
  const brief = Object.fromEntries(
    Object.entries(document.brief).map(([key, value]) => [
      key,
      Array.isArray(value) ? [] : key === 'currency' || key === 'mustUse' ? value : null,
    ]),
  );
  const made = await page.request.post('/api/projects', {
    data: { document: { ...document, name: 'Nothing answered', brief } },
  });
  expect(made.ok()).toBe(true);
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/p/${id}/network`);
  await side(page, 'Search');
  const most = page.getByRole('textbox', { name: 'largest number of parts' });
  await most.fill('7');
  await most.press('Enter');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.getByText(/networks fitted; \d+ are left/)).toBeVisible({ timeout: 120_000 });
  const table = page.getByRole('table', { name: 'Networks found' });
  const first = (await table.locator('tbody').first().textContent())!;
  expect(first).toContain('Keeps all promises.');
  expect(first).toMatch(/Reserves: .*drivers’ power/);
  await takeOver(page, /^Take over the network/);
  // Every promise on the strip is kept, with the reserves that the table tells.
  await expect
    .poll(async () => {
      const states = await page
        .locator('[data-promise]')
        .evaluateAll((all) => all.map((one) => one.getAttribute('data-state')));
      return states.includes('kept') && !states.includes('broken');
    })
    .toBe(true);
  const strip = page.getByRole('region', { name: 'Promises' });
  const [, power, excursion] = /Reserves: drivers’ power ([\d.]+ ×), excursion ([\d.]+ ×)/.exec(
    first,
  )!;
  for (const [name, figure] of [
    ['Drivers’ power', power],
    ['Excursion', excursion],
  ])
    await expect(
      strip.getByRole('link', { name: new RegExp(`^${name}\\..* Now ${figure}, kept`) }),
    ).toBeVisible();
});

test('slopes, levels and delays are tried through active filters before parts are sought', async ({
  page,
}) => {
  await openDemo(page);
  await page.keyboard.press('Alt+4');
  const sheet = page.getByRole('tabpanel', { name: 'Slopes' });
  await expect(sheet.getByText(/±[\d.]+ dB in the band of the target/)).toBeVisible();
  const tweeter = sheet.getByRole('region', { name: 'Tweeter' });
  await tweeter.getByRole('button', { name: /how it shall rise/ }).click();
  await page.getByRole('option', { name: 'as Linkwitz–Riley 4' }).click();
  await expect(undo(page)).toHaveAccessibleName('Undo: slopes of Tweeter');
  const told = async () =>
    Number(/±([\d.]+) dB/.exec((await sheet.getByText(/in the band of/).textContent())!)![1]);
  const before = await told();
  await page.keyboard.press('Control+Enter');
  await expect.poll(told).toBeLessThan(before);
  const evened = await told();
  // What is tried by hand is kept while other panes are looked at.
  const level = tweeter.getByRole('textbox', { name: 'level of Tweeter' });
  await level.fill('-12 dB');
  await level.press('Enter');
  await expect.poll(told).toBeGreaterThan(evened);
  await page.keyboard.press('Alt+1');
  await page.keyboard.press('Alt+4');
  await expect(level).toHaveValue('−12 dB');
  await sheet.getByRole('button', { name: 'All plain' }).click();
  await expect(level).toHaveValue('0 dB');
});

test('a search takes only values that one can have', async ({ page }) => {
  test.slow();
  await openDemo(page);
  await side(page, 'Search');
  const parts = page.getByRole('textbox', { name: 'largest number of parts' });
  await parts.fill('6');
  await parts.press('Enter');
  await page.getByText('Only values that one can have').click();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText(/taking values that one can have/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/networks fitted; \d+ are left/)).toBeVisible({ timeout: 60_000 });
  await page
    .getByRole('button', { name: /^Take over/ })
    .first()
    .click();
  // E12 capacitors, as the sheet has them at first.
  await expect(undo(page)).toHaveAccessibleName(/take over a network/);
  const value = await part(page, 'C1').getAttribute('aria-label');
  const digits = /([\d.]+) [µn]F/
    .exec(value!)![1]
    .replace('.', '')
    .replace(/^0+|0+$/g, '');
  expect('1 12 15 18 22 27 33 39 47 56 68 82'.split(' ')).toContain(digits);
});
