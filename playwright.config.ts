import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium';

/**
 * The real interface on the production build: one shop that starts empty, one with a short demo past.
 * Services stand still unless a test moves them.
 */
const start = (args: string) => `node node_modules/tsx/dist/cli.mjs scripts/start.ts --pace still ${args}`;

export default defineConfig({
  testDir: 'e2e',
  workers: 1,
  timeout: 300_000,
  // What is awaited is there within a second or two; a machine that is busy with other things may take long.
  expect: { timeout: 45_000 * Number(process.env.SLOWED ?? 1) },
  reporter: [['list']],
  // Two more tries on a busy machine; a test that needed one is reported as flaky.
  retries: process.env.CI ? 2 : 0,
  forbidOnly: Boolean(process.env.CI),
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    trace: 'retain-on-failure',
    launchOptions: CHROMIUM,
  },
  webServer: [
    {
      command: start('--empty --port 4910 --data .sampan/test-empty'),
      url: 'http://127.0.0.1:4910/api/health',
      timeout: 60_000,
    },
    {
      command: start('--port 4920 --items 400 --data .sampan/test-demo'),
      url: 'http://127.0.0.1:4920/api/health',
      timeout: 60_000,
    },
  ],
});
