import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { coordinateLines } from './coordinates';

test('two triangles that share a side have five lines; downwards is below 0', () => {
  const made = coordinateLines(Float32Array.of(0, 0, 1, 0, 0, 1, 1, 1), Uint32Array.of(0, 1, 2, 2, 1, 3));
  expect([...made.places]).toEqual([0, -0, 0, 1, -0, 0, 0, -1, 0, 1, -1, 0]);
  expect([...made.lines]).toEqual([0, 1, 1, 2, 2, 0, 1, 3, 3, 2]);
  expect(made).toMatchObject({ outside: 0, low: [0, 0], high: [1, 1] });
});

test('what reaches beyond the picture is counted by triangle, nothing is none', () => {
  const made = coordinateLines(
    Float32Array.of(0, 0, 1, 0, 0, 1, 2.5, 1, NaN, 0),
    Uint32Array.of(0, 1, 2, 2, 1, 3, 0, 1, 4),
  );
  expect(made.outside).toBe(2);
  expect(coordinateLines(new Float32Array(), new Uint32Array())).toMatchObject({
    ...{ outside: 0, low: [0, 0], high: [1, 1] },
    lines: new Uint32Array(),
  });
});

test('every side of every triangle is drawn once, whichever way round', () =>
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(9), fc.nat(9), fc.nat(9)), { maxLength: 30 }), (triangles) => {
      const made = coordinateLines(new Float32Array(20), Uint32Array.from(triangles.flat()));
      const sides = new Set(
        triangles.flatMap((corners) =>
          corners.map((corner, i) => [corner, corners[(i + 1) % 3]!].sort((a, b) => a - b).join()),
        ),
      );
      expect(made.lines).toHaveLength(2 * sides.size);
      for (let i = 0; i < made.lines.length; i += 2)
        expect(sides.delete([made.lines[i]!, made.lines[i + 1]!].sort((a, b) => a - b).join())).toBe(true);
    }),
  ));
