import { defineConfig } from '@playwright/test';

const isRoot = process.getuid?.() === 0;

/** Run by scripts/test.mjs, which starts the database and the server and names the address. */
export default defineConfig({
  testDir: 'tests/e2e',
  outputDir: 'test-results',
  fullyParallel: false,
  workers: 2,
  // Generous: a machine that is busy makes a test slow, not wrong.
  timeout: 120_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/playwright.json' }]],
  use: {
    baseURL: process.env.FAIR_URL ?? 'http://127.0.0.1:8417',
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
    // Recording each test takes a third of its time: FAIR_TRACE=1 where one is looked into.
    trace: process.env.FAIR_TRACE ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        ...(isRoot ? ['--no-sandbox'] : []),
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
