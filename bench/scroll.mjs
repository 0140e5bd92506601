// Long tasks of the page while a list of a hundred thousand rows and more is scrolled: node bench/scroll.mjs ADDRESS GAME,
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
  args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const { address } = await enter(printed);
await page.goto(printed);
await page.goto(`${address}/games/${game}/contents`);
const list = page.getByRole('listbox', { name: 'Entries' });
await list.getByRole('option').first().waitFor();
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
