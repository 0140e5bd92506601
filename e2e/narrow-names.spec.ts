import fs from 'node:fs';
import path from 'node:path';
import { DEMO, expect, test } from './fixtures';

test('names of 32-bit hashes are guessed only with a witness, and none falsely', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'tallow');
  fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
  const printed = path.join(folder, 'printed-names.txt');
  const names = fs
    .readFileSync(printed, 'latin1')
    .split(/\r?\n/)
    .filter((line) => line.includes('\\'))
    .map((line) => line.replaceAll('\\', '/').toLowerCase());
  fs.rmSync(printed);
  const game = await server.addGame(folder, `Tallow ${process.pid}`);
  const stores = async () => {
    const archives = (await (await server.api.get(`/api/games/${game.id}/archives`)).json()) as {
      path: string;
      entries: number;
      named: number;
    }[];
    return archives.find(({ path: name }) => name === 'stores.list')!;
  };
  const none = await stores();
  expect(none).toMatchObject({ entries: names.length, named: 0 });
  // Half of the names are given, as a list that somebody found.
  const given = names.filter((name) => name.startsWith('ledger/') || name.startsWith('harbours/'));
  await server.api.post(`/api/games/${game.id}/names`, {
    data: { title: 'printed', text: given.join('\n') },
  });
  await server.settled(game.id);
  expect((await stores()).named).toBe(given.length);

  await page.goto(`/games/${game.id}/locks`);
  await page.getByRole('button', { name: 'Work out names' }).click();
  await page
    .getByLabel('Patterns or words, one a line')
    .fill('calls/{bell,gull,quay,trader,crow,otter}_{0..9}.call\ntraders/{odd,ibis,sallow,nobody}.print');
  await page.getByRole('button', { name: 'Try them' }).click();
  await expect(page.getByText(/64 names were tried on .*: \d+ taken/)).toBeVisible();
  await server.settled(game.id);
  const found = async (search: string): Promise<string[]> => {
    const url = `/api/games/${game.id}/entries?limit=500&search=${encodeURIComponent(search)}`;
    const { rows } = (await (await server.api.get(url)).json()) as { rows: { path: string }[] };
    return rows.map(({ path: name }) => name);
  };
  const guessed = await found('is:guessed');
  expect(guessed.length).toBeGreaterThanOrEqual(20);
  expect(guessed.filter((name) => !names.includes(name.toLowerCase()))).toEqual([]);

  // A flood of names that are none: by chance one of millions would fit a hash of 32 bits.
  const flood = await server.api.post(`/api/games/${game.id}/jobs`, {
    data: { kind: 'try-names', pattern: 'wreck{0..9999}_{0..99}.txt' },
  });
  expect(flood.status()).toBe(200);
  await server.settled(game.id);
  expect((await found('is:guessed')).sort()).toEqual(guessed.sort());
  await server.api.delete(`/api/games/${game.id}`);
});

test("a creature's files of base and amends are one tree, and codes of an entry give them names", async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('actors/odd/')}`);
  const rows = page.locator('[data-entry]');
  const calm = rows.filter({ hasText: 'portrait_calm.sheet' });
  await calm.click();
  // Of the amended picture both levels are there, the amends first.
  const inspector = page.getByLabel('Inspector');
  await expect(inspector.getByText('holds/h90-amends.hold')).toBeVisible();
  await expect(inspector.getByText('holds/h01-sheets.hold')).toBeVisible();
  await expect(inspector.getByText('answers', { exact: true })).toHaveCount(1);

  // The table of goods is an entry of the game; its codes are a table here.
  await page.goto(`/games/${lanternfen.id}/contents?search=goods.csv`);
  await rows.first().click();
  await expect(inspector.getByText('goods.csv', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Readable names…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Codes and names' });
  await dialog.getByRole('button', { name: 'Read the chosen entry' }).click();
  await expect(dialog).toContainText(/goods\.csv, 14 codes/);
  await expect(dialog).toContainText('items/goods.csv in holds/h00-core.hold: lf0040 is');
  await dialog.getByLabel('File with an id table').setInputFiles({
    name: 'parts.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify({ bog_heron: 'The heron', coat: 'Plumage', '*_calm': 'at rest' })),
  });
  await expect(dialog).toContainText('parts.json, 3 codes');
  await page.keyboard.press('Escape');
  await page.getByLabel('Search the contents').fill('"the heron" "at rest"');
  await expect(rows).toHaveCount(1);
  await expect(rows.first()).toContainText('The heron, at rest');
});
