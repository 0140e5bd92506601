import fs from 'node:fs';
import path from 'node:path';
import { readWave } from '../src/media/sound/core/audio';
import { expect, filesBelow, openEntry, test } from './fixtures';
import { runOf } from './recipe-runs';

/** One character among numbered books: a table names them, and one recipe takes that one's takes out. */
test('sounds of one character: books are numbered, a table names them, and one book comes out as WAV into a folder of its own', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const rows = page.locator('[data-entry]');

  await test.step('the tables of the game name books and takes', async () => {
    for (const [table, count] of [
      ['items/songbooks.csv', '5 codes'],
      ['items/takes.csv', '36 codes'],
    ] as const) {
      await openEntry(page, lanternfen.id, table, table.split('/')[1]!);
      await page.getByRole('button', { name: 'Readable names…' }).click();
      const dialog = page.getByRole('dialog');
      await dialog.getByRole('button', { name: 'Read the chosen entry' }).click();
      await expect(dialog.getByText(`${table.split('/')[1]}, ${count}`)).toBeVisible();
      await page.keyboard.press('Escape');
    }
  });

  await test.step('the character is found by name, and a line by what is said', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?kind=sound`);
    const search = page.getByLabel('Search the contents');
    await search.fill('"Captain Sallow" in:songs/0418');
    await expect(rows).toHaveCount(8);
    await expect(rows.first()).toContainText('Captain Sallow');
    await search.fill('"My eels are counted"');
    await expect(rows.first()).toContainText('003');
    await expect(page.getByText('eels are counted, madam').first()).toBeVisible();
  });

  await test.step('one recipe takes that book out as WAV', async () => {
    const target = path.join(scratch, 'sallow');
    await page.goto(`/games/${lanternfen.id}/recipes`);
    await page.getByRole('button', { name: 'New recipe' }).click();
    const dialog = page.getByRole('dialog', { name: 'New recipe' });
    await dialog.getByLabel('Title').fill('The Captain');
    await dialog.getByLabel('Search, looked for anew at each run').fill('"Captain Sallow" in:songs/0418');
    await dialog.getByLabel('Folder on this machine').fill(target);
    await dialog.getByLabel('Sounds', { exact: true }).click();
    await page.getByRole('option', { name: 'as WAV', exact: true }).click();
    await dialog.getByRole('button', { name: 'Save and run' }).click();
    expect((await runOf(server, lanternfen.id)).counts).toMatchObject({ written: 8 });
    const files = filesBelow(target).filter((name) => name.endsWith('.wav'));
    expect(files).toHaveLength(8);
    for (const name of files) {
      const { channels } = readWave(new Uint8Array(fs.readFileSync(path.join(target, name))));
      expect(channels[0]!.some((sample) => Math.abs(sample) > 0.05)).toBe(true);
    }
  });
});
