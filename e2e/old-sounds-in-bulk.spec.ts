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

  const clipOnto = async (
    row: number,
    onto: 'To a strip…' | 'To a pad…',
    title: string | RegExp,
  ): Promise<void> => {
    await rows.nth(row).click();
    await expect(page.getByText(/^0:00\.00 of \d:\d\d\.\d\d$/)).toBeVisible();
    await page.getByRole('button', { name: onto }).click();
    await page.getByRole('menuitem', { name: title }).click();
    await expect(page.getByText(/ is on /).last()).toBeVisible();
  };

  await test.step('clips of both variants are joined to a new one, with gaps and levels', async () => {
    await page.goto(`/games/${game.id}/contents?kind=sound`);
    await clipOnto(0, 'To a strip…', 'A new strip');
    await clipOnto(10, 'To a strip…', /new strip \d+, 1 clip/);
    await page.getByRole('button', { name: 'Show' }).last().click();
    const strip = page.getByRole('region', { name: 'Strip' });
    await expect(strip.getByRole('group', { name: /^Clip / })).toHaveCount(2);
    const seconds = async (): Promise<number> => {
      const text = await strip.getByText(/^0:00\.00 of \d:\d\d\.\d\d$/).textContent();
      const [minutes = 0, rest = 0] = text!.split(' of ')[1]!.split(':').map(Number);
      return 60 * minutes + rest;
    };
    const before = await seconds();
    await strip.getByLabel('Gap before of clip 2').fill('0.75');
    await strip.getByLabel('Gap before of clip 2').press('Enter');
    await expect.poll(seconds).toBeCloseTo(before + 0.75, 1);
    await strip.getByLabel('Louder by of clip 2').fill('-12');
    await strip.getByLabel('Louder by of clip 2').press('Enter');
    await strip.getByLabel('Fade out of clip 2').fill('0.2');
    await strip.getByLabel('Fade out of clip 2').press('Enter');
    // What was done is undone in turn, and done again; it is kept either way.
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(strip.getByLabel('Fade out of clip 2')).toHaveValue('0');
    await page.getByRole('button', { name: 'Redo' }).click();
    // As fast as one presses: each makes the strip sound otherwise, while the one before is being decoded.
    await page.getByRole('button', { name: 'Redo' }).blur();
    for (let i = 0; i < 12; i++) await page.keyboard.press(i % 6 < 3 ? 'Control+z' : 'Control+y');
    await expect(strip.getByLabel('Fade out of clip 2')).toHaveValue('0.2');
    const board = new URL(page.url()).searchParams.get('board');
    await expect(strip).toHaveAttribute('aria-busy', 'false');
    const answer = await server.api.get(`/api/boards/${board}`);
    const { content } = (await answer.json()) as { content: { clips: { fadeOut?: number }[] } };
    expect(content.clips[1]!.fadeOut).toBe(0.2);
    await page.reload();
    await expect(strip.getByLabel('Fade out of clip 2')).toHaveValue('0.2');
    await expect(strip.getByLabel('Louder by of clip 2')).toHaveValue('-12');
    const download = page.waitForEvent('download');
    await strip.getByRole('link', { name: 'Save as WAV' }).click();
    const file = path.join(scratch, 'joined.wav');
    await (await download).saveAs(file);
    const { rate, channels } = readWave(new Uint8Array(fs.readFileSync(file)));
    expect(channels[0]!.length / rate).toBeCloseTo(before + 0.75, 1);
  });

  await test.step('several that are picked go onto a strip at once', async () => {
    await page.goto(`/games/${game.id}/contents?kind=sound`);
    await rows.nth(2).click();
    await page.locator('[role=grid]').focus();
    for (let i = 0; i < 3; i++) {
      await page.keyboard.press('x');
      await page.keyboard.press('ArrowDown');
    }
    await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'To a strip…' }).click();
    await page.getByRole('menuitem', { name: 'A new strip' }).click();
    await expect(page.getByText(/^3 sounds are on new strip/)).toBeVisible();
  });

  await test.step('a pad plays them by keys, on the output that was chosen', async () => {
    await page.goto(`/games/${game.id}/contents?kind=sound`);
    await clipOnto(0, 'To a pad…', 'A new pad');
    await clipOnto(15, 'To a pad…', /new pad \d+, 1 clip/);
    await page.getByRole('button', { name: 'Show' }).last().click();
    const pad = page.getByRole('region', { name: 'Pad' });
    const key = (name: string) => pad.locator(`[data-pad-key="${name}"]`);
    await expect(key('2').getByRole('button', { name: /^Play / })).toBeEnabled();
    await page.keyboard.press('2');
    await expect(key('2')).toHaveAttribute('data-sounding', 'true');
    await page.keyboard.press('Escape');
    await expect(key('2')).toHaveAttribute('data-sounding', 'false');
    await key('2')
      .getByRole('button', { name: /^Change / })
      .click();
    await pad.getByLabel('Key', { exact: true }).click();
    await page.getByRole('option', { name: 'W', exact: true }).click();
    await expect(key('w').getByRole('button', { name: /^Play / })).toBeEnabled();
    await page.keyboard.press('w');
    await expect(key('w')).toHaveAttribute('data-sounding', 'true');
    await expect(key('w')).toHaveAttribute('data-sounding', 'false');
    // Dragged by its name onto another key it is there, and back by undoing.
    await key('w')
      .getByRole('button', { name: /^Change / })
      .hover();
    await page.mouse.down();
    await key('z').hover();
    await key('z').hover();
    await page.mouse.up();
    await expect(key('z').getByRole('button', { name: /^Play / })).toBeEnabled();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(key('w').getByRole('button', { name: /^Play / })).toBeEnabled();
    await expect(pad.getByLabel('Output')).toBeVisible();
    // Shared it is a file of names, with no sound in it.
    const download = page.waitForEvent('download');
    await pad.getByRole('link', { name: 'Share as a file' }).click();
    const file = path.join(scratch, 'pad.json');
    await (await download).saveAs(file);
    expect(fs.statSync(file).size).toBeLessThan(2000);
    await page.getByLabel('File of a board').setInputFiles(file);
    await expect(page.getByRole('navigation', { name: 'Boards' }).getByText(/^new pad/)).toHaveCount(2);
    await expect(key('w').getByRole('button', { name: /^Play / })).toBeEnabled();
  });
  await server.api.delete(`/api/games/${game.id}`);
});
