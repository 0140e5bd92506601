import fs from 'node:fs';
import path from 'node:path';
import { createHash } from 'node:crypto';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { DEMO, expect, folderHash, helpCardBytes, test, type Game, type Server } from './fixtures';
import { job, modOf } from './mods-api';

const HOLD = 'holds/h00-core.hold';
const fileOf = (game: Game): string => path.join(game.folder, HOLD);
const creditsOf = (game: Game): string =>
  new Hold(fileOf(game), helpCardBytes()).take('credits.txt').toString();
const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** What another version of the game would have in the place of a hold: a whole one, with other contents. */
async function anotherHold(server: Server, game: Game): Promise<Buffer> {
  const other = await modOf(server, game, 'Elsewhere', { 'credits.txt': 'Version 3.3.\n' });
  const built = await job(server, game, { kind: 'build', modId: other });
  await job(server, game, { kind: 'install', buildId: built.result!.buildId });
  const bytes = fs.readFileSync(fileOf(game));
  await job(server, game, { kind: 'restore' });
  return bytes;
}

test('a game that was updated between build and install is left alone; after a scan it is asked what its originals are', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const original = fs.readFileSync(fileOf(lanternfen));
  const updated = await anotherHold(server, lanternfen);
  expect(fs.readFileSync(fileOf(lanternfen)).equals(original)).toBe(true);
  await modOf(server, lanternfen, 'Mine', { 'items/goods.csv': 'other goods\n' });
  const build = async (): Promise<void> => {
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('the proof holds')).toBeVisible();
    await server.settled(lanternfen.id);
  };
  const plan = page.getByRole('region', { name: 'What installing does' });
  const doubt = plan.getByRole('group', { name: `Doubt about ${HOLD}` });

  await test.step('nothing is overwritten that is not what it was', async () => {
    await page.goto(`/games/${lanternfen.id}/build`);
    await build();
    await expect(plan.getByText(HOLD)).toBeVisible();
    // It was kept when the other mod was installed, and is what the first scan saw.
    await expect(plan.getByText(/original of .* is kept/)).toBeVisible();
    await expect(doubt).toHaveCount(0);
    fs.writeFileSync(fileOf(lanternfen), updated);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect(page.getByText(/is not what it was when this was planned/).first()).toBeVisible();
    expect(fs.readFileSync(fileOf(lanternfen)).equals(updated)).toBe(true);
  });

  await test.step('built on the new file, its origin is questioned, and an installation waits for the answer', async () => {
    await job(server, lanternfen, { kind: 'scan' });
    await page.reload();
    await build();
    await expect(doubt).toContainText('It is what a build here made for Elsewhere');
    await expect(doubt).toContainText(/when it was first seen/);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await expect(page.getByText(/may not be what the game came with/).first()).toBeVisible();
    expect(fs.readFileSync(fileOf(lanternfen)).equals(updated)).toBe(true);
    await doubt.getByRole('button', { name: 'Yes, keep it as the original' }).click();
    await expect(doubt).toHaveCount(0);
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await page.getByRole('link', { name: /Installed/ }).click();
    await expect(page.getByText('as installed')).toBeVisible();
    expect(creditsOf(lanternfen)).toBe('Version 3.3.\n');
  });

  await test.step('what something else wrote meanwhile is told apart, and kept when its original goes back', async () => {
    await server.settled(lanternfen.id);
    const foreign = Buffer.concat([fs.readFileSync(fileOf(lanternfen)), Buffer.from('appended by a tool')]);
    fs.writeFileSync(fileOf(lanternfen), foreign);
    await page.reload();
    const changed = page.getByRole('group', { name: 'Changed by something else' });
    await expect(changed).toContainText(HOLD);
    await page.getByRole('button', { name: 'Restore the originals' }).click();
    await expect(page.getByText(/neither what was installed nor the original/).first()).toBeVisible();
    expect(fs.readFileSync(fileOf(lanternfen)).equals(foreign)).toBe(true);
    await changed.getByRole('button', { name: 'Put its original back too' }).click();
    await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
    expect(fs.readFileSync(fileOf(lanternfen)).equals(updated)).toBe(true);
  });
});

test('another file is taken for the original: one that a tool left beside it, told by a list of sums', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const original = fs.readFileSync(fileOf(lanternfen));
  const changed = await anotherHold(server, lanternfen);
  const untouched = folderHash(lanternfen.folder);
  fs.writeFileSync(`${fileOf(lanternfen)}.bak`, original);
  fs.writeFileSync(fileOf(lanternfen), changed);
  await job(server, lanternfen, { kind: 'scan' });

  await page.goto(`/games/${lanternfen.id}/installed`);
  await page.getByRole('button', { name: 'Edit known originals' }).click();
  const list = page.getByRole('dialog', { name: 'Known originals' });
  await list.getByLabel('SHA-256 sums, a file a line').fill('no sum\n');
  await list.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/Line 1 is no SHA-256/)).toBeVisible();
  await list.getByLabel('SHA-256 sums, a file a line').fill(`${sha256(original)}  ./${HOLD}\n`);
  await list.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('1 sum', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Edit terms' }).click();
  const terms = page.getByRole('dialog', { name: 'Terms of the game' });
  await terms.getByLabel('What its makers say').fill('Change what you like. Do not sell it.');
  await terms.getByRole('button', { name: 'Save' }).click();
  await expect(terms).toHaveCount(0);

  await modOf(server, lanternfen, 'Mine', { 'items/goods.csv': 'other goods\n' });
  await page.goto(`/games/${lanternfen.id}/build`);
  const build = page.getByRole('button', { name: /^Build/ });
  await build.click();
  const plan = page.getByRole('region', { name: 'What installing does' });
  await expect(plan.getByText('Do not sell it.')).toBeVisible();
  const doubt = plan.getByRole('group', { name: `Doubt about ${HOLD}` });
  await expect(doubt).toContainText(`The list of originals says SHA-256 ${sha256(original).slice(0, 12)}`);
  await expect(doubt).toContainText('h00-core.hold.bak lies beside it');
  await doubt
    .getByRole('button', { name: /The original is: (kept on .* before Elsewhere|h00-core.hold.bak)/ })
    .click();
  await expect(plan.getByText(/was built from another file than the original/)).toBeVisible();
  await build.click();
  await expect(plan.getByTitle(HOLD)).toBeVisible();
  await expect(doubt).toHaveCount(0);
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await page.getByRole('link', { name: /Installed/ }).click();
  await expect(page.getByText('as installed')).toBeVisible();
  // It was built on the original, without what the other one had changed.
  expect(creditsOf(lanternfen)).toContain('Oddharbour Works');
  await server.settled(lanternfen.id);
  await page.getByRole('button', { name: 'Restore the originals' }).click();
  await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
  fs.rmSync(`${fileOf(lanternfen)}.bak`);
  expect(folderHash(lanternfen.folder)).toBe(untouched);
});

test('a table that a mod of another had changed before the game came here is told of, and asked for its original', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'frost');
  fs.cpSync(path.join(DEMO, 'lanternfen-frost'), folder, { recursive: true });
  const game = await server.addGame(folder, `Frost with a table changed ${process.pid}`);
  const table = 'spill/text/de/ferry.lines';
  const file = path.join(folder, table);
  const found = fs.readFileSync(`${file}.orig`, 'utf8');
  expect(fs.readFileSync(file, 'utf8')).not.toBe(found);
  await page.goto(`/games/${game.id}/folder`);
  await expect(page.getByText(`${table}.orig looks like something kept aside`)).toBeVisible();

  const mine = found.replace('Die Nachtfähre', 'Die letzte Fähre');
  await modOf(server, game, 'Mine', { [table]: mine });
  await page.goto(`/games/${game.id}/build`);
  const build = page.getByRole('button', { name: /^Build/ });
  await build.click();
  const plan = page.getByRole('region', { name: 'What installing does' });
  const doubt = plan.getByRole('group', { name: `Doubt about ${table}` });
  await expect(doubt).toContainText('ferry.lines.orig lies beside it, as tools leave it');
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await expect(page.getByText(/may not be what the game came with/).first()).toBeVisible();
  await doubt.getByRole('button', { name: /The original is: ferry\.lines\.orig/ }).click();
  await expect(plan.getByText(/was built from another file than the original/)).toBeVisible();
  await build.click();
  await expect(doubt).toHaveCount(0);
  await page.getByRole('button', { name: 'Install', exact: true }).click();
  await page.getByRole('link', { name: /Installed/ }).click();
  await expect(page.getByText('as installed')).toBeVisible();
  expect(fs.readFileSync(file, 'utf8')).toBe(mine);
  await server.settled(game.id);
  await page.getByRole('button', { name: 'Restore the originals' }).click();
  await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
  expect(fs.readFileSync(file, 'utf8')).toBe(found);
  await server.api.delete(`/api/games/${game.id}`);
});
