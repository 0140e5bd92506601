import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, filesBelow, test } from './fixtures';
import { tone } from './waves';

/** One sound among many is found by ear and by measure, and what is found is taken out for a player. */
test('the sounds of a game are listened to, put in order, searched, played through by keyboard, and taken out as MP3', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const rows = page.locator('[data-entry]');

  await test.step('length and level of all are known after a while, without anybody having asked', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?kind=sound`);
    await expect(rows.first()).toBeVisible();
    await server.settled(lanternfen.id);
    expect((await server.jobs(lanternfen.id)).find(({ kind }) => kind === 'measure')).toMatchObject({
      state: 'done',
    });
    const byLength = page.getByRole('button', { name: 'Order by length' });
    await byLength.click();
    await expect(byLength).toHaveAttribute('aria-pressed', 'true');
    // Silence would be first; of what is heard the shortest is.
    await expect(rows.first()).toContainText('−');
    await byLength.click();
    // The sounds of the opening film are the longest.
    await expect(rows.first()).toContainText('28 s');
    await expect(rows.first()).toContainText('opening.spool');
  });

  await test.step('they are searched by it', async () => {
    const search = page.getByLabel('Search the contents');
    await search.fill('length:<0.6s in:songs/0417');
    await expect(rows).toHaveCount(1);
    await expect(rows.first()).toContainText('011.adpcm');
    await search.fill('is:clipped in:songs/0417');
    await expect(rows).toHaveCount(2);
    await expect(rows.first()).toContainText('clipped');
    await search.fill('level:>-8dB in:songs/0417');
    await expect(rows).toHaveCount(2);
  });

  await test.step('and played through: each begins by one key, and the next by itself', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?kind=sound&search=in:songs/0417`);
    await expect(rows).toHaveCount(12);
    await page.locator('[role=grid]').focus();
    await page.keyboard.press('p');
    const bar = page.getByRole('region', { name: 'Playing through' });
    await expect(bar).toContainText('1 of 12, 001.adpcm');
    await expect(bar).toHaveAttribute('data-playing', 'true');
    // Left alone it goes on to the next.
    await expect(bar).toContainText('2 of 12, 002.adpcm');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await expect(bar).toContainText(/[45] of 12/);
    await expect(bar).toHaveAttribute('data-waited', /^\d+$/);
    await page.keyboard.press(' ');
    await expect(bar).toHaveAttribute('data-playing', 'false');
    const at = await bar.textContent();
    // What rests stays where it is, and is heard once more by a key.
    await page.keyboard.press('a');
    await expect(bar).toHaveAttribute('data-playing', 'true');
    expect(await bar.textContent()).toBe(at);
    await page.keyboard.press('>');
    await expect(bar.getByRole('button', { name: 'Speed' })).toHaveText('1.25 ×');
    // At rest, so that what is written belongs to this one however long that takes.
    await page.keyboard.press(' ');
    await expect(bar).toHaveAttribute('data-playing', 'false');
    await page.keyboard.press('x');
    await expect(page.getByText('Picked 1')).toBeVisible();
    // Marked, named and tagged without a hand on the mouse, and back to the list.
    await page.keyboard.press('m');
    await expect(page.locator('[data-entry][aria-selected="true"]')).toContainText('marked');
    await page.keyboard.press('n');
    await page.keyboard.type('The one');
    await page.keyboard.press('Enter');
    await page.keyboard.press('t');
    await page.keyboard.type('calm');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    await expect(page.getByLabel('Your notes').getByText('calm')).toBeVisible();
    await expect(page.getByLabel('Name for people')).toHaveValue('The one');
    await page.keyboard.press('m');
    await expect(page.locator('[data-entry][aria-selected="true"]')).not.toContainText('marked');
    await page.keyboard.press('p');
    await expect(bar).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'Play through' })).toBeVisible();
  });

  await test.step('what was picked is taken out as MP3', async () => {
    await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'Extract' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('1 sound', { exact: true }).click();
    await page.getByRole('option', { name: 'as MP3', exact: true }).click();
    const download = page.waitForEvent('download');
    await dialog.getByRole('button', { name: 'Download the ZIP' }).click();
    const zip = path.join(scratch, 'picked.zip');
    await (await download).saveAs(zip);
    execFileSync('unzip', ['-q', zip, '-d', path.join(scratch, 'out')]);
    const [file, ...rest] = filesBelow(path.join(scratch, 'out'));
    expect(rest).toEqual([]);
    expect(file).toMatch(/\.mp3$/);
    const probe = ['-v', 'error', '-show_entries', 'stream=codec_name', '-of', 'csv=p=0'];
    expect(
      execFileSync('ffprobe', [...probe, path.join(scratch, 'out', file!)], { encoding: 'utf8' }).trim(),
    ).toBe('mp3');
  });
});

test('a sound shows its loop and its pitches, and plays what is marked by dragging, and is edited by it', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'loops');
  fs.mkdirSync(folder);
  const wave = tone(22050, 2, 300);
  // A loop from half a second to one (the chunk `smpl`).
  const smpl = Buffer.alloc(68);
  smpl.write('smpl');
  smpl.writeUInt32LE(60, 4);
  smpl.writeUInt32LE(1, 36);
  smpl.writeUInt32LE(11025, 52);
  smpl.writeUInt32LE(22049, 56);
  const looped = Buffer.concat([wave, smpl]);
  looped.writeUInt32LE(looped.length - 8, 4);
  fs.writeFileSync(path.join(scratch, 'looped.wav'), looped);
  execFileSync('zip', ['-q', path.join(folder, 'sounds.zip'), 'looped.wav'], { cwd: scratch });
  const game = await server.addGame(folder, `Loops ${process.pid}`);
  await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Shorter' } });
  await page.goto(`/games/${game.id}/contents`);
  await page.locator('[data-entry]').filter({ hasText: 'looped.wav' }).click();
  const wavePart = page.getByLabel('Wave of looped.wav');
  await expect(page.getByText('0:00.00 of 0:02.00')).toBeVisible();
  await expect(wavePart.getByText('loop')).toBeVisible();
  await expect(page.getByRole('button', { name: 'The loop again and again' })).toBeVisible();
  await page.getByRole('button', { name: 'Pitches' }).click();
  await expect(wavePart.locator('canvas').last()).toBeVisible();
  const box = (await wavePart.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.1, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.25, box.y + 40, { steps: 5 });
  await page.mouse.move(box.x + box.width * 0.4, box.y + 40, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByText(/^0:00\.[12]\d to 0:00\.[78]\d, 0\.[56]\d s$/)).toBeVisible();
  await page.keyboard.press(' ');
  // It rests where what is marked ends.
  await expect(page.getByText(/^0:00\.[78]\d of 0:02\.00$/)).toBeVisible();
  await expect(page.locator('[data-playing="false"]')).toBeVisible();
  // An edit of it is a change, from which the next one goes on, and each is undone by itself.
  const edits = page.getByRole('group', { name: 'Edits' });
  await edits.getByRole('button', { name: 'Keep only this' }).click();
  await expect(page.getByText(/looped\.wav edited/)).toBeVisible();
  await expect(page.getByText(/^0:00\.00 of 0:00\.[56]\d$/)).toBeVisible();
  await expect(page.getByText(/ to 0:/)).toHaveCount(0);
  await edits.getByRole('button', { name: 'Edit…' }).click();
  await page.getByRole('menuitem', { name: /Half a second of silence/ }).click();
  await expect(page.getByText(/^0:00\.00 of 0:01\.[01]\d$/)).toBeVisible();
  await page.keyboard.press('o');
  await expect(page.getByText('0:00.00 of 0:02.00')).toBeVisible();
  await page.goto(`/games/${game.id}/changes`);
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(page.getByText(/^0:00\.00 of 0:00\.[56]\d$/)).toBeVisible();
  await server.api.delete(`/api/games/${game.id}`);
});
