/**
 * npm run screenshots: makes docs/screenshots from the demo in a running application (npm start),
 * one picture of each main view.
 */
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';

const address = process.env.FAIR_URL ?? 'http://127.0.0.1:8417';
const folder = join(import.meta.dirname, '../docs/screenshots');
const demoFolder = join(import.meta.dirname, '../demo/reading-room');

/** The demo as it is at first: what an earlier picture has done to it goes. */
async function openDemo(page: Page): Promise<void> {
  const projects = (await (await page.request.get(`${address}/api/projects`)).json()) as {
    readonly id: string;
    readonly isDemo: boolean;
  }[];
  for (const { id, isDemo } of projects)
    if (isDemo) await page.request.delete(`${address}/api/projects/${id}`);
  await page.goto(address);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.locator('[data-curve="sum"]').first().waitFor({ state: 'attached' });
}

const shoot = async (page: Page, name: string) => {
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(folder, `${name}.png`) });
};

/** A first version kept under a name, and a better one after it. */
async function workForTheLog(page: Page): Promise<void> {
  await page.getByRole('link', { name: /^Log/ }).click();
  await page.getByLabel('Name of this version').fill('textbook slopes');
  await page.keyboard.press('Enter');
  await page.getByRole('option', { name: /textbook slopes/ }).waitFor();
  await page.getByRole('link', { name: /^Network/ }).click();
  for (const [name, steps] of [
    ['L1', 3],
    ['L3', 4],
  ] as const) {
    await page.getByRole('button', { name: new RegExp(`^${name}, `) }).focus();
    for (let i = 0; i < steps; i++) await page.keyboard.press('ArrowUp');
  }
  await page
    .getByRole('status')
    .filter({ hasText: /^saved$/ })
    .waitFor();
  await page.getByRole('link', { name: /^Log/ }).click();
  await page.getByRole('option', { name: /set L1/ }).click();
  await page.getByRole('row', { name: /^L3/ }).waitFor();
}

const choose = async (page: Page, label: string, option: string) => {
  await page.getByRole('button', { name: new RegExp(`${label}$`) }).click();
  await page.getByRole('option', { name: option }).click();
};

/** A sweep from the practice rig with its floor, gated; then depth and the library. */
async function conditionOnTheBench(page: Page): Promise<void> {
  const tab = (name: string) => page.getByRole('tab', { name, exact: true }).click();
  const measure = async (button: string) => {
    await page.getByRole('button', { name: button }).click();
    const bar = page.getByRole('progressbar');
    await bar.waitFor();
    await bar.waitFor({ state: 'detached' });
  };
  await tab('Measure');
  await measure('Play the sweep');
  await tab('Measurement');
  await page.getByRole('button', { name: 'Add this step: Gate' }).click();
  await page.locator('[data-mark="under the gate"]').waitFor();
  await shoot(page, 'bench');
  await tab('Measure');
  await choose(page, 'driver in the rig', 'the demo’s midrange');
  await choose(page, 'driver beside it', 'the demo’s tweeter');
  await page.getByRole('textbox', { name: 'height above the floor' }).fill('');
  await page.keyboard.press('Enter');
  await measure('Play the sweep');
  await tab('Depth');
  await page.getByRole('button', { name: 'Find the offset' }).click();
  await page.getByText(/mm ± /).waitFor();
  await shoot(page, 'bench-depth');
  await tab('Library');
  await page.getByRole('button', { name: 'Put it there' }).click();
  await page.getByText('is in the library.').waitFor();
  await shoot(page, 'bench-library');
}

/** The midrange between its side edges; then places that were searched. */
async function layOutTheBaffle(page: Page): Promise<void> {
  await page.getByRole('link', { name: /^Baffle/ }).click();
  const front = page.getByRole('group', { name: 'Front of the baffle, to scale' });
  await front.getByRole('button', { name: /^Midrange,/ }).focus();
  await page.getByText('two edges at 150 mm').waitFor();
  await page.getByRole('figure', { name: /^Midrange on this front/ }).waitFor();
  await shoot(page, 'baffle');
  await page.getByRole('tab', { name: 'Places', exact: true }).click();
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await page.getByRole('button', { name: 'Map of Midrange' }).click({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await page.waitForTimeout(1500);
  await shoot(page, 'baffle-places');
}

/** A box that keeps the brief, found and used; then its boards. */
async function chooseABox(page: Page): Promise<void> {
  const tab = (name: string) => page.getByRole('tab', { name, exact: true }).click();
  await page.getByRole('link', { name: /^Box/ }).click();
  await tab('Find');
  await page.getByRole('button', { name: 'Search boxes' }).click();
  await page
    .getByRole('button', { name: /^Keep vented/ })
    .first()
    .click({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Use Box A' }).click();
  await page.locator('[data-promise="reach-3"][data-state="kept"]').waitFor({ timeout: 60_000 });
  await page.getByRole('row', { name: /Box A.*in use/ }).waitFor();
  await shoot(page, 'box');
  await tab('Boards');
  await page.getByRole('table', { name: 'Cut list' }).waitFor();
  await shoot(page, 'box-boards');
}

/** The ballooning with its cause; then the balloon itself, and the seats. */
async function lookAround(page: Page): Promise<void> {
  await page.getByRole('link', { name: /^Around/ }).click();
  await page.getByRole('slider', { name: 'Horizontal: cursor' }).waitFor();
  await page.getByText(/^Removed one at a time/).waitFor({ timeout: 60_000 });
  await page.getByText('Move it: each place is a network').waitFor({ timeout: 120_000 });
  await page.getByText('Taking causes out').waitFor({ state: 'detached', timeout: 60_000 });
  await shoot(page, 'around');
  await page.getByRole('tab', { name: 'Balloon', exact: true }).click();
  await page.getByRole('slider', { name: 'Vertical: cursor' }).focus();
  for (let k = 0; k < 6; k++) await page.keyboard.press('Shift+ArrowRight');
  await page.waitForTimeout(1500);
  await shoot(page, 'around-balloon');
}

/** All values freed and fitted; then a search, looked at one of its networks. */
async function findOnTheNetwork(page: Page): Promise<void> {
  const tab = (name: string) => page.getByRole('tab', { name, exact: true }).click();
  await tab('Fit');
  await page.getByRole('button', { name: 'Free all' }).click();
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.getByText(/^Fitted with/).waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Round to values one can buy' }).scrollIntoViewIfNeeded();
  await shoot(page, 'network-fit');
  await tab('Search');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await page.getByText(/networks fitted; /).waitFor({ timeout: 300_000 });
  await page
    .getByRole('button', { name: /^Show the network of 8 parts/ })
    .first()
    .focus();
  await page.getByText('Only looked at').waitFor();
  await shoot(page, 'network-search');
}

/**
 * A second pair of terminals, a way from behind a part, a bridge, a switch, and a trap to be taken
 * hold of.
 */
async function branchTheNetwork(page: Page): Promise<void> {
  const choose = async (label: RegExp, option: string) => {
    await page.getByRole('button', { name: label }).first().click();
    await page.getByRole('option', { name: option, exact: true }).click();
  };
  await page.getByRole('button', { name: 'Add a second pair' }).click();
  await page.locator('[data-target="way-woofer"]').click();
  await choose(/It starts from$/, 'the pair Pair 2');
  await page.getByRole('button', { name: /^R2, / }).click();
  await choose(/By switch: R2$/, 'set by a new switch');
  await page.getByLabel(/^Value/).fill('3.3');
  await page.getByLabel(/^Value/).press('Enter');
  await page.getByRole('button', { name: /^C2, / }).focus();
  await page.keyboard.press('j');
  await page.getByRole('button', { name: /^C5, / }).waitFor();
  await page.keyboard.press('d');
  await page.getByRole('slider', { name: /^Trap / }).waitFor();
  await page.getByRole('button', { name: 'Amplifier and terminals: Pair 2' }).focus();
  await page.getByText('It sees at least').first().waitFor();
  await page.getByRole('heading', { name: 'Terminals' }).scrollIntoViewIfNeeded();
  await page.locator('[data-curve^="beside-"]').first().waitFor({ state: 'attached' });
  await shoot(page, 'network-topology');
}

/** The demo's files, read into a new project all at once. */
async function proposeTheFiles(page: Page): Promise<void> {
  const files = (await readdir(demoFolder)).filter((name) => /\.(txt|csv)$/.test(name));
  await page.goto(address);
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('link', { name: /^Bench/ }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: /^Choose files/ }).click();
  await (await chooser).setFiles(files.map((name) => join(demoFolder, name)));
  await page.getByRole('dialog').waitFor();
  await shoot(page, 'bench-proposal');
}

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
  await page.getByText(/A tenth more moves the sum/).waitFor();
  await shoot(page, 'network');
  await page.getByRole('link', { name: /^Bench/ }).click();
  await page.getByRole('heading', { name: 'Level as measured' }).waitFor();
  await conditionOnTheBench(page);
  await layOutTheBaffle(page);
  await lookAround(page);
  await page.getByRole('link', { name: /^Brief/ }).click();
  await page.getByText('Enclosure').waitFor();
  await shoot(page, 'brief');
  await workForTheLog(page);
  await shoot(page, 'log');
  await page.goto(address);
  await shoot(page, 'projects');
  await openDemo(page);
  await branchTheNetwork(page);
  await proposeTheFiles(page);
  await openDemo(page);
  await chooseABox(page);
  await openDemo(page);
  await findOnTheNetwork(page);

  const dark = await browser.newPage({
    viewport: { width: 1280, height: 800 },
    colorScheme: 'dark',
  });
  await openDemo(dark);
  const chart = dark.getByRole('slider', { name: /^On axis/ });
  await chart.focus();
  await chart.press('End');
  for (let i = 0; i < 8; i++) await chart.press('Shift+ArrowLeft');
  await shoot(dark, 'dark');
} finally {
  await browser.close();
}
