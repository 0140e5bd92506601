import fs from 'node:fs';
import path from 'node:path';
import { readWave } from '../src/media/sound/core/audio';
import { DEMO, expect, filesBelow, test } from './fixtures';
import { runSoundsRecipe } from './recipe-runs';

/** All sounds of an old game at once: two variants that look alike, neither of which becomes noise. */
test('old sounds in bulk: every call of Tallow & Tide is told, decoded, named and taken out in one run', async ({
  page,
  server,
  scratch,
}) => {
  test.setTimeout(120_000);
  const folder = path.join(scratch, 'tallow');
  fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
  const game = await server.addGame(folder, `Tallow ${process.pid}`);
  const rows = page.locator('[data-entry]');

  await test.step('both variants are sounds with their length, and none of them is broken', async () => {
    await page.goto(`/games/${game.id}/contents?kind=sound`);
    await expect(rows.first()).toBeVisible();
    await server.settled(game.id);
    const search = page.getByLabel('Search the contents');
    await search.fill('is:measured');
    await expect(page).toHaveURL(/is%3Ameasured|is:measured/);
    await expect(rows).toHaveCount(20);
    await expect(rows.first()).toContainText('IMA ADPCM');
    await search.fill('is:broken');
    await expect(rows).toHaveCount(0);
    await search.fill('length:>0s');
    await expect(rows).toHaveCount(20);
    // Some of each variant: those of traders and gulls are in the other one.
    for (let i = 0; i < 4; i++) {
      await rows.nth(5 * i).click();
      await expect(page.getByLabel('Inspector').getByText(/mono, IMA ADPCM/)).toBeVisible();
      await expect(page.getByText(/^0:00\.00 of \d:\d\d\.\d\d$/)).toBeVisible();
    }
  });

  await test.step('one recipe takes all of them out as WAV', async () => {
    const target = path.join(scratch, 'calls');
    await runSoundsRecipe(page, game.id, { title: 'Calls', target });
    await expect(page.getByRole('listitem', { name: 'Calls' })).toContainText('20 written');
    const files = filesBelow(target).filter((name) => name.endsWith('.wav'));
    expect(files).toHaveLength(20);
    for (const name of files) {
      const { rate, channels } = readWave(new Uint8Array(fs.readFileSync(path.join(target, name))));
      expect([name, rate]).toEqual([name, 22050]);
      const [samples] = channels;
      // What is decoded in the other variant runs off to the limits and stays there.
      const atLimit = samples!.filter((value) => Math.abs(value) > 0.98).length / samples!.length;
      const mean = samples!.reduce((sum, value) => sum + value, 0) / samples!.length;
      expect([name, atLimit < 0.05, Math.abs(mean) < 0.1]).toEqual([name, true, true]);
    }
  });

  await test.step('and a label is what they are found by', async () => {
    await page.goto(`/games/${game.id}/contents?kind=sound`);
    await rows.nth(3).click();
    await page.getByLabel('Name for people').fill('A fair price');
    await page.getByLabel('Name for people').press('Tab');
    await page.getByLabel('Search the contents').fill('"fair price"');
    await expect(rows).toHaveCount(1);
    await expect(rows.first()).toContainText('A fair price');
  });
  await server.api.delete(`/api/games/${game.id}`);
});
