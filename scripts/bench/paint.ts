/**
 * A part of npm run bench: from a key stroke that moves one value to the picture of its curves, in
 * headless Chromium. Read off the browser's own trace: the key stroke, and the first frame that was
 * shown after the curves were drawn.
 */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';

interface TraceEvent {
  readonly name: string;
  /** Microseconds. */
  readonly ts: number;
}

const strokes = 60;

/** Milliseconds from each key stroke to the frame that shows its curves. */
async function keyToPictureMs(page: Page, traceFile: string): Promise<number[]> {
  await page.getByRole('button', { name: /^C1, / }).click();
  const value = page.getByLabel(/^Value/);
  await value.focus();
  await page.evaluate(() => {
    document.addEventListener('keydown', () => performance.mark('key'), true);
    // Each chart clears its canvas before it draws.
    const pens = CanvasRenderingContext2D.prototype as unknown as Record<'clearRect', () => void>;
    pens.clearRect = new Proxy(pens.clearRect, {
      apply(clear, pen, box) {
        performance.mark('drawn');
        Reflect.apply(clear, pen, box);
      },
    });
  });
  for (let i = 0; i < 10; i++) await value.press('ArrowUp', { delay: 5 });
  const browser = page.context().browser()!;
  await browser.startTracing(page, {
    path: traceFile,
    categories: ['blink.user_timing', 'viz', 'benchmark', 'cc', 'devtools.timeline'],
  });
  for (let i = 0; i < strokes; i++) {
    await value.press(i % 2 === 0 ? 'ArrowUp' : 'ArrowDown');
    await page.waitForTimeout(120);
  }
  await browser.stopTracing();
  const { traceEvents } = JSON.parse(readFileSync(traceFile, 'utf8')) as {
    traceEvents: TraceEvent[];
  };
  return latencies(traceEvents);
}

function latencies(events: readonly TraceEvent[]): number[] {
  const times = (name: string) =>
    events
      .filter((event) => event.name === name)
      .map(({ ts }) => ts)
      .sort((a, b) => a - b);
  const [keys, draws, frames] = [times('key'), times('drawn'), times('Display::FrameDisplayed')];
  return keys.flatMap((key, k) => {
    const next = keys[k + 1] ?? Infinity;
    const drawn = draws.find((ts) => ts > key && ts < next);
    const shown = drawn === undefined ? undefined : frames.find((ts) => ts > drawn);
    return shown === undefined ? [] : [(shown - key) / 1000];
  });
}

/** Median and 95th percentile at a server that has the demo. */
export async function paintTest(url: string): Promise<{ medianMs: number; p95Ms: number }> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      ...['--disable-gpu', '--disable-quic', '--disable-background-networking'],
    ],
  });
  const folder = mkdtempSync(join(tmpdir(), 'fair-paint-'));
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: url });
    await page.goto('/');
    await page.getByRole('button', { name: 'Open the demo' }).click();
    await page.locator('[data-curve="sum"]').first().waitFor({ state: 'attached' });
    // The worker runs its code warm first.
    await page.waitForTimeout(3000);
    const times = await keyToPictureMs(page, join(folder, 'trace.json'));
    times.sort((a, b) => a - b);
    return {
      medianMs: times[times.length >> 1],
      p95Ms: times[Math.floor(times.length * 0.95)],
    };
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true });
  }
}
