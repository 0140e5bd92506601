import path from 'node:path';
import sharp from 'sharp';
import { play } from '../demo/runtime/lanternfen/game';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { expect, folderHash, helpCardBytes, openEntry, test } from './fixtures';
import { buildMod, installMod, restoreGame, tryMod } from './mod-steps';

const NEAR = 'places/jetty/boards_near.sheet';
const FAR = 'places/jetty/boards_far.sheet';

test('near-and-far: the boards of the jetty, both halves of one sheet', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const amends = (): Hold =>
    new Hold(path.join(lanternfen.folder, 'holds', 'h90-amends.hold'), helpCardBytes());
  const before = { near: amends().take(NEAR), far: amends().take(FAR) };
  const blue = await sharp({ create: { width: 512, height: 512, channels: 3, background: '#2b4fa0' } })
    .png()
    .toBuffer();

  await test.step('the near half is replaced where the overriding archive has it', async () => {
    await openEntry(page, lanternfen.id, NEAR, 'boards_near.sheet');
    await expect(page.getByLabel('Inspector').getByText('holds/h90-amends.hold').first()).toBeVisible();
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'boards.png', mimeType: 'image/png', buffer: blue });
    await page.getByLabel('Name of the mod').fill('Blue Boards');
    await page.getByRole('button', { name: 'Make it' }).click();
    await expect(
      page.getByText(/boards_near.sheet replaced; (it fits|there is something to look at)/),
    ).toBeVisible();
  });

  await test.step('the far half that was left is pointed out; a mod may refuse to be built so', async () => {
    await page.goto(`/games/${lanternfen.id}/changes`);
    await expect(page.getByText('boards_far.sheet is left as it is').first()).toBeVisible();
    await expect(page.getByText(/from afar the game goes on showing the old picture/)).toBeVisible();
    await page.getByLabel('What is only worth a look').click();
    await page.getByRole('option', { name: 'Refuse doubts' }).click();
    await expect(page.getByText('1 change, 1 not fitting yet')).toBeVisible();
    await expect(page.getByRole('link', { name: /Changes/ })).toContainText('1 not fitting');
    await page.getByLabel('What is only worth a look').click();
    await page.getByRole('option', { name: 'Point doubts out' }).click();
    await expect(page.getByRole('main').getByText('1 change', { exact: true })).toBeVisible();
  });

  await test.step('it is given the same picture, on purpose', async () => {
    await page.getByRole('button', { name: 'Give boards_far.sheet the same picture' }).click();
    const changes = page.getByRole('listbox', { name: 'Changes' });
    await expect(changes.getByRole('option')).toHaveCount(2);
    await changes.getByRole('option').filter({ hasText: 'boards_far.sheet' }).click();
    await expect(page.getByText('resized from 512 x 512 to 128 x 128').first()).toBeVisible();
    await expect(page.getByText('boards_near.sheet is left as it is')).toHaveCount(0);
  });

  const oldAndNew = async (): Promise<void> => {
    await page.goto(`/games/${lanternfen.id}/build`);
    await page.getByRole('button', { name: 'Old and new bytes of boards_far.sheet' }).click();
    const both = page.getByRole('region', { name: 'Both entries' });
    await expect(both.getByText('the original', { exact: false })).toBeVisible();
    await expect(both.locator('[data-differs]').first()).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(both).toBeHidden();
  };
  await test.step('the old and the new bytes are shown side by side', async () => {
    await oldAndNew();
    await page.goto(`/games/${lanternfen.id}/changes`);
  });

  await test.step('built into the overriding archive, installed and tried', async () => {
    await buildMod(page, ['2 of 2 exact']);
    await installMod(page, 1);
    await tryMod(page, { 'ground near': 512, 'ground far': 128 });
    const { more } = play(lanternfen.folder).scene!;
    for (const picture of [more['ground near']!, more['ground far']!])
      [0x2b, 0x4f, 0xa0].forEach((value, c) =>
        expect(Math.abs(picture.rgba[4 * 5000 + c]! - value)).toBeLessThan(10),
      );
  });

  await test.step('the heads are kept but for what follows from the texels', () => {
    for (const [name, old] of [
      [NEAR, before.near],
      [FAR, before.far],
    ] as const) {
      const now = amends().take(name);
      expect(now.length).toBe(old.length);
      expect(now.subarray(0, 16).equals(old.subarray(0, 16))).toBe(true);
      expect(now.subarray(16, 20).equals(old.subarray(16, 20))).toBe(false);
      expect(now.subarray(20, 32).equals(old.subarray(20, 32))).toBe(true);
    }
  });

  await test.step('once it is installed the old bytes are still those of the original', oldAndNew);

  await test.step('restored byte for byte', async () => {
    await restoreGame(page, lanternfen.folder, untouched);
  });
});
