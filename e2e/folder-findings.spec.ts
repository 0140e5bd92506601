import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from './fixtures';

test('a folder one level off is recognised, and the right one is taken', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.api.delete(`/api/games/${lanternfen.id}`);
  const game = await server.addGame(path.join(lanternfen.folder, 'holds'), `Holds only ${process.pid}`);
  await page.goto(`/games/${game.id}/folder`);
  const notes = page.getByRole('region', { name: 'To know' });
  await expect(notes).toContainText('This is a folder within the game');
  await notes.getByRole('button', { name: 'Use lanternfen' }).click();
  await expect(page.getByLabel('Folder of the game')).toHaveValue(fs.realpathSync(lanternfen.folder));
  await server.settled(game.id);
  await expect(page.getByRole('heading', { name: /^20 archives/ })).toBeVisible();
  await server.api.delete(`/api/games/${game.id}`);

  const outer = path.join(path.dirname(lanternfen.folder), 'box');
  fs.mkdirSync(outer);
  fs.cpSync(lanternfen.folder, path.join(outer, 'Lanternfen'), { recursive: true });
  const boxed = await server.addGame(outer, `Boxed ${process.pid}`);
  await page.goto(`/games/${boxed.id}/folder`);
  await expect(notes).toContainText('Everything lies in Lanternfen');
  await expect(notes.getByRole('button', { name: 'Use Lanternfen' })).toBeVisible();
  await server.api.delete(`/api/games/${boxed.id}`);
});

test('a folder that changes is noticed; what is not as it was is pointed out; marks of changes and links too', async ({
  page,
  server,
  lanternfen,
}) => {
  const readme = path.join(lanternfen.folder, 'readme.txt');
  fs.appendFileSync(readme, 'Changed.\n');
  fs.writeFileSync(path.join(lanternfen.folder, 'settings.ini.bak'), 'tongue=no\n');
  fs.symlinkSync(os.tmpdir(), path.join(lanternfen.folder, 'out'));
  await page.goto(`/games/${lanternfen.id}/folder`);
  await expect(page.getByRole('status').filter({ hasText: 'not as the last scan saw it' })).toContainText(
    'readme.txt',
  );
  await page.getByRole('status').getByRole('button', { name: 'Scan again' }).click();
  const notes = page.getByRole('region', { name: 'To know' });
  await expect(notes).toContainText('readme.txt is not what it was');
  await expect(notes).toContainText('settings.ini.bak looks like something kept aside');
  await expect(notes).toContainText('1 link was not followed');
  await server.settled(lanternfen.id);
  const { rows } = (await (
    await server.api.get(`/api/games/${lanternfen.id}/entries?search=out`)
  ).json()) as { rows: { path: string }[] };
  expect(rows.filter(({ path: name }) => name.startsWith('out/'))).toEqual([]);
});

test('an archive that wraps the game is opened first, and the map leads into it', async ({
  page,
  server,
  lanternfen,
}) => {
  await page.goto(`/games/${lanternfen.id}/folder`);
  await expect(page.getByRole('region', { name: 'To know' })).toContainText(
    'holds/h05-chest.hold has 8 archives in it',
  );
  const loaded = page.waitForResponse((response) => response.url().endsWith('/map'));
  await page.getByRole('button', { name: 'Kinds' }).click();
  await loaded;
  await expect(page.getByRole('list', { name: 'Kinds by size' })).toContainText('text');
  await page.getByRole('button', { name: 'Folders' }).click();
  const map = page.getByRole('list', { name: 'Folders by size' });
  const largest = map.getByRole('link').first();
  const folder = /^[^/]+\//.exec(await largest.innerText())![0];
  await largest.click();
  await expect(page).toHaveURL(/contents\?folder=/);
  await expect(page.getByText(`in ${folder}`)).toBeVisible();
  await server.settled(lanternfen.id);
});
