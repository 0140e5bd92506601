import fs from 'node:fs';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { expect, openEntry, test } from './fixtures';

test('archives within archives are folders, and loose files belong to the tree', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await page.goto(`/games/${lanternfen.id}/locks`);
  await expect(page.getByRole('row', { name: /chest\/odd\.hold/ })).toContainText('open');
  await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('chest/odd.hold/')}`);
  const item = page.locator('[data-entry]').filter({ hasText: 'coat_colour.sheet' });
  await item.click();
  await expect(page.getByRole('img', { name: 'coat_colour.sheet' })).toBeVisible();
  await page.getByLabel('Pick chest/odd.hold/coat/coat_colour.sheet').check();
  await page.keyboard.press('e');
  const target = path.join(scratch, 'out');
  await page.getByLabel('1 picture').click();
  await page.getByRole('option', { name: 'as they are' }).click();
  await page.getByLabel('Folder on this machine').fill(target);
  await page.getByRole('button', { name: 'Write to the folder' }).click();
  await expect
    .poll(() => fs.existsSync(path.join(target, 'chest/odd.hold/coat/coat_colour.sheet')))
    .toBe(true);

  await openEntry(page, lanternfen.id, 'in:. readme', 'readme.txt');
  await expect(page.getByLabel('Text', { exact: true })).toContainText('Keep your feet dry.');
  await expect(page.locator('[data-entry]').filter({ hasText: 'readme.txt' })).toContainText('loose');
  await page.getByLabel('Pick readme.txt').check();
  await page.keyboard.press('e');
  await page.getByLabel('Folder on this machine').fill(target);
  await page.getByRole('button', { name: 'Write to the folder' }).click();
  await expect.poll(() => fs.existsSync(path.join(target, 'readme.txt'))).toBe(true);
  expect(fs.readFileSync(path.join(target, 'readme.txt'))).toEqual(
    fs.readFileSync(path.join(lanternfen.folder, 'readme.txt')),
  );
  await server.settled(lanternfen.id);
});

test('searches ask for kinds, sizes and states, are kept, and say what is wrong with them', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents`);
  const box = page.getByLabel('Search the contents');
  const rows = page.locator('[data-entry]');
  await box.fill('kind:sound size:>70k ferry');
  await expect(rows).toHaveCount(2);
  await box.fill('is:hidden kind:text');
  await expect(rows).toHaveCount(2);
  await expect(rows.first()).toContainText('hidden');
  await box.fill('/^text.en.*ferry/ -bell');
  await expect(rows).toHaveCount(1);
  await box.fill('size:big');
  await expect(page.getByRole('alert').filter({ hasText: '10k..2M' })).toBeVisible();
  await box.fill('/(/');
  await expect(page.getByRole('alert').filter({ hasText: 'expression' })).toBeVisible();
  await box.fill('name:ferry kind:text');
  await expect(rows).toHaveCount(3);
  await page.getByRole('button', { name: 'Order by size' }).click();
  await page.getByRole('button', { name: 'Searches' }).click();
  await page.getByLabel('Title of the search').fill('Ferry tables');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Ferry tables', exact: true })).toBeVisible();
  await page.goto(`/games/${lanternfen.id}/contents`);
  await page.getByRole('button', { name: 'Searches' }).click();
  await page.getByRole('button', { name: 'Ferry tables', exact: true }).click();
  await expect(rows).toHaveCount(3);
  await expect(page).toHaveURL(/sort=size/);
  const sizes = (await rows.allInnerTexts()).map((text) => Number(/(\d+) B/.exec(text)?.[1]));
  expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
});

test('the chosen entry is in sight again after a reload, far down a list', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'far');
  fs.mkdirSync(folder);
  const entries = Array.from({ length: 4000 }, (_, i) => ({
    path: `far/entry_${String(i).padStart(5, '0')}.txt`,
    data: () => Buffer.from(`entry ${i}`),
  }));
  writeHold(path.join(folder, 'far.hold'), entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
  const game = await server.addGame(folder, `Far ${process.pid}`);
  await openEntry(page, game.id, 'entry_03500', 'entry_03500.txt');
  await page.getByLabel('Search the contents').fill('');
  await expect(page.getByRole('grid', { name: 'Entries' })).toHaveAttribute('aria-rowcount', '4000');
  await page.reload();
  await expect(page.locator('[data-entry]').filter({ hasText: 'entry_03500.txt' })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await server.api.delete(`/api/games/${game.id}`);
});

test('tags, readable names and notes are kept by path and searched for', async ({ page, lanternfen }) => {
  await openEntry(page, lanternfen.id, 'text/en/ferry', 'ferry.lines');
  const notes = page.getByRole('region', { name: 'Your notes' });
  await notes.getByLabel('Name for people').fill('What the keeper says');
  await notes.getByLabel('Name for people').press('Enter');
  await notes.getByLabel('Tags').fill('todo');
  await notes.getByLabel('Tags').press('Enter');
  await expect(page.locator('[data-entry]').first()).toContainText('What the keeper says');
  await page.goto(`/games/${lanternfen.id}/contents?search=${encodeURIComponent('tag:todo')}`);
  await expect(page.locator('[data-entry]')).toHaveCount(1);
  await page.goto(`/games/${lanternfen.id}/contents?search=${encodeURIComponent('"the keeper says"')}`);
  await expect(page.locator('[data-entry]')).toHaveCount(1);
});

test('an id table shows readable names and is searched; codes with two names are said', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents`);
  await page.getByRole('button', { name: 'Readable names…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Codes and names' });
  await dialog.getByLabel('File with an id table').setInputFiles({
    name: 'cast.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('code,name\nbog_heron,The great bird\nodd,The keeper\nodd,Somebody else\n'),
  });
  await expect(
    page.getByText(/1 code stands there with two names, of which the first counts: odd/),
  ).toBeVisible();
  await expect(dialog).toContainText('cast.csv, 2 codes');
  await dialog.getByLabel('File with an id table').setInputFiles({
    name: 'wrong.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"a": '),
  });
  await expect(page.getByText(/This is no JSON/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByLabel('Search the contents').fill('"great bird" portrait');
  await expect(page.locator('[data-entry]').first()).toContainText('The great bird');
  await expect(page.locator('[data-entry]').first()).toHaveAttribute('title', /actors\/bog_heron/);
});

test('two levels of a stack are compared, and references are followed', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await openEntry(page, lanternfen.id, 'text/en/ferry', 'ferry.lines');
  await page.getByRole('button', { name: 'Compare' }).click();
  const dialog = page.getByRole('dialog');
  // A line of the amended text has more words; nothing behind it is moved.
  await expect(dialog.getByRole('heading')).toContainText(/bytes differ in \d places?/);
  await expect(dialog).toContainText('Difference 1 of');
  await page.keyboard.press('Escape');

  await openEntry(page, lanternfen.id, 'scenes/boathouse', 'boathouse.scene');
  const refers = page.getByRole('region', { name: 'Refers to', exact: true });
  await refers.getByRole('button', { name: /portrait_calm\.sheet/ }).click();
  await expect(page.getByRole('img', { name: 'portrait_calm.sheet' })).toBeVisible();
});

test('texts and bytes are found inside entries', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('text/')}`);
  await page.getByRole('button', { name: 'Search inside…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Text').fill('Mind the third plank');
  await dialog.getByRole('button', { name: 'Search' }).click();
  await expect(dialog.getByText(/Found \d+ times? in \d+ entr/)).toBeVisible();
  const hit = dialog.getByRole('list', { name: 'Found inside' }).getByRole('listitem').first();
  await expect(hit).toContainText('Mind the third plank');
  await hit.click();
  await expect(page.getByLabel('Inspector')).toContainText('ferry.lines');
  const answer = await server.api.post(`/api/games/${lanternfen.id}/jobs`, {
    data: { kind: 'search-inside', hex: 'xyz' },
  });
  expect(answer.status()).toBe(200);
  const [job] = await server.settled(lanternfen.id);
  expect(job).toMatchObject({ state: 'failed', error: expect.stringContaining('no row of bytes') });
});

test('any two entries stand side by side, and differences are stepped through', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'two');
  fs.mkdirSync(folder);
  const bytes = Buffer.alloc(5000, 7);
  const other = Buffer.from(bytes);
  other[100] = 1;
  other[4000] = 2;
  const entries = [
    { path: 'one.bin', data: () => bytes },
    { path: 'other.bin', data: () => other },
    { path: 'same.bin', data: () => Buffer.from(bytes) },
  ];
  writeHold(path.join(folder, 'two.hold'), entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
  const game = await server.addGame(folder, `Two ${process.pid}`);
  await page.goto(`/games/${game.id}/contents`);
  await page.getByLabel('Pick one.bin').check();
  await page.getByLabel('Pick other.bin').check();
  await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'Compare' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('heading')).toHaveText('2 bytes differ in 2 places');
  await expect(dialog).toContainText('Difference 1 of 2: 1 byte from 0x00000064');
  await dialog.getByRole('button', { name: 'Next' }).click();
  await expect(dialog).toContainText('Difference 2 of 2: 1 byte from 0x00000fa0');
  await expect(dialog.getByRole('region', { name: 'Both entries' })).toContainText('02');
  await page.keyboard.press('Escape');
  await page.locator('[data-entry]').filter({ hasText: 'one.bin' }).click();
  const same = page.getByRole('region', { name: 'The same content elsewhere' });
  await expect(same.getByRole('button')).toHaveCount(1);
  await expect(same).toContainText('same.bin');
  // What the script shows of entries is a filter.
  await page.getByRole('combobox', { name: 'Filter by sort' }).click();
  await page.getByRole('option', { name: 'bin, 3' }).click();
  await expect(page.getByLabel('Search the contents')).toHaveValue('sort:bin');
  await expect(page.getByLabel('Inspector')).toContainText('sort');
  await server.api.delete(`/api/games/${game.id}`);
});
