import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import fc from 'fast-check';
import { channelErrors, decodeBlocks, encodeBlocks, type BlockCodec, type Pixels } from './index';

/** A picture with flat parts, soft parts, edges and holes, as sheets have them. */
function drawing(width: number, height: number): Pixels {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const disc = Math.hypot(x - width / 2, y - height / 2) < height / 3;
      const stripe = (x + 2 * y) % 40 < 12;
      const colour = disc
        ? [240, 180 - x / 2, 60 + y]
        : stripe
          ? [30, 90, 95]
          : [x * 2, 255 - y * 2, (x * y) / 64];
      data.set([...colour, disc ? 255 : stripe ? 128 + (x % 64) : (y * 4) % 256], 4 * (y * width + x));
    }
  return { width, height, data };
}

const errorsOf = (
  codec: BlockCodec,
  quality: 'fast' | 'normal' | 'best',
): ReturnType<typeof channelErrors> => {
  const pixels = drawing(128, 96);
  const blocks = encodeBlocks(codec, pixels.data, 128, 96, quality);
  return channelErrors(pixels, { ...pixels, data: decodeBlocks(codec, blocks, 128, 96) });
};

test('the kernel that is shipped is the one that its source gives', () => {
  const code = `import { compileKernel } from './kernels/build.mjs'; process.stdout.write(await compileKernel('texture'));`;
  const compiled = execFileSync(process.execPath, ['--input-type=module', '-e', code], {
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  });
  expect(compiled).toBe(fs.readFileSync('src/media/picture/core/texture/kernel-bytes.ts', 'utf8'));
}, 60_000);

describe('encoders', () => {
  test.each([
    [3, 'colour', 33],
    [3, 'alpha', 38],
    [2, 'alpha', 25],
    [4, 'red', 40],
    [5, 'green', 40],
    [7, 'colour', 42],
    [7, 'alpha', 42],
  ] as const)('BC%d keeps %s to at least %d dB, more with more effort', (codec, channel, least) => {
    const [fast, normal, best] = (['fast', 'normal', 'best'] as const).map(
      (quality) => errorsOf(codec, quality)[channel],
    );
    expect(normal).toBeGreaterThan(least);
    expect(normal).toBeGreaterThanOrEqual(fast! - 0.2);
    expect(best).toBeGreaterThanOrEqual(normal! - 0.2);
  });

  test('one colour comes back nearly as it was, in BC7 exactly', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 4, maxLength: 4 }), (colour) => {
        const data = new Uint8Array(64).map((_, i) => colour[i % 4]!);
        const bc7 = decodeBlocks(7, encodeBlocks(7, data, 4, 4), 4, 4);
        bc7.forEach((value, i) => expect(Math.abs(value - data[i]!)).toBeLessThanOrEqual(1));
        const bc3 = decodeBlocks(3, encodeBlocks(3, data, 4, 4), 4, 4);
        bc3.forEach((value, i) =>
          expect(Math.abs(value - data[i]!)).toBeLessThanOrEqual(i % 4 === 3 ? 0 : 2),
        );
      }),
    );
  });

  test('any sixteen texels give a block whose error is within what its ends allow', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 64, maxLength: 64 }), (data) => {
        for (const codec of [1, 2, 3, 4, 5, 7] as const) {
          const blocks = encodeBlocks(codec, data, 4, 4, 'best');
          expect(encodeBlocks(codec, data, 4, 4, 'best')).toEqual(blocks);
          const fast = decodeBlocks(codec, encodeBlocks(codec, data, 4, 4, 'fast'), 4, 4);
          const best = decodeBlocks(codec, blocks, 4, 4);
          const channels = codec === 4 ? [0] : codec === 5 ? [0, 1] : codec === 7 ? [0, 1, 2, 3] : [0, 1, 2];
          const error = (back: Uint8Array): number =>
            channels.reduce((sum, c) => {
              for (let i = c; i < 64; i += 4)
                if (codec !== 1 || data[(i & ~3) + 3]! >= 128) sum += (back[i]! - data[i]!) ** 2;
              return sum;
            }, 0);
          expect(error(best)).toBeLessThanOrEqual(error(fast));
        }
      }),
      { numRuns: 60 },
    );
  });

  test('strips give the same blocks as the whole', () => {
    const { data } = drawing(64, 4096);
    const whole = encodeBlocks(1, data, 64, 4096);
    const half = encodeBlocks(1, data.subarray(64 * 2048 * 4), 64, 2048);
    expect(Buffer.from(whole.subarray(whole.length / 2)).equals(half)).toBe(true);
    const back = decodeBlocks(1, whole, 64, 4096);
    expect(Buffer.from(back.subarray(back.length / 2)).equals(decodeBlocks(1, half, 64, 2048))).toBe(true);
  });
});
