import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import fs from 'node:fs';
import { nodePrimitives } from '@/platform/node/primitives';
import { parseScript } from '@/core/script';
import { writeSheet, type Layout } from '../../../../../demo/world/sheet-writer';
import { readSheet } from '../../../../../demo/runtime/lanternfen/sheet';
import {
  decodeImage,
  FIRST,
  halved,
  layouts,
  openPicture,
  psnr,
  replacePixels,
  usesAlpha,
  type PixelLayout,
  type Pixels,
} from './index';

const script = parseScript(fs.readFileSync('scripts/formats/sheet-peatfire.yaml', 'utf8'));

/** A soft picture with an edge, as most are. */
function sample(width: number, height: number, alpha = true): Pixels {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      data.set(
        [(x * 255) / width, (y * 255) / height, x > y ? 200 : 40, alpha ? (x * 5 + y * 3) % 256 : 255],
        4 * (y * width + x),
      );
  return { width, height, data };
}

/** What a layout keeps of texels that are all the same in red, green and blue. */
function seen({ channels }: PixelLayout, data: Uint8Array): Uint8Array {
  return data.map((value, i) => {
    if (channels === 'a') return i % 4 === 3 ? value : 0;
    if (channels === 'rg') return i % 4 === 2 ? 0 : value;
    return value;
  });
}

const sheet = (pixels: Pixels, layout: Layout): Buffer =>
  writeSheet({ ...pixels, data: Buffer.from(pixels.data) }, layout, 'colour');

describe('block layouts', () => {
  test('BC1: four colours, and three with a hole, by hand', () => {
    // Ends red (f800) and blue (001f); picks 0, 1, 2, 3 in every row.
    const four = layouts
      .get('bc1')!
      .decode(new Uint8Array([0x00, 0xf8, 0x1f, 0x00, 0xe4, 0xe4, 0xe4, 0xe4]), 4, 4);
    expect([...four.data.subarray(0, 16)]).toEqual([
      255, 0, 0, 255, 0, 0, 255, 255, 170, 0, 85, 255, 85, 0, 170, 255,
    ]);
    const three = layouts
      .get('bc1')!
      .decode(new Uint8Array([0x1f, 0x00, 0x00, 0xf8, 0xe4, 0xe4, 0xe4, 0xe4]), 4, 4);
    expect([...three.data.subarray(8, 16)]).toEqual([127, 0, 127, 255, 0, 0, 0, 0]);
  });

  test('BC3: eight steps of alpha, and six with both extremes, by hand', () => {
    const colour = [0x00, 0xf8, 0x00, 0xf8, 0, 0, 0, 0];
    // Picks 0 to 7 for the first eight texels.
    const picks = [0x88, 0xc6, 0xfa, 0x88, 0xc6, 0xfa];
    const alphas = (first: number, second: number): number[] => {
      const { data } = layouts.get('bc3')!.decode(new Uint8Array([first, second, ...picks, ...colour]), 4, 4);
      return Array.from({ length: 8 }, (_, i) => data[4 * i + 3]!);
    };
    expect(alphas(254, 2)).toEqual([254, 2, 218, 182, 146, 110, 74, 38]);
    expect(alphas(50, 150)).toEqual([50, 150, 70, 90, 110, 130, 0, 255]);
  });

  test.each(['bc1', 'bc3', 'bc7'])('%s decodes as the stand-in does, within rounding', (name) => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 16, maxLength: 16 }), (block) => {
        const layout = layouts.get(name)!;
        const body = Buffer.from(block.subarray(0, layout.levelLength(4, 4)));
        const bytes = Buffer.alloc(32 + body.length);
        bytes.write('SHEET', 0);
        bytes[6] = { bc1: 2, bc3: 3, bc7: 4 }[name]!;
        // All modes of BC7 alike; by chance half of the blocks would be of the first.
        if (name === 'bc7') body[0] = (body[0]! << (block[15]! % 8)) | (1 << (block[15]! % 8));
        bytes[7] = 1;
        bytes.writeUInt16LE(4, 8);
        bytes.writeUInt16LE(4, 10);
        bytes.writeUInt32LE(body.length, 12);
        bytes.writeUInt32LE(nodePrimitives.crc32(body, 0), 16);
        body.copy(bytes, 32);
        const theirs = readSheet(bytes, 'x').rgba;
        const ours = layout.decode(body, 4, 4).data;
        ours.forEach((value, i) =>
          expect(Math.abs(value - theirs[i]!)).toBeLessThanOrEqual(name === 'bc7' ? 0 : 3),
        );
      }),
    );
  });

  test.each([
    ['bc1', false, 34],
    ['bc3', true, 30],
  ] as const)('%s keeps a soft picture', (name, alpha, least) => {
    const pixels = sample(64, 48, alpha);
    const layout = layouts.get(name)!;
    const back = layout.decode(layout.encode!(pixels), 64, 48);
    expect(psnr(pixels, back, alpha)).toBeGreaterThan(least);
  });

  test('sizes that are no multiple of four come back whole', () => {
    for (const [width, height] of [
      [1, 1],
      [2, 7],
      [5, 3],
      [13, 9],
    ] as const)
      for (const name of layouts.names()) {
        const layout = layouts.get(name)!;
        if (!layout.encode) continue;
        const flat: Pixels = { width, height, data: new Uint8Array(width * height * 4).fill(255) };
        const bytes = layout.encode!(flat);
        expect(bytes.length).toBe(layout.levelLength(width, height));
        const back = layout.decode(bytes, width, height);
        expect(back).toEqual({ width, height, data: seen(layout, flat.data) });
      }
  });

  test('too few bytes are an error', () => {
    for (const name of layouts.names())
      expect(() => layouts.get(name)!.decode(new Uint8Array(7), 4, 4)).toThrow('ends too early');
  });

  test('BC1 turns what is hardly there into its transparent colour', () => {
    const pixels = sample(4, 4, false);
    pixels.data[3] = 10;
    const back = layouts.get('bc1')!.decode(layouts.get('bc1')!.encode!(pixels), 4, 4);
    expect(back.data[3]).toBe(0);
    expect(back.data[7]).toBe(255);
  });
});

describe('wrapped pictures', () => {
  test.each(['rgba8', 'bc1', 'bc3', 'bc7'] as const)(
    'a sheet of the builder in %s opens and decodes',
    (layout) => {
      const pixels = sample(32, 16, layout !== 'bc1');
      const opened = openPicture(script, new Uint8Array(sheet(pixels, layout)), 'a.sheet', nodePrimitives);
      expect(opened).toMatchObject({ width: 32, height: 16, levels: 6 });
      expect(psnr(pixels, decodeImage(opened), layout !== 'bc1')).toBeGreaterThan(20);
      expect(decodeImage(opened, { ...FIRST, level: 5 })).toMatchObject({ width: 1, height: 1 });
    },
  );

  test('replaced pixels give a sheet that the stand-in takes, all else kept', async () => {
    const before = sheet(sample(32, 16), 'bc3');
    const opened = openPicture(script, new Uint8Array(before), 'a.sheet', nodePrimitives);
    const flat: Pixels = { width: 32, height: 16, data: new Uint8Array(32 * 16 * 4).fill(128) };
    const after = await replacePixels(opened, flat);
    const { rgba } = readSheet(Buffer.from(after), 'a.sheet');
    expect(Math.abs(rgba[0]! - 128)).toBeLessThan(6);
    expect(after.length).toBe(before.length);
    expect(Buffer.from(after.subarray(0, 16)).equals(before.subarray(0, 16))).toBe(true);
    expect(Buffer.from(after.subarray(20, 32)).equals(before.subarray(20, 32))).toBe(true);
  });

  test.each([
    ['a layout that is none', (b: Buffer) => b.writeUInt8(9, 6), 'a pixel layout'],
    ['a width of nothing', (b: Buffer) => b.writeUInt16LE(0, 8), '1 to 16384 texels'],
    ['too many levels', (b: Buffer) => b.writeUInt8(14, 7), 'levels for 32 x 16'],
    ['a size that does not agree', (b: Buffer) => b.writeUInt16LE(64, 8), 'bytes for 6 levels'],
    ['no tag', (b: Buffer) => b.write('X', 0), 'the mark of'],
  ])('%s is an error in words', (_what, change, expected) => {
    const bytes = sheet(sample(32, 16), 'bc3');
    change(bytes);
    expect(() => openPicture(script, new Uint8Array(bytes), 'a.sheet', nodePrimitives)).toThrow(expected);
  });

  test('pixels of another size are refused', async () => {
    const opened = openPicture(
      script,
      new Uint8Array(sheet(sample(32, 16), 'bc3')),
      'a.sheet',
      nodePrimitives,
    );
    await expect(replacePixels(opened, sample(16, 16))).rejects.toThrow('32 x 16');
  });
});

test('halving weighs colour by alpha, so that edges do not darken', () => {
  const data = new Uint8Array([255, 0, 0, 255, 0, 0, 0, 0, 255, 0, 0, 255, 0, 0, 0, 0]);
  expect([...halved({ width: 2, height: 2, data }).data]).toEqual([255, 0, 0, 128]);
  expect(usesAlpha({ width: 1, height: 1, data: new Uint8Array([1, 2, 3, 254]) })).toBe(true);
});
