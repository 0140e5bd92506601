import path from 'node:path';
import fs from 'node:fs';
import { writeHold } from '../demo/world/hold-writer';
import { expect, test } from './fixtures';

const SIDE = 8448;
const HEAD = 128;
/** A texel that is red, and so is the rest of its block. */
const RED = { x: 5000, y: 7000 };

/** A DDS of BC1 without smaller levels: one colour, but for a block. */
function large(colour: number): Buffer {
  const across = SIDE / 4;
  const bytes = Buffer.alloc(HEAD + across * across * 8);
  bytes.write('DDS ', 0, 'latin1');
  for (const [at, value] of [
    [4, 124],
    [8, 0x81007],
    [12, SIDE],
    [16, SIDE],
    [20, across * across * 8],
    [28, 1],
    [76, 32],
    [80, 4],
    [108, 0x1000],
  ] as const)
    bytes.writeUInt32LE(value, at);
  bytes.write('DXT1', 84, 'latin1');
  const block = Buffer.alloc(8);
  block.writeUInt16LE(colour, 0);
  bytes.fill(block, HEAD);
  bytes.writeUInt16LE(0xf800, HEAD + 8 * ((RED.y / 4) * across + RED.x / 4));
  return bytes;
}

test('a picture of more than a hundred million texels is looked at in parts, and goes in as it is stored', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'large');
  fs.mkdirSync(folder, { recursive: true });
  writeHold(path.join(folder, 'large.hold'), [{ path: 'maps/fen.dds', data: () => large(0x07e0) }], {
    roll: true,
    rank: 1,
    salt: Buffer.alloc(16, 5),
  });
  const game = await server.addGame(folder, `Large ${process.pid}`);
  const [row] = (
    (await (await server.api.get(`/api/games/${game.id}/entries?search=fen`)).json()) as {
      rows: { archiveId: number; index: number }[];
    }
  ).rows;
  const entry = `/api/games/${game.id}/entries/${row!.archiveId}/${row!.index}`;
  const red = `part=${RED.x - 4},${RED.y - 4},12,12`;

  await test.step('all of it smaller, then a part at its own size', async () => {
    await page.goto(`/games/${game.id}/contents?entry=${row!.archiveId}:${row!.index}`);
    await expect(page.getByLabel('Inspector').getByText(`${SIDE} x ${SIDE}`).first()).toBeVisible();
    await page.getByRole('button', { name: /Enlarge/ }).click();
    await expect(page.getByText(`${SIDE} x ${SIDE} texels, shown 5 times smaller.`)).toBeVisible();
    const canvas = page.getByRole('img', { name: /all channels/ });
    await canvas.click();
    await expect(page.getByText(/^2048 x 2048 texels from 3\d{3}, 3\d{3}\./)).toBeVisible();
    await page.getByRole('button', { name: 'All of it', exact: true }).click();
    await expect(page.getByText('5 times smaller')).toBeVisible();
    await page.getByRole('button', { name: 'Close' }).click();
    const texels = async (query: string): Promise<Buffer> =>
      (await server.api.get(`${entry}/texels?${query}`)).body();
    const part = await texels(red);
    expect(part.length).toBe(12 * 12 * 4);
    expect([...part.subarray(0, 4)]).toEqual([0, 255, 0, 255]);
    const at = 4 * (4 * 12 + 4);
    expect([...part.subarray(at, at + 4)]).toEqual([255, 0, 0, 255]);
    expect((await server.api.get(`${entry}/texels?part=8000,0,1000,1000`)).status()).toBe(422);
    expect((await server.api.get(`${entry}/texels?part=0,0,8000,8000`)).status()).toBe(422);
  });

  await test.step('a file in the same codec takes its place texel for texel', async () => {
    const { id } = (await (
      await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Blue' } })
    ).json()) as { id: number };
    const query = `archive=${row!.archiveId}&index=${row!.index}&name=blue.dds`;
    const put = await server.api.put(`/api/games/${game.id}/mods/${id}/changes?${query}`, {
      data: large(0x001f),
    });
    expect(await put.json()).toEqual({ fit: 'fits' });
    await server.api.post(`/api/games/${game.id}/jobs`, { data: { kind: 'build', modId: id } });
    await server.settled(game.id);
    const [build] = (await (await server.api.get(`/api/games/${game.id}/mods/${id}/builds`)).json()) as {
      holds: boolean;
      id: number;
    }[];
    expect(build!.holds).toBe(true);
  });
  await server.api.delete(`/api/games/${game.id}`);
});
