import { expect, test } from '@jest/globals';
import type { Pixels } from '../texture';
import { groupLooks } from './group-looks';
import { ALIKE, apartness, isTelling, lookOf } from './look-hash';

/** Blobs of light on a slope, told by a seed. */
function scene(width: number, height: number, seed: number, tint = [1, 1, 1]): Pixels {
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x / width, y / height];
      const light =
        120 + 60 * Math.sin(seed + 7 * u) * Math.cos(seed * 2 + 5 * v) + 40 * Math.sin(seed * 3 + 11 * u * v);
      data.set([...tint.map((part) => light * part), 255], 4 * (y * width + x));
    }
  return { width, height, data };
}

test('size and small changes hardly move a look, another picture and another colour do', () => {
  const look = lookOf(scene(256, 128, 1));
  expect(look).toMatch(/^[0-9a-f]{22}$/);
  expect(apartness(look, lookOf(scene(64, 64, 1)))).toBeLessThan(ALIKE);
  const noisy = scene(256, 128, 1);
  noisy.data.forEach((value, i) => i % 4 < 3 && (noisy.data[i] = Math.min(255, value + ((i * 31) % 7))));
  expect(apartness(look, lookOf(noisy))).toBeLessThan(ALIKE / 2);
  for (const seed of [2, 3, 4, 5])
    expect(apartness(look, lookOf(scene(256, 128, seed)))).toBeGreaterThan(ALIKE);
  expect(apartness(look, lookOf(scene(256, 128, 1, [1, 0.3, 0.3])))).toBeGreaterThan(ALIKE);
});

test('what is see-through has no colour, and the smallest pictures have a look', () => {
  const hidden = scene(32, 32, 1);
  for (let i = 3; i < hidden.data.length; i += 4) hidden.data[i] = 0;
  expect(lookOf(hidden)).toBe(`${'0'.repeat(16)}808080`);
  expect(lookOf({ width: 1, height: 1, data: new Uint8Array([255, 0, 0, 255]) })).toMatch(/ff0000$/);
  expect(apartness(lookOf(hidden), lookOf(hidden))).toBe(0);
  // One colour says nothing that could be told again.
  expect(isTelling(lookOf(hidden))).toBe(false);
  expect(isTelling(lookOf(scene(64, 64, 1)))).toBe(true);
});

test('pictures that look alike are one group, whatever their size and order; others are alone', () => {
  const looks = [
    lookOf(scene(64, 64, 3)),
    lookOf(scene(256, 128, 1)),
    lookOf(scene(64, 64, 1)),
    undefined,
    lookOf({ width: 1, height: 1, data: new Uint8Array([255, 0, 0, 255]) }),
    lookOf(scene(32, 32, 2)),
    lookOf(scene(128, 128, 1)),
    lookOf(scene(96, 64, 3)),
    lookOf(scene(256, 128, 1, [1, 0.3, 0.3])),
  ];
  expect(groupLooks(looks)).toEqual([
    [1, 2, 6],
    [0, 7],
  ]);
  expect(groupLooks([])).toEqual([]);
  // What is grouped is what `apartness` calls alike, also beyond the room that is kept at first.
  const many = Array.from({ length: 700 }, (_, i) => lookOf(scene(16, 16, i / 7)));
  for (const [first, ...others] of groupLooks(many))
    for (const other of others) expect(apartness(many[first!]!, many[other]!)).toBeLessThan(ALIKE + 1e-9);
});
