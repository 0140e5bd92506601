import fs from 'node:fs';
import path from 'node:path';
import { readWave } from '../src/media/sound/core/audio';
import { expect, filesBelow, test } from './fixtures';
import { runOf } from './recipe-runs';

/** A bank of a thousand short takes: all of it out while nobody looks, one of it found by ear and made shorter. */
test('thousands of sounds: all taken out while the browser is closed, paused and gone on with; one found by keyboard and trimmed', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Shorter boards' } });
  const target = path.join(scratch, 'bank');
  const bank = 'in:songs/2200';
  const context = page.context();

  await test.step('a recipe takes all of the bank out as WAV, and is paused by a press', async () => {
    const answer = await server.api.post(`/api/games/${lanternfen.id}/recipes`, {
      data: {
        recipe: {
          ...{ title: 'The bank', folder: target, convert: { sound: 'wav' } },
          pick: { search: bank, kind: 'sound' },
        },
      },
    });
    expect(answer.status(), await answer.text()).toBe(200);
    await page.goto(`/games/${lanternfen.id}/recipes`);
    const recipe = page.getByRole('listitem', { name: 'The bank' });
    await recipe.getByRole('button', { name: 'Run', exact: true }).click();
    await page.goto('/activity?show=all');
    const line = page.getByRole('listitem').filter({ hasText: 'The bank' }).first();
    await line.getByRole('button', { name: 'Pause' }).click();
    await expect(line.getByRole('button', { name: 'Go on' })).toBeVisible();
    expect(filesBelow(target).filter((name) => name.endsWith('.wav')).length).toBeLessThan(1000);
  });

  await test.step('with the browser closed it goes on to its end', async () => {
    const line = page.getByRole('listitem').filter({ hasText: 'The bank' }).first();
    await line.getByRole('button', { name: 'Go on' }).click();
    await page.close();
    // What was written before the pause is not written again.
    const { written = 0, skipped = 0, failed } = (await runOf(server, lanternfen.id)).counts;
    expect([written + skipped, failed]).toEqual([1000, 0]);
    const files = filesBelow(target).filter((name) => name.endsWith('.wav'));
    expect(files).toHaveLength(1000);
    for (const name of files.slice(0, 20))
      expect(readWave(new Uint8Array(fs.readFileSync(path.join(target, name)))).rate).toBe(22050);
  });

  const later = await context.newPage();
  const rows = later.locator('[data-entry]');
  await test.step('one is found by ear, by keys alone', async () => {
    await later.goto(`/games/${lanternfen.id}/contents?kind=sound&search=${bank}`);
    await expect(rows.first()).toContainText('001.adpcm');
    await later.locator('[role=grid]').focus();
    await later.keyboard.press('p');
    const bar = later.getByRole('region', { name: 'Playing through' });
    await expect(bar).toContainText('1 of 1,000');
    for (let i = 0; i < 7; i++) await later.keyboard.press('ArrowDown');
    await expect(bar).toContainText(/([89]|1\d) of 1,000/);
    await later.keyboard.press(' ');
    await expect(bar).toHaveAttribute('data-playing', 'false');
    await later.keyboard.press('p');
    await expect(bar).toHaveCount(0);
  });

  await test.step('what sounds like it is found once all are listened to', async () => {
    await server.settled(lanternfen.id);
    await later.getByRole('button', { name: 'What sounds like it' }).click();
    const alike = later.getByRole('region', { name: 'Sound alike' });
    await expect(alike).toContainText(/of [\d,]+ sounds? like it/);
    await expect(alike.getByText(/dB apart$/).first()).toBeVisible();
  });

  await test.step('and its beginning alone is kept', async () => {
    const wave = later.getByLabel(/^Wave of /);
    await expect(later.getByText(/^0:00\.00 of 0:00\.\d\d$/)).toBeVisible();
    await wave.scrollIntoViewIfNeeded();
    const box = (await wave.boundingBox())!;
    await later.mouse.move(box.x + 2, box.y + 40);
    await later.mouse.down();
    for (const share of [0.1, 0.25, 0.5])
      await later.mouse.move(box.x + box.width * share, box.y + 40, { steps: 5 });
    await later.mouse.up();
    await later.getByRole('button', { name: 'Keep only this' }).click();
    await expect(later.getByText(/\.adpcm edited; it fits/)).toBeVisible();
  });
});
