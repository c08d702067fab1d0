import { defineConfig } from '@playwright/test';
import { browser } from './scripts/lib/prepare.mjs';

/** What takes longest begins first, so that it is not what everything waits for at the end. */
const longest = /(views|roster|practices|journey)\.spec/;

export default defineConfig({
  projects: [
    { name: 'first', testMatch: longest },
    { name: 'then', testIgnore: longest },
  ],
  testDir: 'tests/e2e',
  globalSetup: './tests/e2e/demo.ts',
  // the longest takes 40 s; a machine on which others work can take five times that
  timeout: 300_000,
  // as long as a busy machine needs, not longer than what never comes is waited for elsewhere
  expect: { timeout: 20_000 },
  // each with servers of its own; one more than there are cores, since a page waits as often as it computes
  workers: 3,
  // a second try tells what is flaky from what is broken; either fails the run
  retries: process.env.CI ? 1 : 0,
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  outputDir: 'test-results/files',
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 15_000,
    // what moves has arrived: drawing in between is what a machine without a graphics card is slow at
    contextOptions: { reducedMotion: 'reduce' },
    trace: 'off',
    launchOptions: {
      executablePath: browser(),
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
