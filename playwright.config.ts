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

/**
 * What stops workers or the database, or keeps the whole server busy, runs by itself; the rest two at a time, since a page that is drawn
 * leaves the server idle, and the other way round.
 */
const ALONE = ['database-away', 'killed-mods', 'workers', 'hard-runs', 'safety'].map(
  (name) => `**/${name}.spec.ts`,
);
const isAlone = process.env.ZERO_LATCH_ALONE !== undefined;

/** Browser tests run against the application that bin/test has started; see bin/lib/test.mjs. */
export default defineConfig({
  testDir: 'e2e',
  ...(isAlone ? { testMatch: ALONE, workers: 1 } : { testIgnore: ALONE, workers: 2 }),
  fullyParallel: false,
  retries: 0,
  // Bounds for a machine that other builds slow down; nothing waits this long when all is well.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: [['list'], ['json', { outputFile: `test-results/browser${isAlone ? '-alone' : ''}.json` }]],
  outputDir: `test-results/browser${isAlone ? '-alone' : ''}`,
  use: {
    baseURL: address.origin,
    storageState: { cookies: [cookie], origins: [] },
    viewport: { width: 1280, height: 800 },
    actionTimeout: 30_000,
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
