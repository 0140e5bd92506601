import fs from 'node:fs';
import path from 'node:path';
import { DEMO, expect, filesBelow, test } from './fixtures';
import { runOf } from './recipe-runs';

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
  // Nothing in its bytes tells that it is the program; whoever knows the game says so.
  const said = { scope: 'path', path: 'tallow.bin', kind: 'program' };
  expect((await server.api.post(`/api/games/${game.id}/kinds`, { data: said })).status()).toBe(200);
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`/games/${game.id}/contents`);
  await page.getByRole('button', { name: 'Pick by lines…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Pick by lines' });
  // The game's own manifest tells of files of the folder: its archives are known as what they are.
  const manifest = fs.readFileSync(path.join(folder, 'manifest.txt'), 'latin1').trim().split(/\r?\n/);
  await dialog.getByLabel('File with lines').setInputFiles(path.join(folder, 'manifest.txt'));
  const lines = dialog.getByRole('region', { name: 'Lines' });
  await expect(lines).toContainText(`${manifest.length} of ${manifest.length} lines matched`);
  await expect(lines).toContainText('8 name archives');
  await lines.getByLabel('Find in the lines').fill('archive');
  await expect(lines.getByText('stores.list', { exact: false }).first()).toBeVisible();
  await expect(lines).toContainText('part of stores.list');
  await lines.getByLabel('Find in the lines').fill('program');
  await expect(lines).toContainText('tallow.bin');
  await lines.getByLabel('Find in the lines').fill('boathouse');
  await lines.getByRole('button', { name: 'Show its entries' }).first().click();
  await expect(dialog).toBeHidden();
  await expect(page).toHaveURL(/archive=\d+/);
  await expect(page.locator('[data-entry]').first()).toContainText('boathouse');
  await page.goto(`/games/${game.id}/contents`);
  await page.getByRole('button', { name: 'Pick by lines…' }).click();

  // The names that its shop printed, every line with its kind beside it.
  await dialog.getByLabel('File with lines').setInputFiles(path.join(folder, 'printed-names.txt'));
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
