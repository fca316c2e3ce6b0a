import { defineConfig } from '@playwright/test';

/** Stories run one after the other: they share one installation, as people do. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.story.ts',
  outputDir: '../test-results',
  workers: 1,
  timeout: 120_000,
  expect: { timeout: 30_000 },
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env['LANTERN_ADDRESS'] ?? 'http://127.0.0.1:4600',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env['LANTERN_CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
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
