import { defineConfig } from '@playwright/test';

/** Chromium without a window or a network of its own. */
const args = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // Phones in the stories trust the authority of their machine, as they would be told to.
  '--ignore-certificate-errors',
];

export default defineConfig({
  testDir: 'src',
  testMatch: '*.story.ts',
  globalSetup: './src/before.ts',
  workers: 2,
  fullyParallel: true,
  // These bounds are for a machine that is busy with something else: who waits this long waits for nothing.
  timeout: 400_000,
  expect: { timeout: 60_000 },
  // What is built is run as it is.
  build: { external: ['**/build/**'] },
  reporter: [['list'], ['json', { outputFile: '../build/stories.json' }]],
  use: {
    launchOptions: { executablePath: '/usr/lib/chromium/chromium-headless-shell', args },
    trace: 'off',
    screenshot: 'off',
  },
});
