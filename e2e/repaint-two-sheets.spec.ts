import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { play } from '../demo/runtime/lanternfen/game';
import { expect, folderHash, openEntry, test } from './fixtures';
import { buildMod, installMod, restoreGame, tryMod } from './mod-steps';
import { unzip } from './unzip';

const GLASS = 'props/lantern/glass_colour.sheet';
const CAPE = 'actors/odd/cape/cape_rain_colour.sheet';

test('repaint-two-sheets: glass with alpha and a cape without, out of two holds and back', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const png = new Map<string, Buffer>();

  await test.step('both are extracted in one go, as pictures that can be edited', async () => {
    for (const entry of [GLASS, CAPE]) {
      await page.goto(`/games/${lanternfen.id}/contents?search=${encodeURIComponent(entry)}`);
      await page.getByLabel(`Pick ${entry}`).check();
      if (entry === CAPE) continue;
      // The pick is kept while one looks for the next.
      await page.getByLabel('Search the contents').fill(CAPE);
      await page.getByLabel(`Pick ${CAPE}`).check();
      break;
    }
    await page.getByRole('region', { name: 'Picked' }).getByRole('button', { name: 'Extract' }).click();
    await page.getByLabel('2 pictures').click();
    await page.getByRole('option', { name: 'as PNG' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download the ZIP' }).click();
    const file = path.join(scratch, 'pick.zip');
    await (await download).saveAs(file);
    for (const [name, bytes] of await unzip(file)) png.set(name, bytes);
    expect([...png.keys()].sort()).toEqual(
      [CAPE, GLASS].map((name) => name.replace('.sheet', '.png')).sort(),
    );
    const facts = await Promise.all(
      [...png].map(async ([name, bytes]) => [
        name.includes('glass'),
        (await sharp(bytes).metadata()).hasAlpha,
      ]),
    );
    // The glass keeps its alpha; the cape has none, and none is made up.
    for (const [isGlass, hasAlpha] of facts) expect(hasAlpha).toBe(isGlass);
  });

  // Repainted in another program: the glass turns green, the cape red.
  const glassPng = png.get(GLASS.replace('.sheet', '.png'))!;
  const { data, info } = await sharp(glassPng).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  for (let i = 0; i < data.length; i += 4) data.set([30, 190, 90], i);
  const green = await sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } })
    .png()
    .toBuffer();
  const red = await sharp({
    create: { width: 256, height: 256, channels: 4, background: { r: 190, g: 40, b: 30, alpha: 0.5 } },
  })
    .png()
    .toBuffer();

  await test.step('the glass in a codec without alpha is caught before the build', async () => {
    fs.writeFileSync(path.join(scratch, 'glass.png'), green);
    execFileSync('convert-im6.q16', [
      path.join(scratch, 'glass.png'),
      '-define',
      'dds:compression=dxt1',
      path.join(scratch, 'glass.dds'),
    ]);
    await openEntry(page, lanternfen.id, GLASS, 'glass_colour.sheet');
    await page.getByLabel('File to put in its place').setInputFiles(path.join(scratch, 'glass.dds'));
    await page.getByLabel('Name of the mod').fill('Green Glass');
    await page.getByRole('button', { name: 'Make it' }).click();
    await expect(page.getByText(/it does not fit yet/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/build`);
    await expect(page.getByRole('button', { name: 'Build', exact: true })).toBeDisabled();
    await page.goto(`/games/${lanternfen.id}/changes`);
    await expect(page.getByText('BC1 given, the slot is BC3').first()).toBeVisible();
    await expect(page.getByText(/one bit of alpha/)).toBeVisible();
    await page.getByRole('button', { name: 'Code anew as BC3' }).click();
    // It can be coded anew, but what was lost is lost, and that is said.
    await expect(page.getByText('coded anew from BC1 to BC3').first()).toBeVisible();
    await page.getByRole('button', { name: 'Undo a step' }).click();
    await expect(page.getByText('BC1 given, the slot is BC3').first()).toBeVisible();
    await page.getByRole('button', { name: 'Do a step again' }).click();
    await expect(page.getByText('coded anew from BC1 to BC3').first()).toBeVisible();
  });

  await test.step('the picture itself fits; alpha that the cape has no room for is mended', async () => {
    await openEntry(page, lanternfen.id, GLASS, 'glass_colour.sheet');
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'glass.png', mimeType: 'image/png', buffer: green });
    await expect(
      page.getByText(/glass_colour.sheet replaced; (it fits|there is something to look at)/),
    ).toBeVisible();
    await openEntry(page, lanternfen.id, CAPE, 'cape_rain_colour.sheet');
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'cape.png', mimeType: 'image/png', buffer: red });
    await expect(page.getByText(/it does not fit yet/)).toBeVisible();
    await page.goto(`/games/${lanternfen.id}/changes`);
    await page.getByRole('option').filter({ hasText: 'cape_rain_colour.sheet' }).click();
    await expect(page.getByText('transparency given, BC1 keeps one bit of it').first()).toBeVisible();
    await page.getByRole('button', { name: 'Make it opaque' }).click();
    await expect(page.getByText('made opaque').first()).toBeVisible();
    await page.getByLabel('Note', { exact: true }).fill('shown in the jetty scene; causeway has the dry one');
    await page.getByRole('option').filter({ hasText: 'glass_colour.sheet' }).click();
    await expect(page.getByText('glass_glow.sheet is left as it is')).toBeVisible();
    await page.getByRole('option').filter({ hasText: 'cape_rain_colour.sheet' }).click();
    await expect(page.getByLabel('Note', { exact: true })).toHaveValue(/jetty scene/);
  });

  await test.step('before and after are laid over each other', async () => {
    await page.getByRole('option').filter({ hasText: 'glass_colour.sheet' }).click();
    await page.getByRole('button', { name: `Look closely at ${GLASS}, as it will be` }).click();
    const table = page.getByRole('dialog', { name: /light table/ });
    await expect(table.getByText('Sheet, Peatfire, BC3, 256 x 256, with transparency')).toBeVisible();
    await table.getByRole('button', { name: 'slider' }).click();
    // Left of the slider the picture as it was, which has many colours; what is empty has the two of the checker.
    const colours = (): Promise<number> =>
      table
        .locator('canvas')
        .first()
        .evaluate((canvas: HTMLCanvasElement) => {
          const gl = canvas.getContext('webgl2')!;
          const across = Math.floor(canvas.width / 2) - 4;
          const texels = new Uint8Array(across * canvas.height * 4);
          gl.readPixels(0, 0, across, canvas.height, gl.RGBA, gl.UNSIGNED_BYTE, texels);
          return new Set(new Uint32Array(texels.buffer)).size;
        });
    await expect.poll(colours).toBeGreaterThan(8);
    await table.getByRole('button', { name: 'difference' }).click();
    await expect(table.getByLabel('Gain of the difference')).toBeVisible();
    await table.getByRole('button', { name: 'alpha' }).click();
    // Alpha is as it was, so that its difference is black wherever one looks.
    const lit = (): Promise<number> =>
      table
        .locator('canvas')
        .first()
        .evaluate((canvas: HTMLCanvasElement) => {
          const gl = canvas.getContext('webgl2')!;
          const texels = new Uint8Array(canvas.width * canvas.height * 4);
          gl.readPixels(0, 0, canvas.width, canvas.height, gl.RGBA, gl.UNSIGNED_BYTE, texels);
          let most = 0;
          for (let i = 0; i < texels.length; i += 4) most = Math.max(most, texels[i]!);
          return most;
        });
    await expect.poll(lit).toBeLessThan(40);
    await table.getByRole('button', { name: 'all', exact: true }).click();
    await expect.poll(lit).toBeGreaterThan(120);
    await page.keyboard.press('Escape');
  });

  await test.step('both holds are built, proved and installed over kept originals', async () => {
    await buildMod(page, ['holds/h01-sheets.hold', 'holds/h03-weather.hold']);
    expect(folderHash(lanternfen.folder)).toBe(untouched);
    await installMod(page, 2);
  });

  await test.step('the trial shows both', async () => {
    await tryMod(page, { glass: 256, cape: 256 });
    const { scene: shown } = play(lanternfen.folder);
    const { glass, cape } = shown!.more;
    const middle = (rgba: Buffer): number[] => [
      ...rgba.subarray(4 * (128 * 256 + 128), 4 * (128 * 256 + 128) + 4),
    ];
    const near = (values: number[], wanted: number[]): void =>
      wanted.forEach((value, c) => expect(Math.abs(values[c]! - value)).toBeLessThan(10));
    near(middle(cape!.rgba), [190, 40, 30, 255]);
    near(middle(glass!.rgba).slice(0, 3), [30, 190, 90]);
    // The pane is still see-through, and nothing is around it.
    expect(middle(glass!.rgba)[3]).toBeGreaterThan(80);
    expect(middle(glass!.rgba)[3]).toBeLessThan(180);
    expect(glass!.rgba[3]).toBe(0);
  });

  await test.step('restored byte for byte', async () => {
    await restoreGame(page, lanternfen.folder, untouched);
  });
});
