import { defineConfig } from '@playwright/test';

/** The real interface, in Debian's Chromium, against the built server. */
export default defineConfig({
  testDir: './src',
  testMatch: '**/*.e2e.ts',
  timeout: 120_000,
  expect: { timeout: 15_000 },
  // Each file has a server and a data folder of its own.
  workers: 2,
  // A test that passes at the second try is listed as flaky: a fault to look for, not one to stop a landing.
  retries: process.env.CI ? 1 : 0,
  // The second one is read by scripts/testTimes.mjs.
  reporter: [['list'], ['json', { outputFile: '../test-results/walks.json' }]],
  outputDir: '../test-results/walks',
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.JUMBLE_CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-dev-shm-usage'],
    },
    screenshot: 'only-on-failure',
  },
});
