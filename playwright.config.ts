import { defineConfig } from '@playwright/test';

const address = new URL(process.env.ZERO_LATCH_ADDRESS ?? 'http://127.0.0.1:4400');
/** As the printed address leaves it in a browser. */
const cookie = {
  name: `zero-latch-${address.port}`,
  value: process.env.ZERO_LATCH_SECRET ?? '',
  domain: address.hostname,
  path: '/',
  expires: -1,
  httpOnly: true,
  secure: false,
  sameSite: 'Strict' as const,
};

/** Browser tests run against the application that bin/test has started; see bin/lib/test.mjs. */
export default defineConfig({
  testDir: 'e2e',
  workers: 1,
  fullyParallel: false,
  retries: 0,
  // Bounds for a machine that other builds slow down; nothing waits this long when all is well.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  outputDir: 'test-results/browser',
  use: {
    baseURL: address.origin,
    storageState: { cookies: [cookie], origins: [] },
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    // What only moves takes time to draw and to wait for.
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        // Only what is drawn by WebGL needs graphics; pages put together by them take twice as long where there is no card.
        '--disable-gpu-compositing',
        '--autoplay-policy=no-user-gesture-required',
        '--disable-dev-shm-usage',
        '--disable-background-networking',
      ],
    },
  },
});
