import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import sharp from 'sharp';
import yazl from 'yazl';
import {
  CHANNEL_NAMES,
  layouts,
  readDds,
  readKtx2,
  readTga,
  withChannel,
  writeDds,
  type Texture,
} from '@/media/picture/core/texture';
import { nodePrimitives } from '@/platform/node/primitives';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { exportPicture, pixelsBy, toPng } from './index';

const none: MediaScripts = () => undefined;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-layered-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

/** A texture of one level out of given bytes. */
function single(layout: string, width: number, height: number, bytes: Uint8Array): Uint8Array {
  const shape = { width, height, depth: 1, levels: 1, layers: 1, faces: 1 };
  const texture: Texture = {
    container: '',
    colourSpace: 'not said',
    ...shape,
    layout: layouts.get(layout)!,
    image: () => bytes,
  };
  return writeDds(texture);
}

/** Colours that nothing shows, under no alpha, beside ones that are seen. */
const hidden = new Uint8Array([255, 0, 0, 255, 10, 200, 30, 0, 1, 2, 3, 0, 0, 0, 255, 128]);

describe('taking pictures out', () => {
  const dds = single('rgba8', 2, 2, hidden);

  test('PNG keeps alpha, and colour under no alpha', async () => {
    const png = await exportPicture(dds, 'a.dds', none, 'png');
    expect([...(await sharp(png).raw().toBuffer())]).toEqual([...hidden]);
    expect([...(await pixelsBy(png, 'a.png', none)).data]).toEqual([...hidden]);
  });

  test('TGA does too, and DDS and KTX2 have the bytes as they are stored', async () => {
    expect([...readTga(await exportPicture(dds, 'a.dds', none, 'tga'), 'a.tga').data]).toEqual([...hidden]);
    const first = { level: 0, layer: 0, face: 0, slice: 0 };
    expect([...readDds(await exportPicture(dds, 'a.dds', none, 'dds'), 'a.dds').image(first)]).toEqual([
      ...hidden,
    ]);
    const ktx2 = readKtx2(await exportPicture(dds, 'a.dds', none, 'ktx2'), 'a.ktx2', nodePrimitives);
    expect(ktx2.container).toBe('KTX2, Zstandard');
    expect([...ktx2.image(first)]).toEqual([...hidden]);
  });

  test('sixteen bits a channel stay sixteen', async () => {
    const values = new Uint16Array([1, 300, 65535, 40000]);
    const deep = single('rgba16', 1, 1, new Uint8Array(values.buffer));
    const png = await exportPicture(deep, 'a.dds', none, 'png');
    expect((await sharp(png).metadata()).depth).toBe('ushort');
    const back = await sharp(png).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
    expect([...new Uint16Array(back.buffer, back.byteOffset, 4)]).toEqual([...values]);
  });

  test('a layout without alpha gives a PNG without', async () => {
    const png = await exportPicture(single('rgb565', 2, 2, new Uint8Array(8)), 'a.dds', none, 'png');
    expect((await sharp(png).metadata()).channels).toBe(3);
  });
});

describe('single channels', () => {
  const grey = (channels: 1 | 2 | 3 | 4, bytes: number[], space: 'b-w' | 'srgb'): Promise<Buffer> =>
    sharp(Buffer.from(bytes), { raw: { width: 2, height: 1, channels } })
      .toColourspace(space)
      .png()
      .toBuffer();
  const stored = (layout: string, bytes: number[]): Uint8Array => single(layout, 2, 1, new Uint8Array(bytes));

  interface Case {
    readonly name: string;
    readonly make: () => Uint8Array | Promise<Uint8Array>;
    /** Red, green, blue and alpha of the two texels. */
    readonly wanted: readonly (readonly number[])[];
  }
  const cases: Case[] = [
    {
      name: 'grey',
      make: () => grey(1, [10, 200], 'b-w'),
      wanted: [
        [10, 200],
        [10, 200],
        [10, 200],
        [255, 255],
      ],
    },
    {
      name: 'grey and alpha',
      make: () => grey(2, [10, 50, 200, 128], 'b-w'),
      wanted: [
        [10, 200],
        [10, 200],
        [10, 200],
        [50, 128],
      ],
    },
    {
      name: 'RGB',
      make: () => grey(3, [10, 20, 30, 200, 1, 2], 'srgb'),
      wanted: [
        [10, 200],
        [20, 1],
        [30, 2],
        [255, 255],
      ],
    },
    {
      name: 'RGBA',
      make: () => grey(4, [10, 20, 30, 40, 200, 1, 2, 3], 'srgb'),
      wanted: [
        [10, 200],
        [20, 1],
        [30, 2],
        [40, 3],
      ],
    },
    {
      name: 'rgba8',
      make: () => stored('rgba8', [10, 20, 30, 40, 200, 1, 2, 3]),
      wanted: [
        [10, 200],
        [20, 1],
        [30, 2],
        [40, 3],
      ],
    },
    {
      name: 'bgra8',
      make: () => stored('bgra8', [30, 20, 10, 40, 2, 1, 200, 3]),
      wanted: [
        [10, 200],
        [20, 1],
        [30, 2],
        [40, 3],
      ],
    },
    {
      name: 'r8',
      make: () => stored('r8', [10, 200]),
      wanted: [
        [10, 200],
        [10, 200],
        [10, 200],
        [255, 255],
      ],
    },
  ];

  test.each(cases)('$name: each is what it is', async ({ make, wanted }) => {
    const pixels = await pixelsBy(new Uint8Array(await make()), 'a.png', none);
    for (const [i, channel] of CHANNEL_NAMES.entries()) {
      const png = await toPng(pixels, channel);
      expect((await sharp(png).metadata()).channels).toBe(1);
      const back = await sharp(png).toColourspace('b-w').raw().toBuffer();
      expect([channel, ...back]).toEqual([channel, ...wanted[i]!]);
      // The map goes back in as it came out.
      const map = await pixelsBy(png, 'map.png', none);
      expect([...withChannel(pixels, channel, map, false).data]).toEqual([...pixels.data]);
    }
  });
});

describe('bringing layered pictures in', () => {
  const layers = ['-size', '8x6', '(', 'xc:#2040c0', ')', '(', 'xc:#ff000080', ')'];

  test('a PSD comes as its layers look together', async () => {
    execFileSync('convert-im6.q16', [
      '-depth',
      '8',
      '(',
      ...layers,
      '-flatten',
      ')',
      ...layers,
      path.join(folder, 'a.psd'),
    ]);
    const { width, height, data } = await pixelsBy(
      new Uint8Array(fs.readFileSync(path.join(folder, 'a.psd'))),
      'a.psd',
      none,
    );
    expect([width, height]).toEqual([8, 6]);
    [0x90, 0x20, 0x60, 255].forEach((value, c) => expect(Math.abs(data[c]! - value)).toBeLessThanOrEqual(2));
  });

  async function ora(files: Record<string, Buffer>): Promise<Uint8Array> {
    const zip = new yazl.ZipFile();
    for (const [name, bytes] of Object.entries(files)) zip.addBuffer(bytes, name, { compress: false });
    zip.end();
    const parts: Buffer[] = [];
    for await (const part of zip.outputStream) parts.push(part as Buffer);
    return new Uint8Array(Buffer.concat(parts));
  }
  const mimetype = Buffer.from('image/openraster');

  test('an OpenRaster file comes as its merged picture', async () => {
    const merged = await sharp({ create: { width: 5, height: 4, channels: 4, background: '#12345678' } })
      .png()
      .toBuffer();
    const pixels = await pixelsBy(
      await ora({ mimetype, 'stack.xml': Buffer.from('<image/>'), 'mergedimage.png': merged }),
      'a.ora',
      none,
    );
    expect([pixels.width, pixels.height, ...pixels.data.subarray(0, 4)]).toEqual([
      5, 4, 0x12, 0x34, 0x56, 0x78,
    ]);
  });

  test('without a merged picture, or with a broken one, it says so', async () => {
    await expect(pixelsBy(await ora({ mimetype }), 'a.ora', none)).rejects.toThrow('mergedimage.png');
    await expect(
      pixelsBy(await ora({ mimetype, 'mergedimage.png': Buffer.from('no') }), 'a.ora', none),
    ).rejects.toThrow('a.ora');
  });

  test('a PSD cut anywhere is refused in words', async () => {
    const bytes = new Uint8Array(fs.readFileSync(path.join(folder, 'a.psd')));
    for (let length = 6; length < Math.min(bytes.length, 400); length += 7)
      await expect(pixelsBy(bytes.slice(0, length), 'a.psd', none)).rejects.toThrow('a.psd');
  });
});

test('a PNG that would unpack to a hundred times the memory is refused before it does', async () => {
  const side = 60_000;
  const chunk = (type: string, body: Buffer): Buffer => {
    const out = Buffer.alloc(12 + body.length);
    out.writeUInt32BE(body.length, 0);
    out.write(type, 4, 'latin1');
    body.copy(out, 8);
    out.writeUInt32BE(zlib.crc32(out.subarray(4, 8 + body.length)), 8 + body.length);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(side, 0);
  head.writeUInt32BE(side, 4);
  head.set([8, 6, 0, 0, 0], 8);
  const bomb = Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', head),
    chunk('IDAT', zlib.deflateSync(Buffer.alloc(1 << 20))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
  const before = process.memoryUsage().rss;
  await expect(pixelsBy(new Uint8Array(bomb), 'bomb.png', none)).rejects.toThrow(/67108864 texels/);
  expect(process.memoryUsage().rss - before).toBeLessThan(200e6);
});
