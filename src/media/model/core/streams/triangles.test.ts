import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fromStrip, readIndices, toStrip, writeIndices } from './triangles';

/** Triangles as a set: each from its lowest corner on, in its turn. */
const told = (triangles: ArrayLike<number>): string[] => {
  const all: string[] = [];
  for (let i = 0; i + 2 < triangles.length; i += 3) {
    const corners = [triangles[i]!, triangles[i + 1]!, triangles[i + 2]!];
    const low = corners.indexOf(Math.min(...corners));
    all.push([...corners.slice(low), ...corners.slice(0, low)].join(' '));
  }
  return all.sort();
};

test('a strip is read with every other triangle turned, and ends where it says', () => {
  expect([...fromStrip(Uint32Array.of(0, 1, 2, 3), undefined)]).toEqual([0, 1, 2, 2, 1, 3]);
  expect([...fromStrip(Uint32Array.of(0, 1, 2, 0xffff, 4, 5, 6), 0xffff)]).toEqual([0, 1, 2, 4, 5, 6]);
  expect([...fromStrip(Uint32Array.of(0, 1, 2, 2, 3), undefined)]).toEqual([0, 1, 2]);
  expect([...fromStrip(new Uint32Array(0), undefined)]).toEqual([]);
});

test('any triangles become a strip that draws the very same ones', () => {
  const corner = fc.integer({ min: 0, max: 12 });
  const triangle = fc.uniqueArray(corner, { minLength: 3, maxLength: 3 });
  fc.assert(
    fc.property(fc.array(triangle, { maxLength: 30 }), (triangles) => {
      const flat = Uint32Array.from(triangles.flat());
      expect(told(fromStrip(toStrip(flat), undefined))).toEqual(told(flat));
    }),
  );
  // Neighbours share their corners.
  expect(toStrip(Uint32Array.of(0, 1, 2, 2, 1, 3)).length).toBe(4);
});

test('corners are written as wide as they are said to be, or refused', () => {
  const corners = Uint32Array.of(0, 255, 3);
  expect([...writeIndices(corners, 'u8', true)]).toEqual([0, 255, 3]);
  expect([...writeIndices(corners, 'u16', false)]).toEqual([0, 0, 0, 255, 0, 3]);
  expect([...readIndices(writeIndices(corners, 'u32', false), 'u32', false)]).toEqual([...corners]);
  expect(() => writeIndices(Uint32Array.of(0, 1, 256), 'u8', true)).toThrow(/up to 255/);
  expect(() => writeIndices(Uint32Array.of(0, 1, 65_536), 'u16', true)).toThrow(/triangles\[0\]/);
});
