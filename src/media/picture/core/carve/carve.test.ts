import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import zlib from 'node:zlib';
import { layouts, writeDds, type Pixels, type Texture } from '../texture';
import { findBlockPictures, findBlockRuns, findSigned, likelyWidths } from './index';

/** Something like a picture: hills in front of a sky, with a little grain. */
function scene(width: number, height: number, seed = 1): Pixels {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const hill =
        height * (0.55 + 0.2 * Math.sin((x / width) * 7 + seed) + 0.06 * Math.sin((x / width) * 31));
      const grain = ((x * 7919 + y * 104729 + seed * 31) % 23) - 11;
      const [r, g, b] =
        y < hill ? [240 - (90 * y) / height, 150 + (60 * y) / height, 90] : [60, 90 - (40 * x) / width, 50];
      data.set(
        [r + grain, g + grain, b + grain, 255].map((v) => Math.min(255, Math.max(0, v))),
        4 * (y * width + x),
      );
    }
  return { width, height, data };
}

const coded = (pixels: Pixels, name: string): Uint8Array => layouts.get(name)!.encode!(pixels);

function noise(length: number, seed: number, most = 256): Uint8Array {
  let state = seed >>> 0;
  return Uint8Array.from({ length }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state >>> 16) % most;
  });
}

const joined = (...parts: Uint8Array[]): Uint8Array => new Uint8Array(Buffer.concat(parts));

describe('pictures of blocks without a table', () => {
  test.each([
    ['bc1', 128, 64],
    ['bc1', 64, 64],
    ['bc1-swapped', 128, 128],
    ['bc3', 64, 128],
    ['bc3-swapped', 256, 64],
  ])('%s, %i x %i: found where it is, as large as it is', (name, width, height) => {
    for (const [before, most] of [
      [700, 16],
      [333, 256],
      [1024, 200],
    ] as const) {
      const buried = joined(noise(before, 5, most), coded(scene(width, height), name), noise(250, 9, most));
      expect(findBlockPictures(buried)).toEqual([
        expect.objectContaining({ layout: name, offset: before, width, height, levels: 1 }),
      ]);
    }
  });

  test('two in one file are two', () => {
    const [a, b] = [scene(128, 64), scene(64, 64, 3)];
    const buried = joined(
      noise(700, 1, 16),
      coded(a, 'bc1'),
      noise(333, 2, 16),
      coded(b, 'bc1'),
      noise(90, 3, 16),
    );
    expect(findBlockPictures(buried)).toEqual([
      expect.objectContaining({ offset: 700, width: 128, height: 64 }),
      expect.objectContaining({ offset: 700 + 4096 + 333, width: 64, height: 64 }),
    ]);
  });

  test('noise, zeros, texts and waves are no pictures', () => {
    const text = Buffer.from('A good harbour for rope, and one for tallow.\r\n'.repeat(2000));
    const wave = new Uint8Array(
      Int16Array.from({ length: 40_000 }, (_, i) => 9000 * Math.sin(i / 21)).buffer,
    );
    for (const bytes of [new Uint8Array(100_000), noise(200_000, 4), noise(200_000, 4, 16), text, wave])
      expect(findBlockPictures(bytes)).toEqual([]);
  });

  test('the width is among the likely ones where it is no usual one', () => {
    const buried = coded(scene(200, 120), 'bc1');
    const run = findBlockRuns(buried).find(({ layout, offset }) => layout === 'bc1' && offset === 0);
    expect(likelyWidths(buried, run!)[0]).toBe(200);
  });
});

describe('pictures told by how they begin', () => {
  const chunk = (type: string, body: Buffer): Buffer => {
    const head = Buffer.alloc(8);
    head.writeUInt32BE(body.length);
    head.write(type, 4, 'latin1');
    return Buffer.concat([head, body, Buffer.alloc(4)]);
  };
  const png = Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', Buffer.alloc(13, 1)),
    chunk('IDAT', zlib.deflateSync(Buffer.alloc(40))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
  const bytes = coded(scene(32, 32), 'bc1');
  const dds = writeDds({
    ...{ container: 'x', width: 32, height: 32, depth: 1, levels: 1, layers: 1, faces: 1 },
    layout: layouts.get('bc1')!,
    colourSpace: 'not said',
    image: () => bytes,
  } satisfies Texture);

  test('each with its own length', () => {
    const buried = joined(noise(77, 1), png, noise(31, 2), dds, png);
    expect(findSigned(buried)).toEqual([
      { ending: 'png', offset: 77, length: png.length },
      { ending: 'dds', offset: 77 + png.length + 31, length: dds.length },
      { ending: 'png', offset: 77 + png.length + 31 + dds.length, length: png.length },
    ]);
  });

  test('what is cut short is none, and anything ends', () => {
    expect(findSigned(png.subarray(0, png.length - 5))).toEqual([]);
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), fc.nat(100), fc.nat(300), (tail, cut, spoil) => {
        const spoiled = joined(png, dds.subarray(0, dds.length - cut), tail);
        spoiled[spoil % spoiled.length]! ^= 0x41;
        for (const { offset, length } of findSigned(spoiled))
          expect(offset + length).toBeLessThanOrEqual(spoiled.length);
        findBlockPictures(spoiled);
      }),
    );
  });
});
