import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Pixels } from '../texture';
import { Edit, edited, stamped } from './index';

const one = (...texel: number[]): Pixels => ({ width: 1, height: 1, data: Uint8Array.from(texel) });
const after = (texel: number[], edit: Edit): number[] => [...edited(one(...texel), [edit]).data];
const texel = fc.tuple(fc.nat(255), fc.nat(255), fc.nat(255), fc.nat(255));

describe('small edits', () => {
  test('a tint multiplies, and is mixed with what was there', () => {
    expect(after([200, 100, 50, 7], { sort: 'tint', colour: '#ff8000', amount: 1 })).toEqual([200, 50, 0, 7]);
    expect(after([200, 100, 50, 7], { sort: 'tint', colour: '#000000', amount: 0.5 })).toEqual([
      100, 50, 25, 7,
    ]);
  });

  test('levels spread what lies between black and white', () => {
    const edit = { sort: 'levels', black: 50, white: 150, gamma: 1 } as const;
    expect(after([50, 100, 150, 9], edit)).toEqual([0, 128, 255, 9]);
    expect(after([10, 240, 75, 9], edit)).toEqual([0, 255, 64, 9]);
    expect(after([64, 64, 64, 9], { sort: 'levels', black: 0, white: 255, gamma: 2 })[0]).toBe(128);
  });

  test('a hue is turned as browsers turn it, and greys stay grey', () => {
    expect(after([255, 0, 0, 255], { sort: 'hue', degrees: 180, saturation: 1 })).toEqual([0, 109, 109, 255]);
    expect(after([77, 77, 77, 3], { sort: 'hue', degrees: 123, saturation: 2 })).toEqual([77, 77, 77, 3]);
    expect(after([200, 100, 50, 255], { sort: 'hue', degrees: 0, saturation: 0 })).toEqual([
      118, 118, 118, 255,
    ]);
  });

  test('edits that do nothing change nothing, and colour edits leave alpha alone', () => {
    fc.assert(
      fc.property(texel, (value) => {
        const nothing: Edit[] = [
          { sort: 'tint', colour: '#123456', amount: 0 },
          { sort: 'hue', degrees: 0, saturation: 1 },
          { sort: 'levels', black: 0, white: 255, gamma: 1 },
        ];
        expect([...edited(one(...value), nothing).data]).toEqual(value);
        expect(after([...value], { sort: 'hue', degrees: 90, saturation: 3 })[3]).toBe(value[3]);
        expect(after([...value], { sort: 'alpha', value: 12 })).toEqual([...value.slice(0, 3), 12]);
      }),
    );
  });

  test('values out of range are refused', () => {
    for (const wrong of [
      { sort: 'tint', colour: 'red', amount: 1 },
      { sort: 'alpha', value: 256 },
      { sort: 'levels', black: 0, white: 255, gamma: 0 },
    ])
      expect(Edit.safeParse(wrong).success).toBe(false);
  });
});

describe('a stamp', () => {
  const under: Pixels = { width: 3, height: 2, data: new Uint8Array(24).fill(100) };
  test('lies where it is put; what reaches over an edge is left out', () => {
    const top: Pixels = { width: 2, height: 2, data: new Uint8Array(16).fill(255) };
    const at = (x: number, y: number): number[] => {
      const { data } = stamped(under, top, x, y);
      return [0, 1, 2, 3, 4, 5].filter((i) => data[4 * i] === 255);
    };
    expect(at(0, 0)).toEqual([0, 1, 3, 4]);
    expect(at(2, 1)).toEqual([5]);
    expect(at(-1, -1)).toEqual([0]);
    expect(at(9, 9)).toEqual([]);
    expect(at(-9, 0)).toEqual([]);
  });

  test('what is see-through mixes, and what is empty changes nothing', () => {
    const mixed = stamped(one(0, 0, 0, 255), one(200, 100, 50, 128), 0, 0);
    expect([...mixed.data]).toEqual([100, 50, 25, 255]);
    fc.assert(
      fc.property(texel, texel, (below, above) => {
        expect([...stamped(one(...below), one(above[0], above[1], above[2], 0), 0, 0).data]).toEqual(below);
        expect([...stamped(one(...below), one(above[0], above[1], above[2], 255), 0, 0).data]).toEqual([
          above[0],
          above[1],
          above[2],
          255,
        ]);
      }),
    );
  });
});
