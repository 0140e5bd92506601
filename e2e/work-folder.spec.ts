import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { expect, test } from './fixtures';

const GLASS = 'props/lantern/glass_colour.sheet';

test('what an editor saves in the work folder becomes a change by itself', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const work = path.join(scratch, 'work');
  const mod = (await (
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'By hand' } })
  ).json()) as { id: number };
  await page.goto(`/games/${lanternfen.id}/changes`);
  await page.getByRole('button', { name: 'Work folder' }).click();
  await page.getByLabel('Folder on this machine').fill(work);
  await page.getByRole('button', { name: 'Watch it' }).click();
  await expect(page.getByRole('button', { name: 'Watching a folder' })).toBeVisible();

  await test.step('pictures are extracted into it and are no changes yet', async () => {
    const found = (await (
      await server.api.get(
        `/api/games/${lanternfen.id}/entries?search=${encodeURIComponent(GLASS)}&limit=5&offset=0`,
      )
    ).json()) as { rows: { archiveId: number; index: number }[] };
    const [{ archiveId, index }] = found.rows as [{ archiveId: number; index: number }];
    const asked = await server.api.post(`/api/games/${lanternfen.id}/jobs`, {
      data: { kind: 'extract', entries: [{ archiveId, index }], folder: work, convert: { picture: 'png' } },
    });
    expect(asked.status(), await asked.text()).toBe(200);
    await server.settled(lanternfen.id);
    expect(fs.existsSync(path.join(work, GLASS.replace('.sheet', '.png')))).toBe(true);
  });

  const file = path.join(work, GLASS.replace('.sheet', '.png'));
  const option = page.getByRole('listbox', { name: 'Changes' }).getByRole('option');

  await test.step('an edited one shows up on the open page', async () => {
    const edited = await sharp(fs.readFileSync(file)).negate({ alpha: false }).png().toBuffer();
    fs.writeFileSync(file, edited);
    await expect(option.filter({ hasText: 'glass_colour.sheet' })).toBeVisible();
    await expect(page.getByText(/BC3, 256 x 256, 9 levels/).first()).toBeVisible();
    await expect(option).toHaveCount(1);
  });

  await test.step('saved again it is the same change, with the new picture', async () => {
    const smaller = await sharp(fs.readFileSync(file)).resize(64, 64).png().toBuffer();
    fs.writeFileSync(file, smaller);
    await expect(page.getByText('64 x 64 given, the slot is 256 x 256').first()).toBeVisible();
    await expect(option).toHaveCount(1);
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(page.getByText(/BC3, 256 x 256, 9 levels/).first()).toBeVisible();
  });

  await test.step('watched anew, what was taken out does not come back, and a mend holds for the next save', async () => {
    const watch = async (folder: string | null): Promise<void> => {
      const url = `/api/games/${lanternfen.id}/mods/${mod.id}/work-folder`;
      expect((await server.api.post(url, { data: { folder } })).status()).toBe(200);
    };
    await watch(null);
    await watch(work);
    // One that comes later is taken, so that all others have been looked at by then.
    fs.writeFileSync(path.join(work, 'cape_rain_colour.png'), fs.readFileSync(file));
    await expect(option.filter({ hasText: 'cape_rain_colour.sheet' })).toBeVisible();
    await expect(page.getByText(/BC3, 256 x 256, 9 levels/).first()).toBeVisible();
    await option.filter({ hasText: 'cape_rain_colour.sheet' }).click();
    await page.getByRole('button', { name: 'Resize to 256 x 256' }).click();
    await expect(page.getByText('resized from 64 x 64 to 256 x 256').first()).toBeVisible();
    const other = await sharp(fs.readFileSync(file)).resize(32, 32).png().toBuffer();
    fs.writeFileSync(path.join(work, 'cape_rain_colour.png'), other);
    await expect(page.getByText('resized from 32 x 32 to 256 x 256').first()).toBeVisible();
    await page.getByRole('button', { name: 'Take out' }).click();
    await expect(option).toHaveCount(1);
    fs.rmSync(path.join(work, 'cape_rain_colour.png'));
  });

  await test.step('what is meant for none is said, and nothing of it is taken', async () => {
    fs.writeFileSync(path.join(work, 'sketch.png'), fs.readFileSync(file));
    await page.getByRole('button', { name: 'Watching a folder' }).click();
    await expect(page.getByText(/sketch.png: No entry, or more than one, has this name/)).toBeVisible();
    await page.getByRole('button', { name: 'Stop watching' }).click();
    await expect(page.getByRole('button', { name: 'Work folder' })).toBeVisible();
    await expect(option).toHaveCount(1);
  });
  expect((await server.api.delete(`/api/games/${lanternfen.id}/mods/${mod.id}`)).status()).toBe(200);
});

test('several files dropped on the changes find their entries by their names', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Many' } });
  const png = await sharp({ create: { width: 256, height: 256, channels: 3, background: '#446688' } })
    .png()
    .toBuffer();
  await page.goto(`/games/${lanternfen.id}/changes`);
  await expect(page.getByRole('heading', { name: 'Nothing changed yet' })).toBeVisible();
  await page.getByLabel('Files to bring back').setInputFiles([
    { name: 'glass_colour.png', mimeType: 'image/png', buffer: png },
    { name: 'Cape_Rain_Colour.PNG', mimeType: 'image/png', buffer: png },
    // Every person has one of these.
    { name: 'portrait_calm.png', mimeType: 'image/png', buffer: png },
  ]);
  const option = page.getByRole('listbox', { name: 'Changes' }).getByRole('option');
  await expect(option).toHaveCount(2);
  await expect(option.filter({ hasText: 'cape_rain_colour.sheet' })).toBeVisible();
  await expect(page.getByText('2 files brought back.')).toBeVisible();
  await expect(page.getByText(/portrait_calm.png: No entry, or more than one, has this name/)).toBeVisible();
});
