import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { readSheet } from '../demo/runtime/lanternfen/sheet';
import { expect, helpCardBytes, openEntry, test } from './fixtures';

const GLOW = 'props/lantern/glass_glow.sheet';

test('a picture on the light table: texels, levels, channels taken apart and put together', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const mod = (await (
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Glow' } })
  ).json()) as { id: number };
  const hold = new Hold(path.join(lanternfen.folder, 'holds', 'h01-sheets.hold'), helpCardBytes());
  const { rgba } = readSheet(hold.take(GLOW), GLOW);
  const texel = (x: number, y: number): number[] => [
    ...rgba.subarray(4 * (y * 256 + x), 4 * (y * 256 + x) + 4),
  ];
  await openEntry(page, lanternfen.id, GLOW, 'glass_glow.sheet');
  await page.getByRole('button', { name: /Enlarge/ }).click();
  const table = page.getByRole('dialog', { name: /light table/ });
  const canvas = table.getByRole('img', { name: /all channels/ });

  await test.step('a texel is read where the pointer is, and its block where it is pressed', async () => {
    await expect(canvas).toBeVisible();
    await expect(table.getByLabel('Zoom')).toHaveText('200 %');
    const box = (await canvas.boundingBox())!;
    // At twice its size the picture lies in the middle.
    const [x, y] = [140, 132];
    await page.mouse.click(
      box.x + Math.round((box.width - 512) / 2) + 2 * x + 1,
      box.y + Math.round((box.height - 512) / 2) + 2 * y + 1,
    );
    const told = (await table.getByLabel('Texel', { exact: true }).innerText()).split('\n')[0]!;
    const [place, values] = told.split(': ');
    expect(place).toBe('140, 132');
    values!
      .split(' ')
      .forEach((value, c) => expect(Math.abs(Number(value) - texel(x, y)[c]!)).toBeLessThanOrEqual(3));
    const block = hold.take(GLOW).subarray(32 + (33 * 64 + 35) * 8, 32 + (33 * 64 + 35) * 8 + 8);
    await expect(table.getByLabel('Stored bytes')).toContainText(
      block.toString('hex').match(/../g)!.join(' '),
    );
  });

  await test.step('levels and channels by keyboard', async () => {
    await page.keyboard.press(']');
    await expect(table.getByText('1: 128 x 128')).toBeVisible();
    await page.keyboard.press('[');
    await expect(table.getByText('0: 256 x 256')).toBeVisible();
    await page.keyboard.press('3');
    await expect(table.getByRole('img', { name: /glass_glow.sheet, green/ })).toBeVisible();
  });

  await test.step('the focus stays where it is put', async () => {
    const box = table.getByLabel('Repeat in all directions');
    await box.focus();
    await page.keyboard.press('Space');
    await expect(box).toBeChecked();
    await expect(box).toBeFocused();
    // A box that has the focus leaves the other keys to the table.
    await page.keyboard.press('2');
    await expect(table.getByRole('img', { name: /glass_glow.sheet, red/ })).toBeVisible();
    await page.keyboard.press('3');
    await table.getByRole('button', { name: 'green' }).focus();
    await page.keyboard.press('Space');
    await expect(table).toBeVisible();
  });

  await test.step('a channel is saved as a grey map, inverted', async () => {
    await table.getByLabel('Inverted').check();
    const download = page.waitForEvent('download');
    await table.getByRole('link', { name: 'Save as a grey map' }).click();
    const file = path.join(scratch, 'green.png');
    await (await download).saveAs(file);
    const grey = await sharp(fs.readFileSync(file)).ensureAlpha().raw().toBuffer();
    for (const [x, y] of [
      [128, 140],
      [4, 4],
      [200, 140],
    ] as const)
      expect(Math.abs(grey[4 * (y * 256 + x)]! - (255 - texel(x, y)[1]!))).toBeLessThanOrEqual(3);
  });

  await test.step('a map from outside takes its place; the other channels stay', async () => {
    const map = await sharp({ create: { width: 256, height: 256, channels: 3, background: '#373737' } })
      .png()
      .toBuffer();
    await table
      .getByLabel('Grey map for green')
      .setInputFiles({ name: 'map.png', mimeType: 'image/png', buffer: map });
    await expect(page.getByText('The green of glass_glow.sheet is changed.')).toBeVisible();
    const [change] = (await (
      await server.api.get(`/api/games/${lanternfen.id}/mods/${mod.id}/changes`)
    ).json()) as [{ id: number; fit: string }];
    expect(change.fit).toBe('fits');
    const after = await (
      await server.api.get(`/api/games/${lanternfen.id}/mods/${mod.id}/changes/${change.id}/texels`)
    ).body();
    const at = 4 * (140 * 256 + 128);
    const before = texel(128, 140);
    [before[0]!, 255 - 0x37, before[2]!].forEach((value, c) =>
      expect(Math.abs(after[at + c]! - value)).toBeLessThanOrEqual(10),
    );
  });

  await test.step('a map of another size is refused in words', async () => {
    const small = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    await table
      .getByLabel('Grey map for green')
      .setInputFiles({ name: 'small.png', mimeType: 'image/png', buffer: small });
    await expect(page.getByText(/256 x 256 texels.*8 x 8/)).toBeVisible();
  });
});
