// What the page of a game of a hundred thousand entries and more takes: first contents, answers to clicks, long tasks while it is scrolled: node bench/scroll.mjs ADDRESS GAME,
// ADDRESS as bin/start prints it.
import { chromium } from '@playwright/test';
import { enter } from '../bin/lib/enter.mjs';

const [printed, game] = process.argv.slice(2);
if (!game) {
  process.stderr.write('usage: npm run bench:scroll -- ADDRESS GAME, of an application that runs\n');
  process.exit(2);
}
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  // As a browser without a graphics card draws pages.
  args: ['--no-sandbox', '--disable-gpu'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const { address } = await enter(printed);
await page.goto(printed);
const median = (all) => [...all].sort((a, b) => a - b)[all.length >> 1];
/** Milliseconds until something of a screen's own is there. */
async function first(place, what) {
  const times = [];
  for (let i = 0; i < 3; i++) {
    const began = performance.now();
    await page.goto(`${address}/games/${game}/${place}`);
    await what().first().waitFor();
    times.push(performance.now() - began);
  }
  return `${place} ${median(times).toFixed(0)} ms`;
}
const shown = [
  await first('locks', () => page.locator('main tbody tr').nth(3)),
  await first('folder', () => page.getByRole('main').getByRole('listitem')),
  await first('contents', () => page.locator('[data-entry]')),
];
process.stdout.write(`first contents: ${shown.join(', ')}\n`);
const list = page.getByRole('grid', { name: 'Entries' });
/** From the press to the next picture, as the browser itself measures it (W3C Event Timing): what Playwright waits for is not in it. */
await page.evaluate(() => {
  window.answers = [];
  new PerformanceObserver((found) => {
    for (const { name, duration } of found.getEntries()) if (name === 'click') window.answers.push(duration);
  }).observe({ type: 'event', durationThreshold: 16 });
});
const CLICKS = 12;
for (let i = 0; i < CLICKS; i++) {
  await page
    .locator('[data-entry]')
    .nth(2 + i)
    .click();
  await page.waitForFunction(
    (at) => document.querySelectorAll('[data-entry]')[at]?.getAttribute('aria-selected') === 'true',
    2 + i,
  );
}
const clicks = await page.evaluate(() => window.answers);
// Those under 16 ms are not told.
while (clicks.length < CLICKS) clicks.push(16);
process.stdout.write(
  `a click is answered in ${median(clicks).toFixed(0)} ms, at most ${Math.max(...clicks).toFixed(0)} ms\n`,
);
await page.waitForTimeout(2000);
const count = await list.getAttribute('aria-rowcount');
const { tasks, frames } = await list.evaluate(async (box) => {
  const long = [];
  const observer = new PerformanceObserver((found) => {
    for (const entry of found.getEntries()) long.push(entry.duration);
  });
  observer.observe({ type: 'longtask' });
  let drawn = 0;
  const step = (by) =>
    new Promise((resolve) =>
      requestAnimationFrame(() => {
        box.scrollTop += by;
        drawn++;
        resolve();
      }),
    );
  // By the wheel, by the page, and with the bar.
  for (let i = 0; i < 200; i++) await step(120);
  for (let i = 0; i < 100; i++) await step(600);
  for (let i = 1; i <= 50; i++) await step(box.scrollHeight / 60);
  await new Promise((resolve) => setTimeout(resolve, 500));
  observer.disconnect();
  return { tasks: long, frames: drawn };
});
await browser.close();
process.stdout.write(
  `${Number(count).toLocaleString('en')} rows, ${frames} steps: ${tasks.length} tasks over 50 ms${tasks.length > 0 ? `, the longest ${Math.max(...tasks).toFixed(0)} ms` : ''}\n`,
);
