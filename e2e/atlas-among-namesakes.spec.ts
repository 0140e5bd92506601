import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { writePsdBuffer } from 'ag-psd';
import { play } from '../demo/runtime/lanternfen/game';
import { Hold } from '../demo/runtime/lanternfen/hold';
import { readSheet } from '../demo/runtime/lanternfen/sheet';
import { expect, folderHash, helpCardBytes, test } from './fixtures';
import { buildMod, installMod, restoreGame, tryMod } from './mod-steps';
import { unzip } from './unzip';

const SHEET = 'puppets/market/pieces.sheet';
const HOLD = 'holds/h03-weather.hold';
/** What lies in the sheet beside its texels. */
const HEAD = 32;

test('atlas-among-namesakes: the scattered parts of one puppet out of a sheet with nine namesakes, recoloured and back', async ({
  page,
  server,
  lanternfen,
  scratch,
}) => {
  await server.unlock(lanternfen);
  const untouched = folderHash(lanternfen.folder);
  const sheetBytes = (): Buffer => new Hold(path.join(lanternfen.folder, HOLD), helpCardBytes()).take(SHEET);
  const before = sheetBytes();
  await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Red heron' } });

  await test.step('nine entries share a name; size and look tell which one it is', async () => {
    await page.goto(`/games/${lanternfen.id}/contents?search=pieces.sheet`);
    await expect(page.locator('[data-entry]').filter({ hasText: 'pieces.sheet' })).toHaveCount(9);
    await page.locator('[data-entry]').filter({ hasText: 'puppets/market/' }).click();
    const inspector = page.getByLabel('Inspector');
    await expect(inspector.getByText('512 x 256')).toBeVisible();
    // The one that is looked at is not among them.
    const others = inspector.getByRole('region', { name: 'Same name in other folders' });
    await expect(others).toContainText('puppets/tower/');
    await expect(others).not.toContainText('puppets/market/');
    await page.keyboard.press('n');
    await expect(others).toContainText('puppets/market/');
    await expect(others).not.toContainText('puppets/mill/');
    await page.keyboard.press('Shift+N');
    await expect(others).not.toContainText('puppets/market/');
  });

  await page.getByRole('button', { name: 'Parts and edits' }).click();
  const dialog = page.getByRole('dialog', { name: `Parts and edits of ${SHEET}` });
  const parts = new Map<string, Buffer>();

  await test.step('all parts of the heron are picked by part of their name and cut out', async () => {
    await expect(dialog.getByText('0 of 19 picked')).toBeVisible();
    await dialog.getByLabel('Part of the name').fill('heron');
    await dialog.getByRole('button', { name: 'Pick these 7' }).click();
    await expect(dialog.getByText('7 of 19 picked')).toBeVisible();
    const download = page.waitForEvent('download');
    await dialog.getByRole('button', { name: 'Cut out 7' }).click();
    const file = path.join(scratch, 'parts.zip');
    await (await download).saveAs(file);
    for (const [name, bytes] of await unzip(file)) parts.set(name, bytes);
    expect([...parts.keys()].sort()).toEqual(
      ['head', 'leg_left', 'leg_right', 'neck', 'tail', 'trunk', 'wing']
        .map((name) => `heron_${name}.png`)
        .concat('pieces.csv')
        .sort(),
    );
  });

  await test.step('recoloured outside, one of them in layers, they go back into their places', async () => {
    const files: string[] = [];
    for (const [name, bytes] of parts) {
      if (!name.endsWith('.png')) continue;
      const red = sharp(bytes).linear([1.6, 0.5, 0.5, 1], [0, 0, 0, 0]).ensureAlpha();
      const file = path.join(scratch, name.replace('heron_wing.png', 'heron_wing.psd'));
      if (file.endsWith('.psd')) {
        const { data, info } = await red.raw().toBuffer({ resolveWithObject: true });
        const { width, height } = info;
        const imageData = { width, height, data: new Uint8ClampedArray(data) };
        const psd = { width, height, imageData, children: [{ name: 'paint', imageData }] };
        fs.writeFileSync(file, writePsdBuffer(psd as never));
      } else await red.png().toFile(file);
      files.push(file);
    }
    await dialog.getByLabel('Parts to put back').setInputFiles(files);
    await expect(page.getByText('7 parts put back.')).toBeVisible();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('link', { name: /Changes/ }).click();
    await expect(page.getByText(/of \d+ blocks left as they were/).first()).toBeVisible();
  });

  await test.step('built, and installed over a file that something else holds open', async () => {
    await buildMod(page, [HOLD]);
    const held = fs.openSync(path.join(lanternfen.folder, HOLD), 'r');
    try {
      await installMod(page, 1);
    } finally {
      fs.closeSync(held);
    }
  });

  await test.step('only blocks under the heron differ, and none of its neighbours', async () => {
    const after = sheetBytes();
    expect(after.length).toBe(before.length);
    const rows = parts.get('pieces.csv')!.toString().trim().split('\n').slice(1);
    const boxes = rows.map((row) => row.split(',').slice(1).map(Number) as [number, number, number, number]);
    const across = 512 / 4;
    let changed = 0;
    for (let block = 0; block < across * (256 / 4); block++) {
      const at = HEAD + 16 * block;
      if (after.subarray(at, at + 16).equals(before.subarray(at, at + 16))) continue;
      changed++;
      const [x, y] = [4 * (block % across), 4 * Math.floor(block / across)];
      const isUnder = boxes.some(
        ([left, top, width, height]) => x < left + width && left < x + 4 && y < top + height && top < y + 4,
      );
      expect({ x, y, isUnder }).toEqual({ x, y, isUnder: true });
    }
    expect(changed).toBeGreaterThan(100);
  });

  await test.step('the puppet hangs together in the trial, in its new colour', async () => {
    await tryMod(page, { puppet: 128 });
    const { puppet } = play(lanternfen.folder).scene!.more;
    const colour = [0, 1, 2].map((c) => puppet!.rgba[4 * (100 * 128 + 56) + c]!);
    expect(colour[0]!).toBeGreaterThan(2 * colour[1]!);
    expect(readSheet(sheetBytes(), SHEET).width).toBe(512);
  });
  await restoreGame(page, lanternfen.folder, untouched);
});

test('parts by their gaps, small edits of some of them, words stamped on, and undone', async ({
  page,
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const { id: mod } = (await (
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Edits' } })
  ).json()) as { id: number };
  await page.goto(`/games/${lanternfen.id}/contents?search=pieces.sheet`);
  await page.locator('[data-entry]').filter({ hasText: 'puppets/ferry/' }).click();
  await page.getByRole('button', { name: 'Parts and edits' }).click();
  const dialog = page.getByRole('dialog', { name: /Parts and edits of/ });
  await expect(dialog.getByText('0 of 5 picked')).toBeVisible();
  await dialog.getByLabel('Told by').click();
  await page.getByRole('option', { name: 'the gaps between them' }).click();
  await expect(dialog.getByLabel('Part part_1')).toBeVisible();
  const sheet = dialog.getByRole('img', { name: 'pieces.sheet' });
  const texel = (x: number, y: number): Promise<number[]> =>
    sheet.evaluate(
      async (image: HTMLImageElement, [px, py]) => {
        // What is shown in the meantime ends the decoding of what was shown before.
        while (
          !(await image.decode().then(
            () => true,
            () => image.complete && image.naturalWidth > 0,
          ))
        )
          await new Promise((resolve) => image.addEventListener('load', resolve, { once: true }));
        const canvas = new OffscreenCanvas(image.naturalWidth, image.naturalHeight);
        const context = canvas.getContext('2d')!;
        context.drawImage(image, 0, 0);
        return [...context.getImageData(px!, py!, 1, 1).data];
      },
      [x, y],
    );
  await dialog.getByLabel('Part part_1').check();
  const box = await dialog
    .locator('svg[aria-label="Parts of the sheet"] rect')
    .first()
    .evaluate((rect) => ['x', 'y', 'width', 'height'].map((name) => Number(rect.getAttribute(name))));
  const [x, y] = [box[0]! + (box[2]! >> 1), box[1]! + (box[3]! >> 1)];
  const was = await texel(x, y);
  await expect(dialog.getByText('of 1 part', { exact: true })).toBeVisible();
  await dialog.getByLabel('Tint', { exact: true }).focus();
  await page.keyboard.press('End');
  await dialog.getByLabel('Colour of the tint').fill('#00ff00');
  await expect.poll(async () => (await texel(x, y)).slice(0, 3)).toEqual([0, was[1], 0]);
  await dialog.getByRole('button', { name: 'Keep as a change' }).click();
  await expect(dialog.getByRole('button', { name: 'Keep as a change' })).toBeDisabled();
  // What was kept is what the mod has now.
  await expect.poll(async () => (await texel(x, y)).slice(0, 3)).toEqual([0, was[1], 0]);

  await dialog.getByLabel('Words', { exact: true }).fill('MINE');
  await dialog.getByRole('button', { name: 'Lay the words on' }).click();
  await dialog.getByLabel('From left').fill('100');
  await dialog.getByLabel('From top').fill('8');
  const inked = (): Promise<number> =>
    sheet.evaluate(async (image: HTMLImageElement) => {
      // What is shown in the meantime ends the decoding of what was shown before.
      while (
        !(await image.decode().then(
          () => true,
          () => image.complete && image.naturalWidth > 0,
        ))
      )
        await new Promise((resolve) => image.addEventListener('load', resolve, { once: true }));
      const canvas = new OffscreenCanvas(image.naturalWidth, image.naturalHeight);
      const context = canvas.getContext('2d')!;
      context.drawImage(image, 0, 0);
      const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
      let count = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i] === 243 && data[i + 1] === 234) count++;
      return count;
    });
  await expect.poll(inked).toBeGreaterThan(50);
  await dialog.getByRole('button', { name: 'Keep as a change' }).click();
  await expect(dialog.getByRole('button', { name: 'Keep as a change' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Close' }).click();

  await page.getByRole('link', { name: /Changes/ }).click();
  const changes = async (): Promise<{ givenName: string }[]> =>
    (await (await server.api.get(`/api/games/${lanternfen.id}/mods/${mod}/changes`)).json()) as {
      givenName: string;
    }[];
  await expect.poll(async () => (await changes())[0]?.givenName).toBe('pieces with a stamp.png');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect.poll(async () => (await changes())[0]?.givenName).toBe('pieces with tint.png');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('heading', { name: 'Nothing changed yet' })).toBeVisible();
});

test('lists and pieces that do not belong to a sheet are refused in words', async ({
  server,
  lanternfen,
}) => {
  await server.unlock(lanternfen);
  const { rows } = (await (
    await server.api.get(`/api/games/${lanternfen.id}/entries?search=puppets/mill/pieces.sheet`)
  ).json()) as { rows: { archiveId: number; index: number }[] };
  const { archiveId, index } = rows[0]!;
  const atlas = `/api/games/${lanternfen.id}/entries/${archiveId}/${index}/atlas`;
  const { id: mod } = (await (
    await server.api.post(`/api/games/${lanternfen.id}/mods`, { data: { title: 'Wrong' } })
  ).json()) as { id: number };
  const other = await server.api.get(`${atlas}?list=puppets/market/pieces.csv`);
  expect(other.status()).toBe(422);
  expect(await other.text()).toContain('may belong to another picture');
  const none = await server.api.get(`${atlas}?list=credits.txt`);
  expect(none.status()).toBe(422);
  expect(await none.text()).toContain('credits.txt');
  const outside = { name: 'x', x: 250, y: 0, width: 20, height: 4 };
  expect((await server.api.post(atlas, { data: { regions: [outside] } })).status()).toBe(422);
  const retouch = `/api/games/${lanternfen.id}/mods/${mod}/retouch`;
  const png = await sharp({ create: { width: 9, height: 9, channels: 4, background: 'red' } })
    .png()
    .toBuffer();
  const { blob } = (await (await server.api.put(`${retouch}?name=a.png`, { data: png })).json()) as {
    blob: string;
  };
  const region = { name: 'part', x: 0, y: 0, width: 8, height: 8 };
  const asked = { archive: archiveId, index, pieces: [{ region, name: 'a.png', blob }] };
  const wrong = await server.api.post(retouch, { data: asked });
  expect(wrong.status()).toBe(422);
  expect(await wrong.text()).toContain('8 x 8 texels');
  expect((await server.api.post(retouch, { data: { ...asked, resize: true } })).status()).toBe(200);
  const gone = { ...asked, pieces: [{ region, name: 'b.png', blob: 'ab'.repeat(32) }] };
  expect((await server.api.post(retouch, { data: gone })).status()).toBe(410);
});
