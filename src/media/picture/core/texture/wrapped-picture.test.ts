import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { nodePrimitives } from '@/platform/node/primitives';
import { mediaScripts } from '@/core/testing/media-scripts';
import { decodeImage, openPicture, replacePixels, type Pixels, type WrappedPicture } from './index';

/** The pictures of docs/media-scripts.md on files of other programs, and what is written read by those. */
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-media-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

const inFolder = (name: string): string => path.join(folder, name);
const magick = (...args: string[]): Buffer =>
  execFileSync('convert', args, { cwd: folder, maxBuffer: 1 << 28 });
/** A picture with many colours and an odd width. */
const DRAWN = ['-size', '37x23', 'gradient:#304060-#e0a030', '-swirl', '80', '-blur', '0x1'];

const open = (name: string, bytes: Uint8Array): WrappedPicture =>
  openPicture(mediaScripts.get(name)!, bytes, name, nodePrimitives);
/** What another program sees in a file. */
const seen = (file: string): Buffer => magick(file, '-depth', '8', 'rgba:-');
const drawn = (file: string, ...how: string[]): Uint8Array => {
  magick(...DRAWN, ...how, file);
  return new Uint8Array(fs.readFileSync(inFolder(file.replace(/^\w+:/, ''))));
};

/** A few texels get a colour that the picture has elsewhere. */
function painted({ width, height, data }: Pixels): Pixels {
  const out = data.slice();
  for (let x = 2; x < 9; x++) out.set(data.subarray(0, 4), 4 * (5 * width + x));
  return { width, height, data: out };
}

/** Reads a file of another program, writes a change, and lets that program read it. */
async function expectBothWays(name: string, file: string, bytes: Uint8Array): Promise<WrappedPicture> {
  const picture = open(name, bytes);
  const before = decodeImage(picture);
  expect(Buffer.from(before.data).equals(seen(file))).toBe(true);
  expect(Buffer.from(await replacePixels(picture, before)).equals(bytes)).toBe(true);
  const after = painted(before);
  const ending = file.slice(file.lastIndexOf('.'));
  fs.writeFileSync(inFolder(`changed${ending}`), await replacePixels(picture, after));
  expect(seen(`changed${ending}`).equals(Buffer.from(after.data))).toBe(true);
  return picture;
}

describe('bitmap', () => {
  test.each([2, 16, 200])('%i numbered colours', async (colours) => {
    const bytes = drawn(
      `BMP3:${colours}.bmp`,
      '-colors',
      String(colours),
      '-type',
      'Palette',
      '-compress',
      'None',
    );
    const picture = await expectBothWays('bitmap', `${colours}.bmp`, bytes);
    expect(picture.layout.name).toBe(`indexed${colours === 2 ? 1 : colours === 16 ? 4 : 8}`);
  });

  test('whole colours, with rows filled up to whole words', async () => {
    const picture = await expectBothWays(
      'bitmap',
      'whole.bmp',
      drawn('BMP3:whole.bmp', '-type', 'TrueColor'),
    );
    expect(picture.layout.name).toBe('bgr8');
  });
});

describe('paintbrush', () => {
  test('numbered colours', async () => {
    await expectBothWays('paintbrush', 'few.pcx', drawn('few.pcx', '-colors', '60', '-type', 'Palette'));
  });
  test('planes of bytes', async () => {
    await expectBothWays('paintbrush', 'whole.pcx', drawn('whole.pcx', '-type', 'TrueColor'));
  });
});

/** A chunk of an interleaved picture. */
function chunk(name: string, bytes: Uint8Array): Buffer {
  const length = Buffer.alloc(4);
  length.writeUInt32BE(bytes.length);
  return Buffer.concat([Buffer.from(name, 'latin1'), length, bytes, Buffer.alloc(bytes.length & 1)]);
}

describe('interleaved', () => {
  const [width, height, planes] = [37, 23, 4];
  const colours = Uint8Array.from({ length: 48 }, (_, i) => (i * 37) & 255);
  const rowBytes = 6;
  const indexAt = (x: number, y: number): number => (x * y + (x >> 2)) & 15;
  /** Four planes a row, each row of a plane packed by itself as one stretch. */
  function file(isPacked: boolean): Uint8Array {
    const rows: Buffer[] = [];
    for (let y = 0; y < height; y++)
      for (let plane = 0; plane < planes; plane++) {
        const row = Buffer.alloc(rowBytes);
        for (let x = 0; x < width; x++) row[x >> 3]! |= ((indexAt(x, y) >> plane) & 1) << (7 - (x & 7));
        rows.push(isPacked ? Buffer.concat([Buffer.from([rowBytes - 1]), row]) : row);
      }
    const head = Buffer.alloc(20);
    head.writeUInt16BE(width, 0);
    head.writeUInt16BE(height, 2);
    head.writeInt16BE(-3, 4);
    head.writeInt16BE(9, 6);
    head.set([planes, 0, isPacked ? 1 : 0], 8);
    const body = [chunk('BMHD', head), chunk('CMAP', colours), chunk('BODY', Buffer.concat(rows))];
    return new Uint8Array(chunk('FORM', Buffer.concat([Buffer.from('ILBM'), ...body])));
  }
  /** What ffmpeg, which shares nothing with us, sees in it. */
  const seenByOther = (bytes: Uint8Array): Buffer => {
    fs.writeFileSync(inFolder('planes.iff'), bytes);
    const args = ['-v', 'error', '-i', inFolder('planes.iff'), '-pix_fmt', 'rgba', '-f', 'rawvideo', '-'];
    return execFileSync('ffmpeg', args);
  };

  test.each([false, true])('packed: %s', async (isPacked) => {
    const picture = open('interleaved', file(isPacked));
    const before = decodeImage(picture);
    expect(Buffer.from(before.data).equals(seenByOther(file(isPacked)))).toBe(true);
    expect(picture.origin).toEqual({ x: -3, y: 9 });
    const after = painted(before);
    const changed = await replacePixels(picture, after);
    expect(seenByOther(changed).equals(Buffer.from(after.data))).toBe(true);
    expect(open('interleaved', changed).origin).toEqual({ x: -3, y: 9 });
  });
});

describe('icon', () => {
  test('several sizes are one sheet', async () => {
    for (const size of [16, 32, 48])
      magick(...DRAWN, '-alpha', 'set', '-resize', `${size}x${size}!`, `${size}.png`);
    magick('16.png', '32.png', '48.png', 'all.ico');
    const bytes = new Uint8Array(fs.readFileSync(inFolder('all.ico')));
    const picture = open('icon', bytes);
    expect(picture.frames!.map(({ name, x, y }) => [name, x, y])).toEqual([
      ['16 x 16', 0, 0],
      ['32 x 32', 16, 0],
      ['48 x 48', 48, 0],
    ]);
    const sheet = decodeImage(picture);
    const part = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }): Buffer =>
      Buffer.concat(
        Array.from({ length: height }, (_, row) => {
          const from = 4 * ((y + row) * sheet.width + x);
          return sheet.data.subarray(from, from + 4 * width);
        }),
      );
    for (const [i, frame] of picture.frames!.entries())
      expect(part(frame).equals(magick(`all.ico[${i}]`, '-depth', '8', 'rgba:-'))).toBe(true);
    expect(Buffer.from(await replacePixels(picture, sheet)).equals(bytes)).toBe(true);
    // A dot in the second one alone.
    const data = sheet.data.slice();
    data.set([255, 0, 0, 255], 4 * (3 * sheet.width + 16 + 5));
    fs.writeFileSync(inFolder('dot.ico'), await replacePixels(picture, { ...sheet, data }));
    for (const i of [0, 2]) {
      const [was, is] = ['all', 'dot'].map((name) => magick(`${name}.ico[${i}]`, '-depth', '8', 'rgba:-'));
      expect(was!.equals(is!)).toBe(true);
    }
    expect([
      ...magick('dot.ico[1]', '-depth', '8', 'rgba:-').subarray(4 * (3 * 32 + 5), 4 * (3 * 32 + 6)),
    ]).toEqual([255, 0, 0, 255]);
  });
});

describe('figure', () => {
  const column = (top: number, bytes: readonly number[]): number[] => [
    ...[top, bytes.length, bytes[0]!, ...bytes, bytes.at(-1)!],
  ];
  /** Three columns of three: an `a` with a gap, nothing, and a full one. */
  const bytes = Uint8Array.from([
    ...[3, 0, 3, 0, 0xfe, 0xff, 2, 0],
    ...[20, 0, 0, 0, 31, 0, 0, 0, 32, 0, 0, 0],
    ...[...column(0, [1]), ...column(2, [2]), 255, 255, ...column(0, [0, 1, 2]), 255],
  ]);
  const colours = Uint8Array.from([0, 0, 0, 63, 0, 0, 0, 63, 21]);
  const openFigure = (of: Uint8Array, beside: (path: string) => Uint8Array | undefined): WrappedPicture =>
    openPicture(mediaScripts.get('figure')!, of, 'sprites/odd.figure', nodePrimitives, beside);
  const here = (path: string): Uint8Array | undefined => (path === 'palettes/odd.pal' ? colours : undefined);

  test('columns, gaps, and colours of another entry', async () => {
    const picture = openFigure(bytes, here);
    const [gap, black, red, green] = [
      [0, 0, 0, 0],
      [0, 0, 0, 255],
      [255, 0, 0, 255],
      [0, 255, 85, 255],
    ] as const;
    const shown = [red, gap, black, gap, gap, red, green, gap, green].flat();
    const pixels = decodeImage(picture);
    expect([...pixels.data]).toEqual(shown);
    expect(picture.origin).toEqual({ x: -2, y: 2 });
    expect(Buffer.from(await replacePixels(picture, pixels)).equals(bytes)).toBe(true);
    // What was a gap becomes a colour, what was one a gap.
    const data = pixels.data.slice();
    data.set([0, 250, 80, 255], 4 * 4);
    data.set([9, 9, 9, 0], 0);
    const changed = openFigure(await replacePixels(picture, { ...pixels, data }), here);
    expect([...decodeImage(changed).data]).toEqual(
      [gap, gap, black, gap, green, red, green, gap, green].flat(),
    );
  });

  test('without its colours it says where they should be', () => {
    expect(() => openFigure(bytes, () => undefined)).toThrow(/the colours in palettes\/odd.pal/);
  });
});

describe('strip', () => {
  const bytes = Uint8Array.from([
    ...Buffer.from('STRP'),
    ...[0, 3, 0, 2, 0, 2],
    ...[255, 4, 0x21, 0xf0, 0x13, 0x02],
    ...[1, 2, 0x00, 0x00, 0x22, 0x02],
  ]);

  test('frames side by side, each with its spot', async () => {
    const picture = open('strip', bytes);
    expect([picture.width, picture.height, picture.layout.title]).toEqual([
      6,
      2,
      '16 colours by number, 2 frames',
    ]);
    expect(picture.frames!.map(({ name, x, origin }) => [name, x, origin])).toEqual([
      ['frame 1', 0, { x: -1, y: 4 }],
      ['frame 2', 3, { x: 1, y: 2 }],
    ]);
    const sheet = decodeImage(picture);
    const [none, blue, sand, glass] = [
      [0, 0, 0, 0],
      [96, 128, 192, 255],
      [240, 224, 176, 255],
      [255, 255, 255, 128],
    ];
    expect([...sheet.data]).toEqual(
      [blue, sand, none, none, none, none, glass, blue, sand, sand, sand, sand].flat(),
    );
    expect(Buffer.from(await replacePixels(picture, sheet)).equals(bytes)).toBe(true);
    // One texel of the second: the half byte that no texel uses in the first stays.
    const data = sheet.data.slice();
    data.set(blue!, 4 * 3);
    const changed = await replacePixels(picture, { ...sheet, data });
    expect([...changed].flatMap((value, at) => (value === bytes[at] ? [] : [[at, value]]))).toEqual([
      [18, 0x01],
    ]);
  });

  test('a count of frames that the file has not room for', () => {
    const short = bytes.slice();
    short[9] = 200;
    expect(() => open('strip', short)).toThrow(/frames/);
    const none = bytes.slice(0, 10);
    none[9] = 0;
    expect(() => open('strip', none)).toThrow(/an entry/);
  });
});

describe('badge', () => {
  test('every other row first, in runs, with a colour that is see-through', async () => {
    // Rows 0, 2 and 1: green, see-through, blue, two texels each.
    const bytes = Uint8Array.from([
      ...[...Buffer.from('BADG'), 2, 3],
      ...[1, 0xe0, 1, 0x07, 1, 0xe0, 1, 0x07],
      ...[1, 0x1f, 1, 0x00, 1, 0x1f, 1, 0x00],
      ...[1, 0x1f, 1, 0xf8, 1, 0x1f, 1, 0xf8],
    ]);
    const picture = open('badge', bytes);
    const pixels = decodeImage(picture);
    const [green, none, blue] = [
      [0, 255, 0, 255],
      [255, 0, 255, 0],
      [0, 0, 255, 255],
    ];
    expect([...pixels.data]).toEqual([green, green, none, none, blue, blue].flat());
    const data = pixels.data.slice();
    data.set([0, 0, 0, 0], 0);
    const changed = decodeImage(open('badge', await replacePixels(picture, { ...pixels, data })));
    expect([...changed.data]).toEqual([none, green, none, none, blue, blue].flat());
  });
});
