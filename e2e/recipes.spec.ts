import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { expect, filesBelow, test } from './fixtures';
import { runOf } from './recipe-runs';

test('a run is paused and goes on; recipes travel as files; what cannot be is said', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'many');
  fs.mkdirSync(folder);
  const entries = Array.from({ length: 12_000 }, (_, i) => ({
    path: `many/${i % 10}/entry_${i}.txt`,
    data: () => Buffer.from(`entry ${i}`),
    loose: true,
  }));
  // Names that some system refuses, and a file that has the name of a folder.
  for (const name of ['many/aux.txt', 'many/what?.txt', 'many/1', 'many/Ünïcode ねこ.txt'])
    entries.push({ path: name, data: () => Buffer.from(name), loose: true });
  writeHold(path.join(folder, 'many.hold'), entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
  const game = await server.addGame(folder, `Many ${process.pid}`);
  const target = path.join(scratch, 'out');
  const recipe = { title: 'Many', pick: { search: '', folder: '', kind: null }, folder: target };
  const post = (place: string, data: object = {}) =>
    server.api.post(`/api/games/${game.id}/${place}`, { data });
  const { id } = (await (await post('recipes', { recipe })).json()) as { id: number };
  const job = (await (await post(`recipes/${id}`)).json()) as { id: string };
  const state = async (): Promise<string> =>
    ((await (await server.api.get(`/api/jobs/${job.id}`)).json()) as { state: string }).state;
  await expect.poll(() => fs.existsSync(path.join(target, 'many'))).toBe(true);
  await page.goto('/activity?show=busy');
  await page.getByRole('button', { name: 'Pause' }).click();
  await expect.poll(state).toBe('paused');
  const there = filesBelow(target).filter((name) => name.endsWith('.txt')).length;
  expect(there).toBeLessThan(12_000);
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect.poll(state, { timeout: 60_000 }).toBe('done');
  const { counts } = await runOf(server, game.id);
  expect(counts.written! + counts.skipped!).toBe(12_004);
  expect(counts.skipped).toBeGreaterThanOrEqual(there - 1);
  const files = filesBelow(target);
  for (const name of [
    'many/_aux.txt',
    'many/what_.txt',
    'many/1',
    'many/1~2/entry_1.txt',
    'many/Ünïcode ねこ.txt',
  ])
    expect(files).toContain(name);
  expect(files.filter((name) => name.includes('-part'))).toEqual([]);

  // As a file to another game, and back.
  const file = await (await server.api.get(`/api/games/${game.id}/recipes/${id}`)).text();
  await page.goto(`/games/${game.id}/recipes`);
  // Before the page stands nobody hears of the file.
  await expect(page.getByRole('listitem', { name: 'Many', exact: true })).toBeVisible();
  await page.getByLabel('File with a recipe').setInputFiles({
    name: 'many.recipe.json',
    mimeType: 'application/json',
    buffer: Buffer.from(file.replace('"Many"', '"Many, from a file"')),
  });
  await expect(page.getByRole('listitem', { name: 'Many, from a file' })).toBeVisible();
  for (const [wrong, said] of [
    ['no json', 'it is no JSON'],
    ['{"recipe":{}}', 'zero latch recipe'],
  ] as const) {
    const answer = await post('recipes', { file: wrong });
    expect(answer.status()).toBe(422);
    expect(await answer.text()).toContain(said);
  }
  const bad = async (change: object): Promise<string> =>
    (await post('recipes', { recipe: { ...recipe, ...change } })).text();
  expect(await bad({ name: { how: 'pattern', pattern: '{folder' } })).toContain('byte 0');
  expect(await bad({ folder: path.join(folder, 'inside') })).toContain('Only the installer writes there');
  expect(await bad({ folder: 'relative' })).toContain('whole path');
  expect(await bad({ pick: { paths: [] } })).toContain('pick');

  // The output root is gone in the middle of everything: the next run makes it anew.
  fs.rmSync(target, { recursive: true });
  await post(`recipes/${id}`);
  expect((await runOf(server, game.id, 2)).counts.written).toBe(12_004);

  // An archive that was replaced since the scan is said for each of its entries, and nothing is taken from it.
  writeHold(path.join(folder, 'many.hold'), entries.slice(0, 20), {
    roll: true,
    rank: 1,
    salt: Buffer.alloc(16, 1),
  });
  await post(`recipes/${id}`);
  const replaced = await runOf(server, game.id, 3);
  expect(replaced.counts).toMatchObject({ written: 0, failed: 12_004 });
  expect(replaced.detail).toContain('12004 failed');
  await server.api.delete(`/api/games/${game.id}`);
});
