// How long a key takes to be seen on the text desk with 100,000 lines: node --import tsx bench/desk-echo.mjs ADDRESS FOLDER, ADDRESS as bin/start prints it, FOLDER a place for the game that is made for it.
import fs from 'node:fs';
import path from 'node:path';
import { tabbedTableText } from './line-texts.ts';
import { madeGame } from './made-game.mjs';

const [printed, folder] = process.argv.slice(2);
if (!folder) {
  process.stderr.write('usage: npm run bench:desk-echo -- ADDRESS FOLDER, of an application that runs\n');
  process.exit(2);
}
for (const tongue of ['en', 'de']) {
  fs.mkdirSync(path.join(folder, 'text', tongue), { recursive: true });
  fs.writeFileSync(path.join(folder, 'text', tongue, 'all.lines'), tabbedTableText(100_000, tongue));
}
const { address, call, game, browser, page } = await madeGame(printed, folder, 'Lines');
await call(`games/${game.id}/mods`, { title: 'Echo' });
await page.goto(`${address}/games/${game.id}/desk`);
const grid = page.getByRole('grid', { name: 'Lines' });
await grid.waitFor();
await page.getByText('100,000 of 100,000 lines').waitFor({ timeout: 120_000 });
await grid.focus();
await page.keyboard.press('ArrowDown');
await page.keyboard.press('Enter');
const field = grid.locator('textarea, input').first();
await field.waitFor();
await page.evaluate(() => {
  window.echoes = [];
  document.addEventListener(
    'input',
    ({ timeStamp }) =>
      requestAnimationFrame(() => {
        // A message comes after the picture of this frame was handed over.
        const { port1, port2 } = new MessageChannel();
        port1.onmessage = () => window.echoes.push(performance.now() - timeStamp);
        port2.postMessage(0);
      }),
    true,
  );
});
for (const letter of 'Odd carries a lantern and forgets the bell at the third landing, twice.') {
  await page.keyboard.type(letter);
  await page.waitForTimeout(60);
}
const echoes = (await page.evaluate(() => window.echoes)).sort((a, b) => a - b);
const at = (part) => echoes[Math.min(echoes.length - 1, Math.floor(echoes.length * part))].toFixed(0);
process.stdout.write(
  `${echoes.length} keys seen after ${at(0.5)} ms in the middle, 95 % within ${at(0.95)} ms, at most ${at(1)} ms\n`,
);
await browser.close();
