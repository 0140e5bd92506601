import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, folderHash, openEntry, test } from './fixtures';
import { unzip } from './unzip';

const TABLE = 'items/clothes.csv';
const MADDER = 'blouse_madder_colour.sheet';

/** How red a picture is, as a share of its light. */
const redness = async (png: Buffer): Promise<number> => {
  const { channels } = await sharp(png).removeAlpha().stats();
  const [red = 0, green = 0, blue = 0] = channels.map(({ mean }) => mean);
  return red / (red + green + blue);
};

test('chest-piece: one blouse out of a hold in a hold, found by what the game says of clothes, the finest of five, in another colour', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const before = folderHash(lanternfen.folder);
  const list = page.getByRole('grid', { name: 'Entries' });
  const row = (name: string) => list.getByRole('row', { name: new RegExp(name) });

  await test.step("the game's own table of clothes is read, and lists are narrowed by it", async () => {
    await openEntry(page, lanternfen.id, TABLE, 'clothes.csv');
    await page.getByRole('button', { name: 'Readable names…' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('button', { name: 'Read the chosen entry' }).click();
    await expect(dialog.getByText(/narrowed by its piece, cloth, season/)).toBeVisible();
    await page.keyboard.press('Escape');
    await page.goto(`/games/${lanternfen.id}/contents?folder=chest/`);
    await page.getByRole('combobox', { name: 'Filter by piece' }).click();
    await page.getByRole('option', { name: 'blouse, 7' }).click();
    await expect(page.locator('[data-entry]')).toHaveCount(7);
    await page.getByRole('combobox', { name: 'Filter by season' }).click();
    await page.getByRole('option', { name: 'harvest, 1' }).click();
    await expect(page.locator('[data-entry]')).toHaveCount(1);
    await expect(row(MADDER)).toContainText('Madder');
    // Chosen again, everything is back.
    await page.getByRole('combobox', { name: 'Filter by season' }).click();
    await page.getByRole('option', { name: 'all' }).click();
    await expect(page.locator('[data-entry]')).toHaveCount(7);
  });

  await test.step('its colour variants and its meshes are seen as thumbnails', async () => {
    await page.getByRole('tab', { name: /^Pictures 2/ }).click();
    for (const name of ['blouse_colour.sheet', MADDER])
      await expect(list.getByRole('img', { name })).toBeVisible();
    await page.getByRole('tab', { name: /^Models 5/ }).click();
    await page.getByRole('button', { name: 'As a wall' }).click();
    const portrait = list.getByRole('img', { name: 'blouse_c.form' });
    await expect(portrait).toBeVisible();
    const kept = await page.request.get((await portrait.getAttribute('src'))!);
    const { channels, isOpaque } = await sharp(await kept.body()).stats();
    // Something of it is seen, on nothing.
    expect(isOpaque).toBe(false);
    expect(channels[3]!.mean).toBeGreaterThan(20);
    await page.reload();
    await expect(list.getByRole('img', { name: 'blouse_g.form' })).toBeVisible();
  });

  await test.step('of five that are alike in name the finest is told, in the list, by the search and beside each', async () => {
    await page.getByRole('button', { name: 'As a list' }).click();
    await page.getByRole('button', { name: 'Order by triangles' }).click();
    await expect(page.locator('[data-entry="0"]')).toContainText(/blouse_c\.form.*finest.*8,832/);
    await expect(page.locator('[data-entry="4"]')).toContainText(/blouse_f\.form.*350/);
    await page.getByLabel('Search the contents').fill('piece:blouse triangles:>5k');
    await expect(page.locator('[data-entry]')).toHaveCount(1);
    await page.getByLabel('Search the contents').fill('piece:blouse is:finest');
    await expect(page.locator('[data-entry]')).toHaveCount(1);
    await page.getByLabel('Search the contents').fill('piece:blouse blouse_f');
    await expect(page.locator('[data-entry]')).toHaveText(/blouse_f\.form/);
    await page.locator('[data-entry="0"]').click();
    const alike = page.getByRole('region', { name: 'Alike in name' });
    await expect(alike.getByText('triangles')).toHaveCount(5);
    await expect(alike).toContainText('8,832 triangles, the most');
    await alike.getByRole('button', { name: 'blouse_c.form' }).click();
    await expect(page.getByLabel('Inspector').getByText('the finest of several alike in name')).toBeVisible();
  });

  await test.step('that one alone is taken out of its hold in a hold', async () => {
    await page.getByLabel('Inspector').getByRole('button', { name: 'Extract' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download the ZIP' }).click();
    const zip = path.join(scratch, 'one.zip');
    await (await download).saveAs(zip);
    expect([...(await unzip(zip)).keys()]).toEqual(['chest/ibis.hold/clothes/blouse_c.glb']);
    await page.keyboard.press('Escape');
  });

  await test.step('large: weights, parts left out, the other colour put on, and a name that keeps its ending', async () => {
    await page.getByRole('link', { name: 'Look at it large' }).click();
    await page.getByRole('combobox', { name: 'One of 17 bones' }).fill('spine_2');
    await page.getByRole('option', { name: 'spine_2' }).click();
    await expect(page.getByText(/^Moves [\d,]+ vertices, hangs on spine_1$/)).toBeVisible();
    await page.getByRole('checkbox', { name: 'buttons' }).uncheck();
    await page.getByRole('combobox', { name: 'Picture for linen, Colour' }).click();
    await page.getByRole('option', { name: MADDER }).click();
    await page.getByRole('button', { name: 'Take it out' }).click();
    const dialog = page.getByRole('dialog');
    await expect(dialog.getByRole('checkbox', { name: 'buttons' })).not.toBeChecked();
    await expect(dialog.getByRole('status', { name: 'What that comes to' })).toContainText('3 parts');
    await dialog.getByRole('combobox', { name: 'Format' }).click();
    await page.getByRole('option', { name: /^glTF with files/ }).click();
    await dialog.getByRole('textbox', { name: 'File name' }).fill('ibis harvest.form');
    const download = page.waitForEvent('download');
    await dialog.getByRole('link', { name: 'Take it out' }).click();
    const got = await download;
    expect(got.suggestedFilename()).toBe('ibis harvest.zip');
    const zip = path.join(scratch, 'blouse.zip');
    await got.saveAs(zip);
    const files = await unzip(zip);
    const folder = path.join(scratch, 'blouse');
    fs.mkdirSync(folder);
    for (const [name, bytes] of files) fs.writeFileSync(path.join(folder, path.basename(name)), bytes);
    const said = execFileSync('assimp', ['info', path.join(folder, 'ibis harvest.gltf')], {
      encoding: 'utf8',
    });
    expect(Number(/^Meshes:\s+(\d+)/m.exec(said)![1])).toBe(3);
    expect(Number(/^Bones:\s+(\d+)/m.exec(said)![1])).toBeGreaterThan(0);
    const reds = await Promise.all(
      [...files].filter(([name]) => name.endsWith('.png')).map(([, png]) => redness(png)),
    );
    // Linen and its fold name the same picture, so that both have what was put on in its place.
    expect(reds).toHaveLength(1);
    expect(reds[0]).toBeGreaterThan(0.45);
  });
  expect(folderHash(lanternfen.folder)).toBe(before);
});
