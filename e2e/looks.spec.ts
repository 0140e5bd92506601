import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, openEntry, test } from './fixtures';

test('pictures that look alike are found, and a file of any name finds the picture that it looks like', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  await openEntry(page, lanternfen.id, 'lantern_colour', 'lantern_colour.sheet');
  await page.getByRole('button', { name: 'Look for its like' }).click();
  const alike = page.getByRole('region', { name: 'Pictures that look alike' });
  await expect(alike).toBeVisible({ timeout: 60_000 });
  // Its icon, a quarter as large and in another layout; and by far not every picture.
  await expect(alike.getByAltText('lantern.sheet')).toBeVisible();
  const count = await alike.getByRole('button').count();
  expect(count).toBeLessThan(30);

  const { id: mod } = (await (
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'By looks' } })
  ).json()) as { id: number };
  const { rows } = (await (
    await server.api.get(`/api/games/${lanternfen.id}/entries?search=screens/title`)
  ).json()) as { rows: { archiveId: number; index: number }[] };
  const { archiveId, index } = rows[0]!;
  const png = await (
    await server.api.get(`/api/games/${lanternfen.id}/entries/${archiveId}/${index}/picture`)
  ).body();
  const given = path.join(scratch, 'IMG_0001.png');
  await sharp(png).modulate({ brightness: 1.06 }).png().toFile(given);
  const other = path.join(scratch, 'IMG_0002.png');
  await sharp({
    create: {
      width: 64,
      height: 64,
      channels: 3,
      background: '#12f0a0',
      noise: { type: 'gaussian', mean: 128, sigma: 90 },
    },
  })
    .png()
    .toFile(other);
  expect(fs.existsSync(other)).toBe(true);
  await page.goto(`/games/${lanternfen.id}/changes`);
  // There is a place to drop files on once there is a change.
  const put = await server.api.put(`/api/games/${lanternfen.id}/mods/${mod}/incoming?name=credits.txt`, {
    data: Buffer.from('By looks.\n'),
  });
  expect(put.status(), await put.text()).toBe(200);
  await page.reload();
  await page.getByLabel('Files to bring back').setInputFiles([given, other]);
  await expect(page.getByText('IMG_0001.png looks like title.sheet and took its place.')).toBeVisible({
    timeout: 60_000,
  });
  await expect(page.getByText(/IMG_0002\.png: No entry, or more than one, has this name/)).toBeVisible();
  await expect(page.getByRole('option').filter({ hasText: 'title.sheet' })).toBeVisible();
});

test('the wall of pictures is parted by folders and by looks, and says what is see-through', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await page.goto(`/games/${lanternfen.id}/contents?kind=picture&folder=puppets/`);
  const wall = page.getByRole('grid', { name: 'Entries' });
  await expect(wall.getByText('alpha').first()).toBeVisible();
  await page.getByRole('button', { name: 'By folder' }).click();
  await expect(wall.getByRole('rowheader', { name: 'puppets/bridge/' })).toBeVisible();
  await expect(wall.getByRole('rowheader', { name: 'puppets/ferry/' })).toBeVisible();
  // The arrow keys go through the pictures, whatever stands between them.
  await wall.locator('[data-entry]').first().click();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByLabel('Inspector').getByText('puppets/ferry/')).toBeVisible();
  await page.goto(`/games/${lanternfen.id}/contents?kind=picture&folder=screens/`);
  await page.getByRole('button', { name: 'By look' }).click();
  await page.getByRole('button', { name: 'Look at all pictures' }).click();
  const groups = page.getByRole('list', { name: 'Look-alikes' });
  await expect(groups.getByText('10 pictures like boathouse.sheet')).toBeVisible({ timeout: 60_000 });
  await groups.getByRole('button', { name: 'screens/signs/jetty.sheet' }).click();
  await expect(page.getByLabel('Inspector').getByText('screens/signs/')).toBeVisible();
  await page.reload();
  await expect(groups.getByText('10 pictures like boathouse.sheet')).toBeVisible();
});
