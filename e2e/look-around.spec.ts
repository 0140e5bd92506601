import AxeBuilder from '@axe-core/playwright';
import fs from 'node:fs';
import path from 'node:path';
import { expect, helpCardKey, test } from './fixtures';

test('look-around: what is open and by which key, counts, beginnings of names, properties, references, and how a level is put together', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  const inspector = page.getByLabel('Inspector');
  const entries = page.locator('[data-entry]');
  const row = page.getByRole('region', { name: 'Row' });
  const contents = (query: Record<string, string>): Promise<unknown> =>
    page.goto(`/games/${lanternfen.id}/contents?${new URLSearchParams(query)}`);

  await test.step('each archive says whether it is open', async () => {
    await page.goto(`/games/${lanternfen.id}/locks`);
    await expect(page.getByRole('row', { name: /h00-core\.hold/ })).toContainText('open');
    await expect(page.getByRole('row', { name: /h06-forms\.hold/ })).toContainText('locked');
  });

  await test.step('the version that a key is for is changed without starting again', async () => {
    await page.getByRole('button', { name: 'Add a key' }).first().click();
    const add = page.getByRole('dialog', { name: 'Add keys' });
    await add.getByLabel('Key, or a text with keys in it').fill(helpCardKey());
    await add.getByLabel('Label').fill('help card');
    await add.getByLabel('Only for version').fill('Peatfire 4');
    await add.getByRole('button', { name: 'Add and try' }).click();
    await server.settled(lanternfen.id);
    const keyring = page.getByRole('region', { name: 'Keyring' });
    await expect(keyring).toContainText('for version Peatfire 4 only');
    await expect(keyring).toContainText('opens nothing here');
    await keyring.getByRole('button', { name: 'Change help card' }).click();
    const change = page.getByRole('dialog', { name: 'Change help card' });
    await change.getByLabel('Only for version').fill('Peatfire 3');
    await change.getByRole('button', { name: 'Change and try' }).click();
    await expect(change).toHaveCount(0);
    await server.settled(lanternfen.id);
    await expect(keyring).toContainText('for version Peatfire 3 only');
    await expect(keyring).toContainText(/opens \d+ archives/);
    await expect(page.getByRole('row', { name: /h06-forms\.hold/ })).toContainText('open');
    const refused = await server.api.patch(`/api/games/${lanternfen.id}/keys/999999`, {
      data: { version: '' },
    });
    expect(refused.status()).toBe(404);
  });

  await test.step('folders have counts, and a search by part of a name counts too', async () => {
    await contents({});
    const tree = page.getByRole('tree');
    await expect(tree.getByRole('treeitem', { name: /levels/ })).toContainText('4');
    await page.getByLabel('Search the contents').fill('lantern');
    await expect(entries.first()).toContainText(/lantern/i);
  });

  await test.step('a sound is listened to, and its path copied', async () => {
    await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
    await contents({ search: 'toll_03', kind: 'sound' });
    await entries.first().click();
    await expect(inspector.getByText('toll_03.wav', { exact: true }).first()).toBeVisible();
    await inspector.getByRole('button', { name: 'Copy', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Copy the path' }).click();
    await expect
      .poll(() => page.evaluate(() => navigator.clipboard.readText()))
      .toBe('sound/bell/toll_03.wav');
  });

  await test.step('what the end of a name means is said, shown and searched', async () => {
    await page.getByRole('button', { name: 'Readable names…' }).click();
    await page.getByRole('tab', { name: 'Beginnings and ends' }).click();
    const meaning = page.getByLabel('What *_colour means');
    await meaning.fill('what it looks like');
    await meaning.press('Enter');
    await expect(meaning).toHaveValue('what it looks like');
    await page.keyboard.press('Escape');
    await contents({ search: '"what it looks like" plumage' });
    await expect(entries.first()).toContainText('plumage_colour.sheet');
  });

  await test.step('properties of a binary table stand beside it, are read, and taken out', async () => {
    await contents({ search: 'jetty.layout' });
    await entries.first().click();
    await expect(inspector.getByRole('table', { name: 'First rows' })).toContainText('2101');
    await expect(inspector.getByText(/Layout, Peatfire/)).toBeVisible();
    await inspector.getByRole('link', { name: 'Read it' }).click();
    await expect(page.getByRole('heading', { name: 'levels/jetty.layout' })).toBeVisible();
    await page.getByRole('button', { name: 'Take out' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: 'as JSON' }).click();
    const file = path.join(scratch, 'jetty.json');
    await (await download).saveAs(file);
    expect((JSON.parse(fs.readFileSync(file, 'utf8')) as unknown[])[1]).toMatchObject({ under: 4100 });
  });

  await test.step('a level is a tree of its parts and a view from above; references are followed', async () => {
    await page.getByRole('button', { name: 'See how it is put together' }).click();
    const level = page.getByRole('dialog', { name: 'levels/jetty.layout' });
    await expect(level.getByText('49 parts')).toBeVisible();
    await expect(level.getByRole('img', { name: 'From above: 49 parts' })).toBeVisible();
    const { violations } = await new AxeBuilder({ page }).analyze();
    const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
    expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0]!.html}`)).toEqual([]);
    const parts = level.getByRole('navigation', { name: 'Parts' });
    await level.getByLabel('Find a part').fill('lantern');
    await parts.getByRole('treeitem', { name: 'lantern' }).first().click();
    const part = level.getByRole('region', { name: 'The part' });
    await expect(part.getByRole('status')).toHaveText('lantern');
    await expect(part).toContainText(/part 2 of\s*lamp post/);
    await expect(page).toHaveURL(/spot=\d+/);
    await page.reload();
    await expect(part.getByRole('status')).toHaveText('lantern');
    await part.getByRole('button', { name: 'lamp post', exact: true }).last().click();
    await expect(part.getByRole('status')).toHaveText('lamp post');
    await expect(part).toContainText('holds2 parts');
    await part.getByRole('button', { name: 'lamp post', exact: true }).first().click();
    await expect(page.getByRole('heading', { name: 'levels/pieces.json' })).toBeVisible();
    await expect(row.getByRole('heading', { name: 'lamp post' })).toBeVisible();
    await expect(row).toContainText(/parts\[\]\.is of pieces\.json/);
    await row.getByRole('button', { name: 'See how it is put together' }).click();
    await expect(page.getByRole('dialog', { name: 'lamp post' }).getByText('2 parts')).toBeVisible();
    await page.goBack();
    await page.getByRole('button', { name: 'Words for steps and maps' }).click();
    const words = page.getByRole('dialog', { name: 'Words for steps and maps' });
    await words.getByRole('textbox', { name: 'Words' }).fill('parts of: jetty\nis: [piece]\nat: [x]\n');
    await words.getByRole('button', { name: 'Keep the words' }).click();
    await expect(page.getByText(/two or three fields/)).toBeVisible();
    await words.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('a file is asked which rows name it', async () => {
    await contents({ search: 'lantern.form' });
    await entries.first().click();
    await inspector.getByRole('button', { name: 'Which rows name it?' }).click();
    const named = inspector.getByRole('region', { name: 'Named in tables' });
    await expect(named).toContainText(/form of pieces\.json, 1 time/);
    await expect(named).toContainText(/look of pieces\.json, 1 time/);
    await named.getByRole('link', { name: 'lantern' }).first().click();
    await expect(row.getByRole('heading', { name: 'lantern' })).toBeVisible();
    await row.getByRole('button', { name: 'props/lantern/lantern.form' }).first().click();
    await expect(page.getByRole('heading', { name: 'Files that are named' })).toBeVisible();
    await expect(row).toContainText(/look of pieces\.json/);
  });

  await test.step('what a field means is written into the script of its table, for all that it reads', async () => {
    await page.goto(`/games/${lanternfen.id}/read?${new URLSearchParams({ table: 'levels/jetty.layout' })}`);
    await page.getByRole('button', { name: /^What points where/ }).click();
    const dialog = page.getByRole('dialog', { name: 'What points where' });
    const under = (level: string) =>
      dialog.getByText(`under of ${level}.layout → ${level}.layout, by id`).locator('xpath=..');
    await expect(under('jetty')).toContainText('found');
    await under('jetty').getByRole('button', { name: 'Write into the script' }).click();
    try {
      await expect(page.getByText('a script of your own, made of Layout, Peatfire')).toBeVisible();
      for (const level of ['jetty', 'market_raft', 'lamp_tower'])
        await expect(under(level)).toContainText('by words or a script');
      await page.getByRole('button', { name: 'Look at it' }).click();
      await expect(page.locator('.cm-content')).toContainText('under: { value: under, means: itself }');
    } finally {
      const scripts = (await (await server.api.get('/api/scripts')).json()) as {
        id: string;
        title: string;
        isOwn: boolean;
      }[];
      for (const { id } of scripts.filter(({ title, isOwn }) => isOwn && title === 'Layout, Peatfire'))
        await server.api.delete(`/api/scripts/${id}`);
    }
  });
});
