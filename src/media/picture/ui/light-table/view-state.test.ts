import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fitted, LEAST_ZOOM, MOST_ZOOM, texelAt, zoomedAt } from './view-state';

describe('placing a picture', () => {
  test('all of it is in the middle, in whole steps where there is room', () => {
    expect(fitted(256, 256, 980, 755)).toEqual({ zoom: 2, x: 234, y: 122 });
    expect(fitted(16, 16, 980, 755)).toEqual({ zoom: 8, x: 426, y: 314 });
    const large = fitted(4096, 2048, 980, 755);
    expect(large.zoom).toBeCloseTo(956 / 4096);
    expect(large.x).toBe(12);
  });

  test('what lies under a point stays there when it is zoomed', () => {
    fc.assert(
      fc.property(
        fc.record({
          x: fc.integer({ min: -2000, max: 2000 }),
          y: fc.integer({ min: -2000, max: 2000 }),
          zoom: fc.double({ min: LEAST_ZOOM, max: MOST_ZOOM, noNaN: true }),
        }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        fc.nat(1000),
        fc.nat(800),
        (placement, factor, px, py) => {
          const after = zoomedAt(placement, factor, px, py);
          expect(after.zoom).toBeGreaterThanOrEqual(LEAST_ZOOM);
          expect(after.zoom).toBeLessThanOrEqual(MOST_ZOOM);
          expect((px - after.x) / after.zoom).toBeCloseTo((px - placement.x) / placement.zoom, 3);
          expect((py - after.y) / after.zoom).toBeCloseTo((py - placement.y) / placement.zoom, 3);
        },
      ),
    );
  });

  test('the texel under a point, and none beside the picture', () => {
    const at = { width: 4, height: 2 };
    const placement = { x: 100, y: 50, zoom: 10 };
    expect(texelAt(placement, at, 100, 50)).toEqual({ x: 0, y: 0 });
    expect(texelAt(placement, at, 139.9, 69.9)).toEqual({ x: 3, y: 1 });
    for (const [x, y] of [
      [99.9, 50],
      [140, 50],
      [100, 49.9],
      [100, 70],
    ])
      expect(texelAt(placement, at, x!, y!)).toBeUndefined();
  });
});
