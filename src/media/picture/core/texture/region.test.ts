import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { failure } from '@/core/testing/holds';
import { layouts } from './layouts';
import { decodeRegion, decodeStrips, shrunk } from './region';
import { decodeImage, FIRST, flatTexture, sizeAt, type Texture } from './texture';

/** A texture whose bytes are noise: every layout decodes anything. */
function noise(layoutName: string, width: number, height: number, levels = 1): Texture {
  const layout = layouts.get(layoutName)!;
  const images = Array.from({ length: levels }, (_, level) => {
    const length = layout.levelLength(sizeAt(width, level), sizeAt(height, level));
    return new Uint8Array(length).map((_byte, i) => Math.imul(i + 7 * level + 1, 2654435761) >>> 24);
  });
  return flatTexture({ layout, width, height, levels }, 'not said', images);
}

describe('parts of large pictures', () => {
  test.each(['bc1', 'bc7', 'rgba8', 'rgb565', 'r8'])('%s: a part is what the whole has there', (name) => {
    fc.assert(
      fc.property(
        fc.record({
          width: fc.integer({ min: 1, max: 70 }),
          height: fc.integer({ min: 1, max: 70 }),
          level: fc.integer({ min: 0, max: 1 }),
        }),
        fc.tuple(fc.nat(), fc.nat(), fc.nat(), fc.nat()),
        ({ width, height, level }, [a, b, c, d]) => {
          const texture = noise(name, width, height, 2);
          const place = { ...FIRST, level };
          const whole = decodeImage(texture, place);
          const x = a % whole.width;
          const y = b % whole.height;
          const part = { x, y, width: 1 + (c % (whole.width - x)), height: 1 + (d % (whole.height - y)) };
          const { data } = decodeRegion(texture, place, part);
          for (let row = 0; row < part.height; row++) {
            const from = 4 * ((y + row) * whole.width + x);
            const own = data.subarray(4 * row * part.width, 4 * (row + 1) * part.width);
            expect(Buffer.from(own).equals(whole.data.subarray(from, from + 4 * part.width))).toBe(true);
          }
        },
      ),
      { numRuns: 40 },
    );
  });

  test('strips follow each other and make the whole', () => {
    const texture = noise('bc1', 4096, 2052);
    const whole = decodeImage(texture);
    let next = 0;
    for (const { y, pixels } of decodeStrips(texture)) {
      expect(y).toBe(next);
      next += pixels.height;
      const from = 4 * y * 4096;
      expect(Buffer.from(pixels.data).equals(whole.data.subarray(from, from + pixels.data.length))).toBe(
        true,
      );
    }
    expect(next).toBe(2052);
  });

  test('made smaller, each texel is the mean of those it stands for', () => {
    const texture = noise('rgba8', 10, 7);
    const small = shrunk(texture, FIRST, 4);
    expect(small).toMatchObject({ width: 4, height: 3 });
    const { data } = decodeImage(texture);
    const sum = [0, 0, 0, 0];
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [2, 0],
      [0, 1],
      [1, 1],
      [2, 1],
      [0, 2],
      [1, 2],
      [2, 2],
    ] as const) {
      const at = 4 * (y * 10 + x);
      for (let c = 0; c < 3; c++) sum[c]! += data[at + c]! * data[at + 3]!;
      sum[3]! += data[at + 3]!;
    }
    for (let c = 0; c < 3; c++) expect(Math.abs(small.data[c]! - sum[c]! / sum[3]!)).toBeLessThanOrEqual(1);
    expect(Math.abs(small.data[3]! - sum[3]! / 9)).toBeLessThanOrEqual(1);
    expect(shrunk(texture, FIRST, 100).data).toEqual(
      data.map((value, i) => (data[i - (i % 4) + 3] === 0 ? 0 : value)),
    );
  });

  test('a part that does not lie within is refused', () => {
    const texture = noise('bc1', 16, 16);
    for (const part of [
      { x: 10, y: 0, width: 7, height: 1 },
      { x: -1, y: 0, width: 1, height: 1 },
      { x: 0, y: 0.5, width: 1, height: 1 },
    ])
      expect(failure(() => decodeRegion(texture, FIRST, part)).message).toContain('a part of 16 x 16 texels');
  });
});
