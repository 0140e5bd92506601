import fs from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, folderHash, openEntry, test } from './fixtures';
import { buildMod, installMod, restoreGame, tryMod } from './mod-steps';

/** Where the two buried pictures begin in a harbour's ground, and what they are coded in on either machine. */
const VIEW = 700;
const BOARD = 700 + 128 * 64 * 0.5 + 333;

test('pictures-in-harbours: pictures that no table tells of, found on two machines, taken out and put back', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'tallow');
  fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
  const untouched = folderHash(folder);
  const game = await server.addGame(folder, `Tallow ${process.pid}`);
  await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Signs' } });

  await test.step('the stores are open, and their script says where it was tried', async () => {
    await page.goto(`/games/${game.id}/locks`);
    await page.getByRole('row', { name: /stores\.list/ }).click();
    await expect(page.getByText(/Tallow & Tide 1\.4/).first()).toBeVisible();
  });

  const archives = (await (await server.api.get(`/api/games/${game.id}/archives`)).json()) as {
    id: number;
    path: string;
  }[];
  const groundOf = async (
    archive: string,
  ): Promise<{ archive: string; archiveId: number; index: number }> => {
    const { id } = archives.find((one) => one.path === archive)!;
    const { rows } = (await (
      await server.api.get(`/api/games/${game.id}/entries?archive=${id}&search=terr.bin`)
    ).json()) as { rows: { index: number }[] };
    return { archive, archiveId: id, index: rows[0]!.index };
  };
  const grounds = { desk: await groundOf('harbours/boathouse.harbour') };
  const hand = await groundOf('harbours/hand/boathouse.harbour');
  const name = path.basename(grounds.desk.archive, '.harbour');

  const pngOf = async (which: typeof hand, query: string): Promise<Buffer> => {
    const url = `/api/games/${game.id}/entries/${which.archiveId}/${which.index}/carve/picture?${query}`;
    const answer = await server.api.get(url);
    expect(answer.status()).toBe(200);
    return Buffer.from(await answer.body());
  };
  const raw = (png: Buffer | string): Promise<Buffer> => sharp(png).ensureAlpha().raw().toBuffer();

  await test.step('both pictures are found in the ground, in the codec of each machine', async () => {
    for (const [which, layout] of [
      [grounds.desk, 'bc1'],
      [hand, 'bc1-swapped'],
    ] as const) {
      await page.goto(`/games/${game.id}/contents?entry=${which.archiveId}:${which.index}`);
      await page.getByRole('button', { name: 'Carve' }).click();
      const dialog = page.getByRole('dialog', { name: /Pictures buried in/ });
      const found = dialog.getByRole('list', { name: 'Found pictures' }).getByRole('listitem');
      await expect(found).toHaveCount(2);
      await expect(found.nth(0)).toContainText(`${layout.toUpperCase()}, 128 x 64`);
      await expect(found.nth(0)).toContainText(`at ${VIEW}`);
      await expect(found.nth(1)).toContainText(`${layout.toUpperCase()}, 64 x 64`);
      await expect(found.nth(1)).toContainText(`at ${BOARD.toLocaleString('en-GB')}`);
      await expect
        .poll(() =>
          dialog
            .getByAltText('What is buried there')
            .evaluate((image: HTMLImageElement) => image.naturalWidth),
        )
        .toBe(128);
      await dialog.getByRole('button', { name: 'Close' }).click();
    }
    // Both machines show the same pictures.
    const query = (layout: string): string => `offset=${VIEW}&layout=${layout}&width=128&height=64`;
    const [a, b] = [await pngOf(grounds.desk, query('bc1')), await pngOf(hand, query('bc1-swapped'))];
    expect((await raw(a)).equals(await raw(b))).toBe(true);
    expect((await sharp(a).stats()).entropy).toBeGreaterThan(2);
  });

  const given = path.join(scratch, 'sign.png');
  await test.step('one is taken out, painted over and put back where it lay', async () => {
    await page.goto(`/games/${game.id}/contents?entry=${hand.archiveId}:${hand.index}`);
    await page.getByRole('button', { name: 'Carve' }).click();
    const dialog = page.getByRole('dialog', { name: /Pictures buried in/ });
    await dialog.getByRole('listitem').nth(1).getByRole('button').click();
    const download = page.waitForEvent('download');
    await dialog.getByRole('link', { name: 'Take out as PNG' }).click();
    const out = path.join(scratch, 'board.png');
    await (await download).saveAs(out);
    await sharp(out)
      .composite([
        { input: { create: { width: 32, height: 32, channels: 4, background: '#20c060' } }, left: 0, top: 0 },
      ])
      .png()
      .toFile(given);
    await dialog.getByLabel('Picture for this place').setInputFiles(given);
    await expect(page.getByText('Put in its place; the entry is a change of the mod now.')).toBeVisible();
    // It is still found where it was, and shows what was put there.
    await expect(dialog.getByRole('listitem')).toHaveCount(2);
    await dialog.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('the harbour is built and proved; around the picture nothing differs', async () => {
    await page.getByRole('link', { name: /Changes/ }).click();
    await buildMod(page, [`hand/${name}.harbour`]);
    const file = path.join(folder, 'harbours/hand', `${name}.harbour`);
    const before = fs.readFileSync(file);
    await installMod(page, 1);
    await server.settled(game.id);
    const after = fs.readFileSync(file);
    expect(after.length).toBe(before.length);
    const differing = [...after.keys()].filter((i) => after[i] !== before[i]);
    // The check of the slab, and blocks of the upper left quarter of the picture.
    expect(differing.length).toBeGreaterThan(64);
    expect(differing.at(-1)! - differing[0]!).toBeLessThan(8 * 16 * 16 + BOARD + 64);
    const query = `offset=${BOARD}&layout=bc1-swapped&width=64&height=64`;
    const [now, wanted] = [await raw(await pngOf(hand, query)), await raw(given)];
    for (const at of [4 * (5 * 64 + 5), 4 * (20 * 64 + 20)])
      for (let c = 0; c < 3; c++) expect(Math.abs(now[at + c]! - wanted[at + c]!)).toBeLessThan(9);
    // The rest is texel for texel what it was.
    for (let y = 36; y < 64; y++)
      for (let i = 4 * (y * 64); i < 4 * (y * 64 + 64); i++) expect(now[i]).toBe(wanted[i]);
  });
  await test.step('the game of both machines loads it', async () => {
    await tryMod(page, { [`hand ${name} ground board`]: 64, [`desk ${name} ground board`]: 64 });
  });
  await restoreGame(page, folder, untouched);
  await server.api.delete(`/api/games/${game.id}`);
});

test('a picture is looked for by hand, and what does not fit a place is refused', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'tallow');
  fs.cpSync(path.join(DEMO, 'tallow-and-tide'), folder, { recursive: true });
  const game = await server.addGame(folder, `Tallow hand ${process.pid}`);
  const { id: mod } = (await (
    await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Try' } })
  ).json()) as { id: number };
  await openEntry(page, game.id, 'terr.bin');
  await page.getByRole('button', { name: 'Carve' }).click();
  const dialog = page.getByRole('dialog', { name: /Pictures buried in/ });
  await dialog.getByRole('listitem').first().getByRole('button').click();
  await dialog.getByRole('button', { name: 'Block on' }).click();
  await expect(dialog.getByLabel('From byte')).toHaveValue('708');
  await dialog.getByRole('button', { name: 'Block back' }).click();
  await expect(dialog.getByLabel('From byte')).toHaveValue('700');
  await expect(dialog.getByText('Likely widths')).toBeVisible();
  await expect(dialog.getByRole('button', { name: '128', exact: true })).toBeVisible();
  await dialog.getByLabel('Height').fill('4000');
  await expect(dialog.getByText('No picture of this size lies there')).toBeVisible();

  const { rows } = (await (await server.api.get(`/api/games/${game.id}/entries?search=terr.bin`)).json()) as {
    rows: { archiveId: number; index: number }[];
  };
  const place = `archive=${rows[0]!.archiveId}&index=${rows[0]!.index}&name=a.png`;
  const png = await sharp({ create: { width: 30, height: 30, channels: 4, background: 'red' } })
    .png()
    .toBuffer();
  const put = (query: string): Promise<{ status: () => number; text: () => Promise<string> }> =>
    server.api.put(`/api/games/${game.id}/mods/${mod}/carve?${place}&${query}`, { data: png });
  const wrong = await put(`offset=${VIEW}&layout=bc1&width=128&height=64`);
  expect(wrong.status()).toBe(422);
  expect(await wrong.text()).toContain('128 x 64 texels');
  expect((await put(`offset=${VIEW}&layout=bc1&width=128&height=64&resize=true`)).status()).toBe(200);
  expect((await put(`offset=999999&layout=bc1&width=128&height=64&resize=true`)).status()).toBe(422);
  expect((await put(`offset=0&layout=nothing&width=8&height=8`)).status()).toBe(400);
  await server.api.delete(`/api/games/${game.id}`);
});
