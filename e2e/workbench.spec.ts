import fs from 'node:fs';
import path from 'node:path';
import { expect, expectHeard, openEntry, test } from './fixtures';
import { writeHold } from '../demo/world/hold-writer';

test('the keyboard moves, picks, looks, searches and helps', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents?folder=${encodeURIComponent('voice/en/odd/')}`);
  await expect(page.locator('[data-entry]')).toHaveCount(8);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('[data-entry]').nth(1)).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('x');
  await expect(page.getByText('Picked 1')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await expect(page.getByText(/^0:00\.00 of \d:\d\d\.\d\d$/)).toBeVisible();
  await page.keyboard.press(' ');
  await expectHeard(page);
  await page.keyboard.press('b');
  await expect(page.getByRole('dialog').getByText('52 49 46 46')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(page.getByText('Picked 1')).toHaveCount(0);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog').getByText(/each archive as a root of its own/)).toBeVisible();
  await page.getByRole('dialog').getByRole('tab', { name: 'Keys' }).click();
  await expect(page.getByRole('dialog').getByText('search the contents')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('/');
  await page.keyboard.type('storm');
  await expect(page.locator('[data-entry]')).toHaveCount(1);
  // Into the list and back.
  await page.keyboard.press('Enter');
  const grid = page.getByRole('grid', { name: 'Entries' });
  await expect(grid).toBeFocused();
  await expect(page.locator('[data-entry]').first()).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('Search the contents')).toBeFocused();
  await page.keyboard.press('Escape');
  // Along the chain, and single letters switched off.
  await page.keyboard.press(']');
  await expect(page).toHaveURL(/\/changes$/);
  await page.keyboard.press('[');
  await expect(page).toHaveURL(/\/contents$/);
  await page.keyboard.press('?');
  await page.getByRole('dialog').getByRole('tab', { name: 'Keys' }).click();
  await page.getByLabel(/Single letters are keys/).uncheck();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.locator('[data-entry]').first().click();
  await page.keyboard.press('x');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('[data-entry]').nth(1)).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByText(/^Picked/)).toHaveCount(0);
});

test('an address brings back folder, lens, search and entry', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await openEntry(page, lanternfen.id, 'jetty_dusk', 'jetty_dusk.sheet');
  await page.getByRole('tab', { name: /Pictures/ }).click();
  const address = page.url();
  expect(address).toMatch(/search=jetty_dusk/);
  await page.goto('/');
  await page.goto(address);
  await expect(page.getByLabel('Search the contents')).toHaveValue('jetty_dusk');
  await expect(page.getByRole('tab', { name: /Pictures/ })).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByText('512 x 256, BC1, 10 levels')).toBeVisible();

  // What the next page needs is fetched once the pointer is on its link, not before.
  const ofChanges: string[] = [];
  page.on('request', (request) => /\/changes\?.*_rsc=/.test(request.url()) && ofChanges.push(request.url()));
  await page.reload();
  await page.waitForLoadState('networkidle');
  expect(ofChanges).toEqual([]);
  await page
    .getByRole('link', { name: /Changes/ })
    .first()
    .hover();
  await expect.poll(() => ofChanges.length).toBeGreaterThan(0);
});

test('the load order decides which archive answers', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await openEntry(page, lanternfen.id, 'en/ferry.lines', 'ferry.lines');
  await expect(
    page.getByLabel('Inspector').getByRole('button', { name: /h90-amends.hold answers/ }),
  ).toBeVisible();
  await page.getByRole('link', { name: /Locks/ }).click();
  const place = (): Promise<number> =>
    page
      .getByRole('row')
      .evaluateAll((rows) => rows.findIndex(({ textContent }) => textContent?.includes('h90-amends.hold')));
  await expect.poll(place).toBeGreaterThan(1);
  // The list has to follow before the next press, or that would be of the row that was here.
  for (let at = await place(); at > 1; at = await place()) {
    await page.getByRole('button', { name: 'Load holds/h90-amends.hold earlier' }).click();
    await expect.poll(place).toBeLessThan(at);
  }
  await expect(page.getByRole('row').nth(1)).toContainText('h90-amends.hold');
  await openEntry(page, lanternfen.id, 'en/ferry.lines', 'ferry.lines');
  await expect(
    page.getByLabel('Inspector').getByRole('button', { name: /h00-core.hold answers/ }),
  ).toBeVisible();
  await expect(page.getByLabel('Text', { exact: true }).getByText('It minds you.')).toBeVisible();
});

test('a name list names what a hold knows by hash only', async ({ page, server, lanternfen }) => {
  const secret = [{ path: 'hidden/cellar.txt', data: () => Buffer.from('behind the boathouse') }];
  writeHold(path.join(lanternfen.folder, 'holds', 'h40-nameless.hold'), secret, {
    roll: false,
    rank: 40,
    salt: Buffer.alloc(16),
  });
  await server.api.post(`/api/games/${lanternfen.id}/jobs`, { data: { kind: 'scan' } });
  await server.settled(lanternfen.id);
  await page.goto(`/games/${lanternfen.id}/locks`);
  await expect(page.getByRole('row', { name: /h40-nameless/ })).toContainText('0 %');
  await page.getByRole('button', { name: 'Add a name list' }).click();
  await page
    .getByLabel('Paths, one a line')
    .fill('# found in the program\nhidden/attic.txt\nhidden/cellar.txt\n');
  await page.getByRole('button', { name: 'Load', exact: true }).click();
  await expect(page.getByRole('row', { name: /h40-nameless/ })).toContainText('100 %');
  await openEntry(page, lanternfen.id, 'cellar', 'cellar.txt');
  await expect(page.getByText('behind the boathouse')).toBeVisible();
});

test('thousands of entries scroll, and a broken one does not stop an extraction', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'many');
  fs.mkdirSync(folder);
  const entries = Array.from({ length: 6000 }, (_, i) => ({
    path: `a/very/long/folder/name/that/goes/on/and/on/entry_with_a_long_name_number_${String(i).padStart(5, '0')}.txt`,
    data: () => Buffer.from(`entry ${i}`),
  }));
  const file = path.join(folder, 'many.hold');
  writeHold(file, entries, { roll: true, rank: 1, salt: Buffer.alloc(16) });
  const game = await server.addGame(folder, 'Many');
  await page.goto(`/games/${game.id}/contents`);
  await expect(page.getByText('6,000,')).toBeVisible();
  const list = page.getByRole('grid', { name: 'Entries' });
  await list.evaluate((box) => box.scrollTo(0, box.scrollHeight));
  await expect(page.getByText('number_05999.txt')).toBeVisible();
  expect(await page.locator('[data-entry]').count()).toBeLessThan(80);

  const { rows } = (await (
    await server.api.get(`/api/games/${game.id}/entries?search=number_0000`)
  ).json()) as { rows: { archiveId: number; index: number }[] };
  const bytes = fs.readFileSync(file);
  const { offset } = (await (
    await server.api.get(`/api/games/${game.id}/entries/${rows[3]!.archiveId}/${rows[3]!.index}`)
  ).json()) as { offset: number };
  bytes[offset + 6]! ^= 0xff;
  fs.writeFileSync(file, bytes);
  await server.api.post(`/api/games/${game.id}/jobs`, { data: { kind: 'scan' } });
  await server.settled(game.id);
  const target = path.join(scratch, 'out');
  await server.api.post(`/api/games/${game.id}/jobs`, {
    data: {
      kind: 'extract',
      folder: target,
      entries: rows.map(({ archiveId, index }) => ({ archiveId, index })),
    },
  });
  const [job] = await server.settled(game.id);
  expect(job).toMatchObject({
    state: 'done',
    result: { counts: { written: 9, failed: 1 } },
  });
  const log = fs.readFileSync(path.join(target, 'zero-latch-log.tsv'), 'utf8').split('\n');
  expect(log.filter((line) => line.startsWith('failed\t')).join()).toContain('number_00003');

  const all: { archiveId: number; index: number }[] = Array.from({ length: 6000 }, (_, index) => ({
    archiveId: rows[0]!.archiveId,
    index,
  }));
  const begun = (await (
    await server.api.post(`/api/games/${game.id}/jobs`, {
      data: { kind: 'extract', folder: path.join(scratch, 'stopped'), entries: [...all, ...all, ...all] },
    })
  ).json()) as { id: string };
  await expect
    .poll(async () => (await (await server.api.get(`/api/jobs/${begun.id}`)).json()).state, {
      intervals: [20],
    })
    .toBe('running');
  await server.api.delete(`/api/jobs/${begun.id}`);
  const [stopped] = await server.settled(game.id);
  expect(stopped).toMatchObject({ state: 'cancelled', error: expect.stringContaining('Stopped on request') });
  const left = fs.readdirSync(path.join(scratch, 'stopped'), { recursive: true, encoding: 'utf8' });
  expect(left.filter((name) => name.endsWith('.part'))).toEqual([]);
  expect(left.length).toBeLessThan(18_000);
  await server.api.delete(`/api/games/${game.id}`);
});

test('empty states say what to do next, in light and dark', async ({ page, server, lanternfen, scratch }) => {
  for (const [place, words] of [
    ['changes', 'No mod yet'],
    ['build', 'Nothing to build'],
    ['installed', 'Nothing installed'],
    ['trial', 'Not tried yet'],
  ] as const) {
    await page.goto(`/games/${lanternfen.id}/${place}`);
    await expect(page.getByRole('heading', { name: words })).toBeVisible();
  }
  fs.mkdirSync(path.join(scratch, 'nothing'));
  const empty = await server.addGame(path.join(scratch, 'nothing'), 'Empty');
  await page.goto(`/games/${empty.id}/folder`);
  await expect(page.getByRole('heading', { name: 'No archives were found' })).toBeVisible();
  await page.goto(`/games/${empty.id}/contents`);
  await expect(page.getByRole('heading', { name: 'No archive is open' })).toBeVisible();
  const ground = (): Promise<string> => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect.poll(ground).toBe('rgb(13, 24, 27)');
  await page.emulateMedia({ colorScheme: 'light' });
  await expect.poll(ground).toBe('rgb(244, 241, 234)');
  await server.api.delete(`/api/games/${empty.id}`);
});

test('a change of what another archive hides is pointed out', async ({ page, server, lanternfen }) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Hidden' } });
  await openEntry(page, lanternfen.id, 'en/ferry.lines', 'ferry.lines');
  await page
    .getByLabel('Inspector')
    .getByRole('button', { name: /h00-core.hold hidden/ })
    .click();
  await expect(page.getByLabel('Text', { exact: true }).getByText('It minds you.')).toBeVisible();
  const original = (await page.getByLabel('Text', { exact: true }).locator('.cm-line').allInnerTexts()).join(
    '\n',
  );
  await page.getByLabel('File to put in its place').setInputFiles({
    name: 'ferry.lines',
    mimeType: 'text/plain',
    buffer: Buffer.from(original.replace('It minds you.', 'Nobody reads this.')),
  });
  await expect(page.getByText(/ferry.lines replaced/)).toBeVisible();
  await page.getByRole('link', { name: /Changes/ }).click();
  await expect(page.getByText('hidden by holds/h90-amends.hold').first()).toBeVisible();
});

test('a change is taken out and put back, and a mod can be built again while it is installed', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Again' } });
  await openEntry(page, lanternfen.id, 'credits.txt');
  const replace = async (text: string): Promise<void> => {
    const done = page.waitForResponse((response) => response.request().method() === 'PUT');
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'credits.txt', mimeType: 'text/plain', buffer: Buffer.from(text) });
    await done;
  };
  await replace('First try.\n');
  await page.getByRole('link', { name: /Changes/ }).click();
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(page.getByRole('heading', { name: 'Nothing changed yet' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('option').filter({ hasText: 'credits.txt' })).toBeVisible();

  const original = fs.readFileSync(path.join(lanternfen.folder, 'holds/h00-core.hold'));
  for (const text of ['First try.\n', 'Second try.\n']) {
    await openEntry(page, lanternfen.id, 'credits.txt');
    await replace(text);
    await page.goto(`/games/${lanternfen.id}/build`);
    await page.getByRole('button', { name: /^Build/ }).click();
    await expect(page.getByText('older than the changes')).toHaveCount(0);
    await expect(page.getByText('the proof holds')).toBeVisible();
    await page.getByRole('button', { name: 'Install', exact: true }).click();
    await openEntry(page, lanternfen.id, 'credits.txt');
    await expect(page.getByLabel('Text', { exact: true }).getByText(text.trim())).toBeVisible();
  }
  await page.getByRole('link', { name: /Installed/ }).click();
  await page.getByRole('button', { name: 'Restore the originals' }).click();
  await expect(page.getByRole('heading', { name: 'The folder holds its originals' })).toBeVisible();
  expect(fs.readFileSync(path.join(lanternfen.folder, 'holds/h00-core.hold')).equals(original)).toBe(true);
});
