import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { readWave } from '../src/media/sound/core/audio';
import { expect, filesBelow, test } from './fixtures';
import { runSoundsRecipe } from './recipe-runs';

test('what one character says goes into a named folder as WAV, under readable names', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  // Codes of the takes, as an id table of the user names them.
  const table = await server.api.post(`/api/games/${lanternfen.id}/id-tables`, {
    data: { title: 'takes', text: 'code,name\ngreeting,Hello there\nbell,The bell\nheron,Of herons\n' },
  });
  expect(table.status(), await table.text()).toBe(200);
  const target = path.join(scratch, 'Ibis, spoken');
  await page.goto(`/games/${lanternfen.id}/recipes`);
  await page.getByRole('button', { name: 'New recipe' }).click();
  const dialog = page.getByRole('dialog', { name: 'New recipe' });
  await dialog.getByLabel('Title').fill('Ibis speaks');
  await dialog.getByLabel('Below the folder').fill('voice/en/ibis/');
  await dialog.getByLabel('Folder on this machine').fill(target);
  await dialog.getByLabel('Sounds').click();
  await page.getByRole('option', { name: 'as WAV', exact: true }).click();
  await dialog.getByLabel('Names').click();
  await page.getByRole('option', { name: 'by a pattern' }).click();
  await dialog.getByLabel('Pattern').fill('{-2}/{alias}{ending}');
  await dialog.getByRole('button', { name: 'Preview' }).click();
  await expect(dialog.getByRole('region', { name: 'Preview' })).toContainText('ibis/Hello there.wav');
  await dialog.getByRole('button', { name: 'Save and run' }).click();
  await expect(page.getByRole('listitem', { name: 'Ibis speaks' })).toContainText('8 written');
  const files = filesBelow(target).filter((name) => name.endsWith('.wav'));
  expect(files).toHaveLength(8);
  expect(files).toContain('ibis/The bell.wav');
  // The same as a download, wherever the browser is.
  const download = page.waitForEvent('download');
  await page.getByRole('listitem', { name: 'Ibis speaks' }).getByRole('button', { name: 'Download' }).click();
  const zip = path.join(scratch, 'ibis.zip');
  await (await download).saveAs(zip);
  expect(spawnSync('unzip', ['-q', zip, '-d', path.join(scratch, 'zip')]).status).toBe(0);
  expect(filesBelow(path.join(scratch, 'zip'))).toEqual(files);
  for (const name of files)
    expect(fs.readFileSync(path.join(scratch, 'zip', name))).toEqual(
      fs.readFileSync(path.join(target, name)),
    );
  for (const name of files) {
    const { channels, rate } = readWave(new Uint8Array(fs.readFileSync(path.join(target, name))));
    expect(rate).toBeGreaterThan(8000);
    expect(channels[0]!.some((sample) => Math.abs(sample) > 0.01)).toBe(true);
  }
});

test('all sounds become WAV while nobody looks', async ({ page, server, lanternfen, scratch }) => {
  await server.unlock(lanternfen);
  const target = path.join(scratch, 'sounds');
  await runSoundsRecipe(page, lanternfen.id, { title: 'All sounds', target });
  await expect(page.getByText('All sounds runs; see the jobs at the top.')).toBeVisible();
  const context = page.context();
  await page.close();
  await expect
    .poll(async () => (await server.jobs(lanternfen.id)).some(({ kind }) => kind === 'run-recipe'))
    .toBe(true);
  const job = (await server.settled(lanternfen.id)).find(({ kind }) => kind === 'run-recipe')!;
  const { counts } = job.result as { counts: Record<string, number> };
  expect(counts.failed).toBe(0);
  const files = filesBelow(target).filter((name) => name.endsWith('.wav'));
  expect(files).toHaveLength(counts.written!);
  expect(files.length).toBeGreaterThan(80);
  // Songs are Opus in a keyed book within the game; their WAV is as long as the book says.
  const song = files.find((name) => name.includes('song/crossing/strings'))!;
  const { channels, rate } = readWave(new Uint8Array(fs.readFileSync(path.join(target, song))));
  expect(rate).toBe(48000);
  expect(channels[0]!.length / rate).toBeGreaterThan(1);
  const later = await context.newPage();
  await later.goto('/activity?show=done');
  await later.getByRole('listitem').filter({ hasText: 'All sounds' }).first().click();
  const side = later.getByRole('region', { name: 'What came of it' });
  await expect(side).toContainText(`${counts.written!.toLocaleString('en')} written`);
  await side.getByLabel('Find in path or reason').fill('strings');
  await expect(side.getByRole('list', { name: 'Log' })).toContainText('song/crossing/strings');
});
