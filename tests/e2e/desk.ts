import { expect, type Page } from '@playwright/test';

/** Opens a fresh copy of the demo on a stage and waits for its curves. */
export async function openDemo(
  page: Page,
  stage: 'bench' | 'network' = 'network',
): Promise<string> {
  // The list of projects, where one press does this, has tests of its own; it grows with every test.
  const made = await page.request.post('/api/projects', { data: { demo: 'fresh' } });
  expect(made.ok()).toBe(true);
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/p/${id}/network`);
  await expectCurves(page);
  if (stage === 'bench') await page.getByRole('link', { name: /^Bench/ }).click();
  return id;
}

/** The drawn sum is there. */
export async function expectCurves(page: Page): Promise<void> {
  await expect(page.locator('[data-curve="sum"]').first()).toHaveText(/ at 1k/, {
    timeout: 45_000,
  });
}

/** A curve's values at the octaves, as they are read to who does not see it. */
export async function drawn(page: Page, curve: string, chart = 0): Promise<string> {
  const words = await page.locator(`[data-curve="${curve}"]`).nth(chart).textContent();
  return words!.replace(/^[^:]*: /, '');
}

/**
 * The same once it does not change: the curve of the last of several key strokes comes a moment
 * later.
 */
export async function settled(page: Page, curve: string): Promise<string> {
  let before: string | null = null;
  const isStill = async () => {
    const now = await drawn(page, curve);
    const same = now !== null && now === before;
    before = now;
    return same;
  };
  await expect.poll(isStill, { intervals: [300] }).toBe(true);
  return before!;
}

/** What the server holds now. */
export async function stored(page: Page, id: string): Promise<StoredDocument> {
  const response = await page.request.get(`/api/projects/${id}`);
  expect(response.ok()).toBe(true);
  return (await response.json()) as StoredDocument;
}

interface StoredDocument {
  revision: number;
  document: {
    name: string;
    ways: { parts: { name: string; henries?: number; farads?: number }[] }[];
  };
}

export const expectSaved = (page: Page) =>
  expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();

export const part = (page: Page, name: string) =>
  page.getByRole('button', { name: new RegExp(`^${name}, `) });

/** Presses keys ("Alt+2") on what has the focus, all within one task: nothing is drawn between. */
export const pressAtOnce = (page: Page, combinations: readonly string[]) =>
  page.evaluate((all) => {
    for (const combination of all) {
      const names = combination.split('+');
      document.activeElement!.dispatchEvent(
        new KeyboardEvent('keydown', {
          key: names.at(-1)!,
          ctrlKey: names.includes('Ctrl'),
          altKey: names.includes('Alt'),
          bubbles: true,
          cancelable: true,
        }),
      );
    }
  }, combinations);
