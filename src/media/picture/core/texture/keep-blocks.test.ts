import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { encodeOver, replacePixels } from './encode';
import { layouts } from './layouts';
import type { Pixels } from './pixels';
import { decodeImage, fullLevels, sizeAt, type Texture } from './texture';

/** A texture in memory; its levels hold bytes that no encoder here would give. */
function textureOf(name: string, width: number, height: number, seed: number): Texture {
  const layout = layouts.get(name)!;
  const levels = fullLevels(width, height);
  let state = seed >>> 0;
  const images = Array.from({ length: levels }, (_, level) => {
    const bytes = new Uint8Array(layout.levelLength(sizeAt(width, level), sizeAt(height, level)));
    for (let i = 0; i < bytes.length; i++) bytes[i] = (state = (state * 1103515245 + 12345) >>> 0) >>> 16;
    return bytes;
  });
  return {
    ...{ container: 'test', width, height, depth: 1, levels, layers: 1, faces: 1, layout },
    colourSpace: 'not said',
    image: ({ level }) => images[level]!,
    rebuild: (image) =>
      Buffer.concat(images.map((_one, level) => image({ level, layer: 0, face: 0, slice: 0 }))),
  };
}

const whole = (texture: Texture): Buffer => Buffer.from(texture.rebuild!((place) => texture.image(place)));

/** The same picture with other texels in one rectangle. */
function painted(pixels: Pixels, left: number, top: number, side: number): Pixels {
  const data = pixels.data.slice();
  for (let y = top; y < Math.min(pixels.height, top + side); y++)
    for (let x = left; x < Math.min(pixels.width, left + side); x++)
      for (let c = 0; c < 4; c++) data[4 * (y * pixels.width + x) + c]! ^= 0x5a;
  return { ...pixels, data };
}

describe('what does not change keeps its bytes', () => {
  test.each(['bc1', 'bc3', 'bc4', 'bc5', 'bc7', 'rgba8', 'rgb565', 'rgba16'])(
    '%s: the same picture gives the same file',
    async (name) => {
      const texture = textureOf(name, 36, 20, 7);
      expect(Buffer.from(await replacePixels(texture, decodeImage(texture)))).toEqual(whole(texture));
    },
  );

  test('only blocks that a change touches differ, in every level', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 0, max: 39 }),
        fc.integer({ min: 0, max: 39 }),
        fc.integer({ min: 1, max: 9 }),
        async (width, height, x, y, side) => {
          const texture = textureOf('bc1', width, height, width * 41 + height);
          const [left, top] = [x % width, y % height];
          const given = painted(decodeImage(texture), left, top, side);
          const { images } = await encodeOver(texture, given);
          images.forEach((image, level) => {
            const across = Math.ceil(sizeAt(width, level) / 4);
            const old = texture.image({ level, layer: 0, face: 0, slice: 0 });
            for (let block = 0; block * 8 < image.length; block++) {
              if (
                Buffer.compare(
                  image.subarray(block * 8, block * 8 + 8),
                  old.subarray(block * 8, block * 8 + 8),
                ) === 0
              )
                continue;
              // Texels of the largest level that this block is made from, and of its border where a side is odd.
              const reach = 4 * 2 ** level;
              const [fromX, fromY] = [(block % across) * reach, Math.floor(block / across) * reach];
              expect(fromX < left + side && left < fromX + 2 * reach).toBe(true);
              expect(fromY < top + side && top < fromY + 2 * reach).toBe(true);
            }
          });
        },
      ),
      { numRuns: 60 },
    );
  });

  test('how much was kept is told', async () => {
    const texture = textureOf('bc3', 16, 16, 3);
    const { kept, all } = await encodeOver(texture, painted(decodeImage(texture), 0, 0, 4));
    expect(all).toBe(16 + 4 + 1 + 1 + 1);
    // The first block of each level hangs on the painted one.
    expect(kept).toBe(15 + 3);
  });
});
