import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { middleOf } from '@/media/table/core/places/grid';
import type { MapView } from '@/server/reading/map-view';
import { LEAST_SCALE, MOST_SCALE, moved, showing, wholeIn, zoomed } from './camera';

const mapOf = (wide: number, high: number, things: readonly (readonly [number, number])[] = []): MapView => ({
  ...{ title: 'moor', grid: 'hexagons' as const, wide, high, tiles: [], layers: [], seen: null },
  ...{ words: '', isSaid: false },
  things: things.map(([across, down], row) => ({
    ...{ across, down, title: 't', is: [], entry: null, isOutside: true },
    to: { table: 't', row, title: 't' },
  })),
});
const [WIDTH, HEIGHT] = [900, 600];

/** Whether the middle of a spot is drawn. */
const isIn = (camera: { x: number; y: number; scale: number }, across: number, down: number): boolean => {
  const { x, y } = middleOf('hexagons', { across, down });
  return (
    Math.abs(x - camera.x) * camera.scale <= WIDTH / 2 && Math.abs(y - camera.y) * camera.scale <= HEIGHT / 2
  );
};

describe('what is looked at', () => {
  test('is all of a map with what stands beside it, but for what is far away', () => {
    const camera = wholeIn(
      mapOf(30, 20, [
        [-4, 3],
        [31, 22],
        [900_000, 0],
      ]),
      WIDTH,
      HEIGHT,
    );
    for (const [across, down] of [
      [0, 0],
      [29, 19],
      [-4, 3],
      [31, 22],
    ] as const)
      expect(isIn(camera, across, down)).toBe(true);
    expect(camera.scale).toBeGreaterThan(15);
    // Nothing at all, and more than can be drawn.
    expect(wholeIn(mapOf(0, 0), WIDTH, HEIGHT).scale).toBe(72);
    expect(wholeIn(mapOf(100_000, 100_000), WIDTH, HEIGHT).scale).toBe(LEAST_SCALE);
  });

  test('keeps what lies under the pointer where it is, within bounds', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -40, max: 40 }),
        fc.integer({ min: -400, max: 400 }),
        fc.integer({ min: -300, max: 300 }),
        (steps, x, y) => {
          const before = { x: 5, y: 6, scale: 20 };
          const after = zoomed(before, steps, { x, y });
          expect(after.scale).toBeGreaterThanOrEqual(LEAST_SCALE);
          expect(after.scale).toBeLessThanOrEqual(MOST_SCALE);
          expect(after.x + x / after.scale).toBeCloseTo(before.x + x / before.scale);
          expect(after.y + y / after.scale).toBeCloseTo(before.y + y / before.scale);
        },
      ),
    );
    expect(moved({ x: 5, y: 6, scale: 20 }, 40, -20)).toEqual({ x: 3, y: 7, scale: 20 });
  });

  test('follows the spot that one is on, and stays where that is in sight', () => {
    const map = mapOf(200, 200);
    const camera = { x: 10, y: 10, scale: 40 };
    expect(showing(camera, map, { across: 11, down: 12 }, WIDTH, HEIGHT)).toBe(camera);
    fc.assert(
      fc.property(fc.integer({ min: -50, max: 250 }), fc.integer({ min: -50, max: 250 }), (across, down) => {
        expect(isIn(showing(camera, map, { across, down }, WIDTH, HEIGHT), across, down)).toBe(true);
      }),
    );
  });
});
