import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { DEMO, expect, filesBelow, test, type Server } from './fixtures';

interface Run {
  detail: string;
  counts: Record<string, number>;
}

/** What the run with this number, from 1, came to; waits for it. */
async function runOf(server: Server, gameId: number, number = 1): Promise<Run> {
  await expect
    .poll(async () => (await server.jobs(gameId)).filter(({ kind }) => kind === 'run-recipe').length)
    .toBe(number);
  const [job] = (await server.settled(gameId)).filter(({ kind }) => kind === 'run-recipe');
  expect(job!.error).toBeNull();
  expect(job!.state).toBe('done');
  return job!.result as unknown as Run;
}

test('grab-by-manifest', async ({ page, server, scratch }) => {
  const folder = path.join(scratch, 'tallow');
  fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
  const game = await server.addGame(folder, `Tallow ${process.pid}`);
  const names = fs
    .readFileSync(path.join(folder, 'printed-names.txt'), 'latin1')
    .split(/\r?\n/)
    .filter((line) => line.includes('\\'));
  await server.api.post(`/api/games/${game.id}/names`, {
    data: {
      title: 'printed',
      text: names.map((name) => name.replaceAll('\\', '/').toLowerCase()).join('\n'),
    },
  });
  await server.settled(game.id);
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`/games/${game.id}/contents`);
  await page.getByRole('button', { name: 'Pick by lines…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Pick by lines' });
  // The manifest that the game prints, every line with its kind beside it.
  await dialog.getByLabel('File with lines').setInputFiles(path.join(folder, 'printed-names.txt'));
  const lines = dialog.getByRole('region', { name: 'Lines' });
  await expect(lines).toContainText(`${names.length} of ${names.length + 1} lines matched, 1 not`);
  await lines.getByLabel('Find in the lines').fill('ledger');
  await expect(lines).toContainText('text');
  await lines.getByRole('button', { name: 'Copy these lines' }).click();
  await expect(page.getByText('2 lines on the clipboard')).toBeVisible();
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  expect(copied).toBe('LEDGER\\GOODS.TXT\nLEDGER\\TIDES.TXT');

  // Pasted again with mistakes in it; what fits nothing is pointed out, with what was likely meant.
  await dialog
    .getByLabel('Lines with paths, as of a manifest')
    .fill(
      `# from the manifest\n${copied}\n00aa  120 goods\\lantern.print\nledger/tide.txt\nno/such/thing.xyz\n`,
    );
  await dialog.getByRole('button', { name: 'Match the lines' }).click();
  await expect(lines).toContainText('3 of 5 lines matched, 2 not');
  await lines.getByLabel('Find in the lines').fill('');
  await expect(lines).toContainText('no entry is called so');
  await lines.getByRole('button', { name: 'ledger/tides.txt' }).click();
  await expect(lines).toContainText('4 of 5 lines matched, 1 not');
  await dialog.getByRole('button', { name: 'Pick 4 entries' }).click();
  const bar = page.getByRole('region', { name: 'Picked' });
  await expect(bar).toContainText('Picked 3');
  await bar.getByRole('button', { name: 'Keep as a list…' }).click();
  await dialog.getByLabel(/Keep the 3 picked as a list/).fill('Ledgers');
  await dialog.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(dialog.getByRole('list', { name: 'Saved lists' })).toContainText('Ledgers, 3 paths');
  await dialog.getByRole('button', { name: 'Close' }).click();

  // To the place that the application offers.
  await bar.getByRole('button', { name: 'Recipe…' }).click();
  const recipe = page.getByRole('dialog', { name: 'New recipe' });
  await recipe.getByLabel('Title').fill('Ledgers');
  await expect(recipe.getByLabel('Folder on this machine')).toHaveValue(/extracted\/Tallow/);
  const target = await recipe.getByLabel('Folder on this machine').inputValue();
  await recipe.getByRole('button', { name: 'Save and run' }).click();
  expect(await runOf(server, game.id)).toMatchObject({ counts: { written: 3, failed: 0 } });
  expect(filesBelow(target)).toEqual([
    'goods/lantern.print',
    'ledger/goods.txt',
    'ledger/tides.txt',
    'zero-latch-log.tsv',
  ]);

  // A list is there after a reload, as text too.
  await page.reload();
  await page.getByRole('button', { name: 'Pick by lines…' }).click();
  await dialog
    .getByRole('listitem')
    .filter({ hasText: 'Ledgers' })
    .getByRole('button', { name: 'Pick' })
    .click();
  await expect(bar).toContainText('Picked 3');
  const { id } = (
    (await (await server.api.get(`/api/games/${game.id}/pick-lists`)).json()) as { id: number }[]
  )[0]!;
  const text = await (await server.api.get(`/api/games/${game.id}/pick-lists/${id}?as=text`)).text();
  expect(text.trim().split('\n').sort()).toEqual([
    'goods/lantern.print',
    'ledger/goods.txt',
    'ledger/tides.txt',
  ]);
  fs.rmSync(target, { recursive: true });
  await server.api.delete(`/api/games/${game.id}`);
});

test('only-what-changed', async ({ page, server, lanternfen, scratch }) => {
  await server.unlock(lanternfen);
  const target = path.join(scratch, 'ibis');
  await page.goto(`/games/${lanternfen.id}/recipes`);
  await page.getByRole('button', { name: 'New recipe' }).click();
  const dialog = page.getByRole('dialog', { name: 'New recipe' });
  await dialog.getByLabel('Title').fill('All of Ibis');
  await dialog.getByLabel('Search, looked for anew at each run').fill('ibis');
  await dialog.getByLabel('Folder on this machine').fill(target);
  await dialog.getByLabel('Pictures').click();
  await page.getByRole('option', { name: 'as PNG' }).click();
  await dialog.getByRole('button', { name: 'Preview' }).click();
  await expect(dialog.getByRole('region', { name: 'Preview' })).toContainText(
    'actors/ibis/portrait_calm.png',
  );
  expect(fs.existsSync(target)).toBe(false);
  await dialog.getByRole('button', { name: 'Save and run' }).click();
  const first = await runOf(server, lanternfen.id);
  const { written } = first.counts;
  expect(written).toBe(20);
  // Pictures, voices and texts of hers lie in several holds.
  const log = fs.readFileSync(path.join(target, 'zero-latch-log.tsv'), 'utf8');
  for (const hold of ['h00-core', 'h01-sheets', 'h02-voices', 'h05-chest']) expect(log).toContain(hold);
  const before = filesBelow(target);
  const times = new Map(before.map((file) => [file, fs.statSync(path.join(target, file)).mtimeMs]));

  const recipe = page.getByRole('listitem', { name: 'All of Ibis' });
  await expect(recipe).toContainText(`${written} written`);
  await recipe.getByRole('button', { name: 'Run' }).click();
  await expect(recipe).toContainText(`0 written, ${written} as they were`);
  for (const file of before.filter((name) => name !== 'zero-latch-log.tsv'))
    expect(fs.statSync(path.join(target, file)).mtimeMs).toBe(times.get(file));

  // What somebody edited is kept, and said; what was thrown away comes again.
  fs.writeFileSync(path.join(target, 'actors/ibis/portrait_calm.png'), 'mine now');
  fs.rmSync(path.join(target, 'actors/ibis/portrait_glad.png'));
  await recipe.getByRole('button', { name: 'Run' }).click();
  await expect(recipe).toContainText(`1 written, ${written! - 2} as they were, 1 edited and kept`);
  expect(fs.readFileSync(path.join(target, 'actors/ibis/portrait_calm.png'), 'utf8')).toBe('mine now');

  // An amends hold comes that changes one of her texts and brings another: just these two are written.
  writeHold(
    path.join(lanternfen.folder, 'holds', 'h95-more.hold'),
    [
      { path: 'text/en/voices/ibis.lines', data: () => Buffer.from('ibis.greeting\tHello again.\n') },
      { path: 'text/en/places/ibis_nest.lines', data: () => Buffer.from('A nest.\n') },
    ],
    { roll: true, rank: 95, salt: Buffer.alloc(16) },
  );
  await server.api.post(`/api/games/${lanternfen.id}/jobs`, { data: { kind: 'scan' } });
  await server.settled(lanternfen.id);
  await recipe.getByRole('button', { name: 'Run' }).click();
  await expect(recipe).toContainText('2 written');
  expect(fs.readFileSync(path.join(target, 'text/en/voices/ibis.lines'), 'utf8')).toContain('Hello again');

  // The activity shows each run with what became of what, and why.
  await page.goto('/activity');
  await page.getByRole('listitem').filter({ hasText: 'All of Ibis' }).first().click();
  const side = page.getByRole('region', { name: 'What came of it' });
  await side.getByRole('button', { name: '1 edited and kept' }).click();
  await expect(side).toContainText('somebody changed the file');
});

test('after the frost update only what really changed is written', async ({
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const target = path.join(scratch, 'text');
  const recipe = {
    title: 'Texts',
    pick: { search: '', folder: 'text/en/places/', kind: null },
    folder: target,
  };
  const kept = await server.api.post(`/api/games/${lanternfen.id}/recipes`, { data: { recipe } });
  expect(kept.status(), await kept.text()).toBe(200);
  const { id } = (await kept.json()) as { id: number };
  const run = async (number: number) => {
    await server.api.post(`/api/games/${lanternfen.id}/recipes/${id}`);
    return (await runOf(server, lanternfen.id, number)).counts;
  };
  const first = await run(1);
  expect(first.written).toBe(10);

  // The update stores the same texts in another way, in archives of another version, under another key.
  const frost = path.join(scratch, 'frost');
  fs.cpSync(path.join(DEMO, 'lanternfen-frost'), frost, { recursive: true });
  const moved = await server.api.patch(`/api/games/${lanternfen.id}`, { data: { folder: frost } });
  expect(moved.status(), await moved.text()).toBe(200);
  await server.api.post(`/api/games/${lanternfen.id}/jobs`, { data: { kind: 'scan' } });
  await server.settled(lanternfen.id);
  await server.api.post(`/api/games/${lanternfen.id}/jobs`, {
    data: {
      kind: 'find-key',
      archiveId: await lockedArchive(server, lanternfen.id),
      program: 'Lanternfen.bin',
    },
  });
  await server.settled(lanternfen.id);
  const before = new Map(
    filesBelow(target).map((file) => [file, fs.readFileSync(path.join(target, file), 'utf8')]),
  );
  const after = await run(2);
  expect(after.failed).toBe(0);
  const changed = filesBelow(target).filter(
    (file) =>
      file !== 'zero-latch-log.tsv' && fs.readFileSync(path.join(target, file), 'utf8') !== before.get(file),
  );
  expect(after.written).toBe(changed.length);
  expect(after.skipped).toBe(10 - changed.length);
});

async function lockedArchive(server: Server, gameId: number): Promise<number> {
  const archives = (await (await server.api.get(`/api/games/${gameId}/archives`)).json()) as {
    id: number;
    state: string;
  }[];
  return archives.find(({ state }) => state === 'locked')!.id;
}

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
