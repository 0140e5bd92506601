// How long a page takes to the first picture of a model, and how its frames follow while it is turned: node bench/model-view.mjs ADDRESS GAME ARCHIVE:NUMBER,
// ADDRESS as bin/start prints it. A model of so many triangles is made by bench/hills.ts.
import { chromium } from '@playwright/test';
import { enter } from '../bin/lib/enter.mjs';

const [printed, game, entry] = process.argv.slice(2);
if (!entry) {
  process.stderr.write(
    'usage: npm run bench:model-view -- ADDRESS GAME ARCHIVE:NUMBER, of an application that runs\n',
  );
  process.exit(2);
}
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  // As a browser without a graphics card draws models.
  args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const { address } = await enter(printed);
await page.goto(printed);
const times = [];
for (let i = 0; i < 5; i++) {
  // From a screen of the game, so that what every screen needs is there.
  await page.goto(`${address}/games/${game}/contents?entry=${entry}`);
  await page.getByRole('link', { name: 'Look at it large' }).waitFor();
  await page.locator('[data-stage][data-drawn]').first().waitFor();
  const began = performance.now();
  await page.getByRole('link', { name: 'Look at it large' }).click();
  await page.waitForURL(/\/model\?/);
  await page.locator('[data-stage][data-drawn]').waitFor();
  times.push(performance.now() - began);
}
times.sort((a, b) => a - b);
process.stdout.write(
  `first picture: ${times[2].toFixed(0)} ms in the middle of five, ${times[0].toFixed(0)} to ${times[4].toFixed(0)}\n`,
);
const stage = page.locator('[data-stage]');
await stage.focus();
const frames = await page.evaluate(
  () =>
    new Promise((resolve) => {
      const at = [];
      const began = performance.now();
      const target = document.querySelector('[data-stage]');
      const step = (now) => {
        at.push(now);
        if (now - began > 4000) return resolve(at);
        target.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
        requestAnimationFrame(step);
      };
      requestAnimationFrame(step);
    }),
);
const gaps = frames
  .slice(1)
  .map((at, i) => at - frames[i])
  .sort((a, b) => a - b);
process.stdout.write(
  `turned for 4 s: ${(frames.length / 4).toFixed(0)} frames a second, ${gaps[gaps.length >> 1].toFixed(0)} ms from one to the next, at most ${gaps.at(-1).toFixed(0)} ms\n`,
);
await browser.close();
