// How the pictures of a map of 200 by 200 hexagons follow while it is walked, dragged and zoomed: node bench/map-view.mjs ADDRESS FOLDER, ADDRESS as bin/start prints it, FOLDER a place for
// the game that is made for it.
import fs from 'node:fs';
import path from 'node:path';
import { madeGame } from './made-game.mjs';

const [printed, folder] = process.argv.slice(2);
if (!folder) {
  process.stderr.write('usage: npm run bench:map-view -- ADDRESS FOLDER, of an application that runs\n');
  process.exit(2);
}
const SIDE = 200;
const grounds = Array.from({ length: 12 }, (_, i) => ({ id: 50 + i, name: `ground ${i}` }));
const places = [0, 1, 2].map((n) => ({
  ...{ id: 300 + n, name: `moor ${n}`, wide: SIDE },
  tiles: Array.from({ length: SIDE * SIDE }, (_, i) => 50 + ((i * 7 + n + Math.floor(i / 31)) % 12)),
}));
const stirs = Array.from({ length: 3000 }, (_, i) => ({
  ...{ id: 70_000 + i, place: 300 + (i % 3), q: (i * 37) % SIDE, r: (i * 53) % SIDE, name: `thing ${i}` },
}));
fs.mkdirSync(folder, { recursive: true });
for (const [name, rows] of Object.entries({ grounds, places, stirs }))
  fs.writeFileSync(path.join(folder, `${name}.json`), JSON.stringify(rows));

const { address, game, browser, page } = await madeGame(printed, folder, 'Maps');
const began = performance.now();
await page.goto(`${address}/games/${game.id}/read?table=places.json&row=0&over=map`);
const map = page.locator('[data-drawn=whole]');
await map.waitFor();
process.stdout.write(
  `opened and drawn: ${((performance.now() - began) / 1000).toFixed(1)} s with the page\n`,
);

/** Pictures of the worker in a second while `press` is done at each frame of the page. */
async function measured(title, press) {
  const { pictures, longest } = await page.evaluate(
    async ([what]) => {
      const told = document.querySelector('[data-drawn]');
      const stage = document.querySelector('[role=application]');
      const box = stage.getBoundingClientRect();
      let [count, most] = [0, 0];
      const seen = new MutationObserver(() => {
        count++;
        most = Math.max(most, Number(told.dataset.ms));
      });
      seen.observe(told, { attributes: true, attributeFilter: ['data-count'] });
      const start = performance.now();
      const at = (n) => ({
        ...{
          bubbles: true,
          pointerId: 1,
          clientX: box.left + 300 + ((n * 9) % 400),
          clientY: box.top + 200 + ((n * 5) % 300),
        },
      });
      if (what === 'drag') stage.dispatchEvent(new PointerEvent('pointerdown', at(0)));
      for (let n = 1; performance.now() - start < 4000; n++) {
        await new Promise((done) => requestAnimationFrame(done));
        if (what === 'drag') stage.dispatchEvent(new PointerEvent('pointermove', at(n)));
        else if (what === 'zoom')
          stage.dispatchEvent(new KeyboardEvent('keydown', { key: n % 12 < 6 ? '+' : '-', bubbles: true }));
        else stage.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
      }
      if (what === 'drag') stage.dispatchEvent(new PointerEvent('pointerup', at(0)));
      seen.disconnect();
      return { pictures: count / 4, longest: most };
    },
    [press],
  );
  process.stdout.write(`${title}: ${pictures.toFixed(0)} pictures a second, ${longest} ms the longest\n`);
}
await measured('all of it, walked', 'walk');
await measured('all of it, dragged', 'drag');
await page.getByRole('application').focus();
for (let i = 0; i < 9; i++) await page.keyboard.press('+');
await map.waitFor();
await measured('near, dragged', 'drag');
await measured('nearer and further', 'zoom');
await browser.close();
