import { defineConfig } from '@playwright/test';

/** End-to-end tests in Debian's Chromium against the server that bin/test has started (CORK_TEST_ADDRESS). */
export default defineConfig({
  testDir: 'tests/e2e',
  testMatch: '*.spec.ts',
  workers: 1,
  // Limits end what hangs; none is a judgement of speed, which depends on the machine.
  timeout: 20 * 60_000,
  expect: { timeout: 5 * 60_000 },
  reporter: [['list'], ['json', { outputFile: process.env.CORK_PLAYWRIGHT_JSON ?? '.data/playwright.json' }]],
  outputDir: '.data/playwright',
  use: {
    baseURL: process.env.CORK_TEST_ADDRESS ?? 'http://127.0.0.1:4310',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-dev-shm-usage',
        '--disable-background-networking',
        '--disable-component-update',
        '--no-first-run',
      ],
    },
  },
});
