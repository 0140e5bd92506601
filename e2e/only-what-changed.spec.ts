import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { DEMO, expect, filesBelow, test, type Server } from './fixtures';
import { runOf } from './recipe-runs';

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
  expect(written).toBe(28);
  // Pictures, models, voices and texts of hers lie in several holds.
  const log = fs.readFileSync(path.join(target, 'zero-latch-log.tsv'), 'utf8');
  for (const hold of ['h00-core', 'h01-sheets', 'h02-voices', 'h05-chest', 'h06-forms'])
    expect(log).toContain(hold);
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
  await recipe.getByRole('link', { name: 'What came of each file' }).click();
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
