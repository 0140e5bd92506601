import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { fromHalf, toHalf } from '@/core/bytes';
import { nodePrimitives } from '@/platform/node/primitives';
import {
  decodeImage,
  decodeImageDeep,
  layouts,
  placesOf,
  psnr,
  readBmp,
  readDds,
  readKtx2,
  readTga,
  sizeAt,
  writeDds,
  writeKtx2,
  writeTga,
  type Pixels,
  type Texture,
} from './index';

/** Texels that differ all over, with some of every alpha. */
function noise(width: number, height: number, seed = 1): Pixels {
  let state = seed;
  const data = Uint8Array.from(
    { length: width * height * 4 },
    () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 24,
  );
  return { width, height, data };
}

type Shape = Partial<
  Pick<Texture, 'width' | 'height' | 'depth' | 'levels' | 'layers' | 'faces' | 'colourSpace'>
>;

/** A texture whose images all differ. */
function texture(layoutName: string, shape: Shape = {}): Texture {
  const layout = layouts.get(layoutName)!;
  const whole = { width: 16, height: 8, depth: 1, levels: 5, layers: 1, faces: 1, ...shape };
  const images = new Map(
    placesOf(whole).map((place, i) => {
      const [width, height] = [sizeAt(whole.width, place.level), sizeAt(whole.height, place.level)];
      const bytes = noise(layout.levelLength(width, height), 1, i + 1).data.slice(
        0,
        layout.levelLength(width, height),
      );
      return [JSON.stringify(place), bytes] as const;
    }),
  );
  return {
    container: 'test',
    colourSpace: 'not said',
    ...whole,
    layout,
    image: (place) => images.get(JSON.stringify(place))!,
  };
}

const SHAPES: readonly [string, Shape][] = [
  ['with all levels', {}],
  ['with one level', { levels: 1 }],
  ['an array', { layers: 3, levels: 2 }],
  ['a cube', { height: 16, faces: 6, levels: 3 }],
  ['a volume', { depth: 4, levels: 3 }],
  ['in sRGB', { colourSpace: 'sRGB' }],
  ['of sizes that are no multiple of four', { width: 13, height: 7, levels: 4 }],
];

const same = (back: Texture, from: Texture): void => {
  for (const key of ['width', 'height', 'depth', 'levels', 'layers', 'faces'] as const)
    expect([key, back[key]]).toEqual([key, from[key]]);
  expect(back.layout.name).toBe(from.layout.name);
  for (const place of placesOf(from))
    expect(Buffer.from(back.image(place)).equals(from.image(place))).toBe(true);
};

describe('DDS and KTX2 come back image by image', () => {
  describe.each(SHAPES)('%s', (_what, shape) => {
    test.each(layouts.names())('%s', (name) => {
      const from = texture(name, shape);
      const write = {
        dds: () => writeDds(from),
        ktx2: () => writeKtx2(from),
        zstd: () => writeKtx2(from, (b) => nodePrimitives.zstd(b, 3)),
      };
      let written = 0;
      for (const [how, make] of Object.entries(write)) {
        let bytes: Uint8Array;
        try {
          bytes = make();
        } catch (error) {
          expect(String(error)).toMatch(/a pixel layout that (DDS|KTX2) has/);
          continue;
        }
        written++;
        const back = how === 'dds' ? readDds(bytes, 'a.dds') : readKtx2(bytes, 'a.ktx2', nodePrimitives);
        same(back, from);
        // Other images of the same lengths go in; the rest of the file stays.
        const other = texture(name, { ...shape, colourSpace: 'not said' });
        const rebuilt = back.rebuild!((place) => other.image(place).map((byte) => byte ^ 255));
        const again = how === 'dds' ? readDds(rebuilt, 'b.dds') : readKtx2(rebuilt, 'b.ktx2', nodePrimitives);
        for (const place of placesOf(from))
          expect(Buffer.from(again.image(place)).equals(from.image(place).map((byte) => byte ^ 255))).toBe(
            true,
          );
        if (how === 'dds') expect(rebuilt.length).toBe(bytes.length);
      }
      // Every layout can be kept plainly in at least one of them, but for those that only games wrap.
      if (Object.keys(shape).length === 0 && !/^a[rb]gb?8$|^abgr8$|^rgb6$|swapped$/.test(name))
        expect(written).toBeGreaterThan(0);
    });
  });
});

describe('other programs', () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-pictures-'));
  afterAll(() => fs.rmSync(folder, { recursive: true }));
  const file = (name: string): string => path.join(folder, name);
  const soft = (): Pixels => {
    const data = new Uint8Array(64 * 32 * 4);
    for (let i = 0; i < 64 * 32; i++) {
      const [x, y] = [i % 64, i >> 6];
      data.set([x * 4, y * 8, 255 - x * 2, 255 - y * 3], 4 * i);
    }
    return { width: 64, height: 32, data };
  };

  test.each(['bc1', 'bc3', 'bgra8', 'bgr8', 'rgb565'])('ImageMagick reads a DDS in %s as we do', (name) => {
    const layout = layouts.get(name)!;
    const pixels = soft();
    if (layout.alpha !== 'full') for (let i = 3; i < pixels.data.length; i += 4) pixels.data[i] = 255;
    const from = {
      ...texture(name, { width: 64, height: 32, levels: 1 }),
      image: () => layout.encode!(pixels),
    };
    fs.writeFileSync(file('ours.dds'), writeDds(from));
    execFileSync('convert-im6.q16', [file('ours.dds'), '-depth', '8', `rgba:${file('theirs.raw')}`]);
    const theirs = { ...pixels, data: new Uint8Array(fs.readFileSync(file('theirs.raw'))) };
    expect(theirs.data.length).toBe(pixels.data.length);
    const ours = decodeImage(from);
    ours.data.forEach((value, i) => expect(Math.abs(value - theirs.data[i]!)).toBeLessThanOrEqual(8));
    expect(psnr(ours, theirs, true)).toBeGreaterThan(46);
  });

  test.each(['dxt1', 'dxt5'])('a DDS of ImageMagick in %s is read as it reads it', async (compression) => {
    const { width, height, data } = soft();
    if (compression === 'dxt1') for (let i = 3; i < data.length; i += 4) data[i] = 255;
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toFile(file('in.png'));
    execFileSync('convert-im6.q16', [
      file('in.png'),
      '-define',
      `dds:compression=${compression}`,
      '-define',
      'dds:mipmaps=3',
      file('theirs.dds'),
    ]);
    const back = readDds(new Uint8Array(fs.readFileSync(file('theirs.dds'))), 'theirs.dds');
    expect(back).toMatchObject({
      width,
      height,
      levels: 4,
      layout: { name: compression === 'dxt1' ? 'bc1' : 'bc3' },
    });
    expect(psnr({ width, height, data }, decodeImage(back), true)).toBeGreaterThan(30);
  });

  test.each([
    ['24 bits', ['-alpha', 'off']],
    ['32 bits in runs', ['-compress', 'rle']],
    ['a palette', ['-alpha', 'off', '-colors', '16', '-type', 'Palette']],
    ['grey', ['-alpha', 'off', '-colorspace', 'Gray']],
  ])('a TGA of ImageMagick with %s', async (_what, options) => {
    const { width, height, data } = soft();
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toFile(file('in.png'));
    execFileSync('convert-im6.q16', [file('in.png'), ...options, file('theirs.tga')]);
    // ImageMagick 6 takes no notice of which row comes first, ffmpeg goes by the standard.
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-y', file('theirs.raw')];
    execFileSync('ffmpeg', ['-v', 'error', '-i', file('theirs.tga'), ...raw]);
    const back = readTga(new Uint8Array(fs.readFileSync(file('theirs.tga'))), 'theirs.tga');
    expect(Buffer.from(back.data).equals(fs.readFileSync(file('theirs.raw')))).toBe(true);
  });

  test.each([
    ['24 bits', ['-alpha', 'off'], 'BMP3'],
    ['a palette', ['-alpha', 'off', '-colors', '200', '-type', 'Palette', '-compress', 'none'], 'BMP3'],
    ['32 bits with masks', [], 'BMP'],
  ])('a BMP of ImageMagick with %s', async (_what, options, kind) => {
    const { width, height, data } = soft();
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toFile(file('in.png'));
    execFileSync('convert-im6.q16', [file('in.png'), ...options, `${kind}:${file('theirs.bmp')}`]);
    execFileSync('convert-im6.q16', [file('theirs.bmp'), '-depth', '8', `rgba:${file('theirs.raw')}`]);
    const back = readBmp(new Uint8Array(fs.readFileSync(file('theirs.bmp'))), 'theirs.bmp');
    expect(Buffer.from(back.data).equals(fs.readFileSync(file('theirs.raw')))).toBe(true);
  });

  test('a TGA of ours is read by ImageMagick, colour under zero alpha kept', () => {
    const pixels = noise(9, 5);
    fs.writeFileSync(file('ours.tga'), writeTga(pixels, true));
    execFileSync('convert-im6.q16', [file('ours.tga'), '-depth', '8', `rgba:${file('theirs.raw')}`]);
    expect(Buffer.from(pixels.data).equals(fs.readFileSync(file('theirs.raw')))).toBe(true);
    expect(readTga(writeTga(pixels, true), 'a.tga')).toEqual(pixels);
  });
});

describe('hostile pictures', () => {
  const dds = writeDds(texture('bc3'));
  const ktx2 = writeKtx2(texture('bc7'), (bytes) => nodePrimitives.zstd(bytes, 3));
  const tga = writeTga(noise(5, 4), true);
  const read: Record<string, [Uint8Array, (bytes: Uint8Array) => unknown]> = {
    DDS: [dds, (bytes) => readDds(bytes, 'x.dds')],
    KTX2: [
      ktx2,
      (bytes) => {
        const opened = readKtx2(bytes, 'x.ktx2', nodePrimitives);
        return placesOf(opened).map((place) => opened.image(place));
      },
    ],
    TGA: [tga, (bytes) => readTga(bytes, 'x.tga')],
  };

  test.each(Object.keys(read))('a %s cut anywhere is refused in words', (name) => {
    const [bytes, open] = read[name]!;
    for (let length = 0; length < bytes.length; length += length < 200 ? 1 : 17)
      expect(() => open(bytes.slice(0, length))).toThrow(/x\.(dds|ktx2|tga)/);
  });

  test.each(Object.keys(read))(
    'a %s with other bytes opens or is refused in words, and reserves nothing',
    (name) => {
      const [bytes, open] = read[name]!;
      fc.assert(
        fc.property(fc.nat(Math.min(bytes.length, 160) - 1), fc.nat(255), (at, value) => {
          const changed = bytes.slice();
          changed[at] = value;
          try {
            open(changed);
          } catch (error) {
            expect((error as Error).constructor.name).toBe('FormatError');
          }
        }),
        { numRuns: 400 },
      );
    },
  );

  test('65,535 texels wide from a hundred bytes', () => {
    const bytes = dds.slice(0, 148);
    new DataView(bytes.buffer).setUint32(16, 65535, true);
    expect(() => readDds(bytes, 'x.dds')).toThrow('1 to 16384 texels');
    new DataView(bytes.buffer).setUint32(16, 16384, true);
    new DataView(bytes.buffer).setUint32(12, 16384, true);
    expect(() => readDds(bytes, 'x.dds')).toThrow(/bytes for 16384 x 16384 in BC3/);
  });

  test('a packed level that would unpack to gigabytes', () => {
    const bytes = ktx2.slice();
    const view = new DataView(bytes.buffer);
    view.setUint32(20, 16384, true);
    view.setUint32(24, 16384, true);
    view.setUint32(12, 109, true);
    const opened = readKtx2(bytes, 'x.ktx2', nodePrimitives);
    expect(() => opened.image({ level: 0, layer: 0, face: 0, slice: 0 })).toThrow(/at most 536870912 bytes/);
  });

  test('more levels than there can be', () => {
    const bytes = dds.slice();
    new DataView(bytes.buffer).setUint32(28, 9, true);
    expect(() => readDds(bytes, 'x.dds')).toThrow('1 to 5 levels for 16 x 8 texels');
  });
});

test('half floats are those of the standard, both ways', () => {
  const known: [number, number][] = [
    [0x0000, 0],
    [0x3c00, 1],
    [0xc000, -2],
    [0x7bff, 65504],
    [0x0001, 2 ** -24],
    [0x0400, 2 ** -14],
    [0x3555, 0.333251953125],
    [0x7c00, Infinity],
  ];
  for (const [bits, value] of known) {
    expect(fromHalf(bits)).toBe(value);
    expect(toHalf(value)).toBe(bits);
  }
  for (let bits = 0; bits < 0x7c00; bits++) expect(toHalf(fromHalf(bits))).toBe(bits);
  expect(toHalf(1 + 2 ** -11)).toBe(0x3c00);
  expect(toHalf(1 + 3 * 2 ** -11)).toBe(0x3c02);
  expect(toHalf(1e6)).toBe(0x7c00);
});

test('deep texels come in full depth, and are cut down for looking', () => {
  const bytes = new Uint8Array(new Uint16Array([0, 257, 32768, 65535]).buffer);
  const deep = texture('rgba16', { width: 1, height: 1, levels: 1 });
  const opened = { ...deep, image: () => bytes };
  expect([...decodeImageDeep(opened).data]).toEqual([0, 257, 32768, 65535]);
  expect([...decodeImage(opened).data]).toEqual([0, 1, 128, 255]);
});
