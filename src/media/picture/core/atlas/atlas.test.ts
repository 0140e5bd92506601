import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Pixels } from '../texture';
import { checkRegions, cutRegion, findRegions, placeRegion, readRegions, type Region } from './index';

const empty = (width: number, height: number, colour = [0, 0, 0, 0]): Pixels => ({
  ...{ width, height },
  data: new Uint8Array(width * height * 4).map((_, i) => colour[i % 4]!),
});

function filled(pixels: Pixels, { x, y, width, height }: Omit<Region, 'name'>, value = 200): Pixels {
  const data = pixels.data.slice();
  for (let row = y; row < y + height; row++)
    data.fill(value, 4 * (row * pixels.width + x), 4 * (row * pixels.width + x + width));
  return { ...pixels, data };
}

const box = ({ x, y, width, height }: Region): number[] => [x, y, width, height];

describe('parts by the gaps between them', () => {
  test('what touches, also by a corner or over a narrow gap, is one part', () => {
    let pixels = empty(32, 16);
    for (const [x, y, width, height] of [
      [2, 2, 4, 4],
      [6, 6, 3, 3],
      [20, 1, 5, 5],
      [27, 1, 3, 9],
    ] as const)
      pixels = filled(pixels, { x, y, width, height });
    expect(findRegions(pixels).map(box)).toEqual([
      [20, 1, 5, 5],
      [27, 1, 3, 9],
      [2, 2, 7, 7],
    ]);
    expect(findRegions(pixels, { gap: 2 }).map(box)).toEqual([
      [20, 1, 10, 9],
      [2, 2, 7, 7],
    ]);
    expect(findRegions(pixels).map(({ name }) => name)).toEqual(['part_1', 'part_2', 'part_3']);
  });

  test('a part within the bend of another is a part of its own, and dust is none', () => {
    let pixels = filled(empty(24, 24), { x: 2, y: 2, width: 20, height: 2 });
    pixels = filled(pixels, { x: 2, y: 2, width: 2, height: 20 });
    pixels = filled(pixels, { x: 20, y: 2, width: 2, height: 20 });
    pixels = filled(pixels, { x: 9, y: 9, width: 5, height: 5 });
    pixels = filled(pixels, { x: 12, y: 20, width: 1, height: 1 });
    expect(findRegions(pixels).map(box)).toEqual([
      [2, 2, 20, 20],
      [9, 9, 5, 5],
    ]);
  });

  test('opaque pictures are told by the colour of their corners; without one there are no parts', () => {
    const background = empty(16, 16, [9, 9, 9, 255]);
    expect(findRegions(background)).toEqual([]);
    const data = background.data.slice();
    data.set([200, 0, 0, 255, 200, 0, 0, 255], 4 * (5 * 16 + 6));
    expect(findRegions({ ...background, data }).map(box)).toEqual([[6, 5, 2, 1]]);
    const noise = {
      ...background,
      data: background.data.map((_, i) => (i % 4 === 3 ? 255 : (i * 97) % 251)),
    };
    expect(findRegions(noise)).toEqual([]);
  });

  test('boxes that lie apart are found as they are', () => {
    const boxes = fc.uniqueArray(fc.integer({ min: 0, max: 35 }), { minLength: 1, maxLength: 20 });
    fc.assert(
      fc.property(boxes, fc.integer({ min: 2, max: 7 }), (places, side) => {
        let pixels = empty(60, 60);
        for (const place of places)
          pixels = filled(pixels, {
            x: (place % 6) * 10,
            y: Math.floor(place / 6) * 10,
            width: side,
            height: side,
          });
        const found = findRegions(pixels).map(box);
        const wanted = [...places]
          .sort((a, b) => a - b)
          .map((place) => [(place % 6) * 10, Math.floor(place / 6) * 10, side, side]);
        expect(found).toEqual(wanted);
      }),
    );
  });

  test('noise stops with a word instead of a list of thousands', () => {
    const data = new Uint8Array(400 * 400 * 4);
    for (let y = 0; y < 400; y += 4)
      for (let x = 0; x < 400; x += 4) data.fill(255, 4 * (y * 400 + x), 4 * (y * 400 + x) + 8);
    expect(() => findRegions({ width: 400, height: 400, data })).toThrow(/at most 4096 parts/);
  });
});

describe('cut out and put back', () => {
  test('a part that is put back unchanged changes nothing, and a changed one nothing around it', () => {
    const side = fc.integer({ min: 1, max: 12 });
    fc.assert(
      fc.property(side, side, fc.nat(100), fc.nat(100), side, side, (width, height, x, y, w, h) => {
        const pixels = {
          width,
          height,
          data: new Uint8Array(width * height * 4).map((_, i) => (i * 31) & 255),
        };
        const region = { name: 'a', x: x % width, y: y % height, width: 1, height: 1 };
        region.width = 1 + ((w - 1) % (width - region.x));
        region.height = 1 + ((h - 1) % (height - region.y));
        checkRegions([region], width, height, 'a');
        const sprite = cutRegion(pixels, region);
        expect(placeRegion(pixels, region, sprite).data).toEqual(pixels.data);
        const changed = placeRegion(pixels, region, { ...sprite, data: sprite.data.map((v) => v ^ 255) });
        for (let i = 0; i < pixels.data.length; i++) {
          const [tx, ty] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
          const isIn =
            tx >= region.x && tx < region.x + region.width && ty >= region.y && ty < region.y + region.height;
          expect(changed.data[i]).toBe(isIn ? pixels.data[i]! ^ 255 : pixels.data[i]);
        }
      }),
    );
  });

  test('a part of another size is refused, and parts outside of the picture', () => {
    const region = { name: 'head', x: 0, y: 0, width: 4, height: 4 };
    expect(() => placeRegion(empty(8, 8), region, empty(4, 5))).toThrow(/head.*4 x 4 texels/);
    for (const wrong of [{ x: 5 }, { y: -1 }, { width: 0 }, { height: NaN }, { x: 1.5 }])
      expect(() => checkRegions([{ ...region, ...wrong }], 8, 8, 'sheet')).toThrow(
        /sheet.*regions\[0\] head/,
      );
  });
});

describe('lists of parts', () => {
  const wanted = [
    { name: 'head', x: 1, y: 2, width: 3, height: 4 },
    { name: 'wing', x: 5, y: 6, width: 7, height: 8 },
  ];
  test.each([
    ['a table', 'name,x,y,width,height\nhead,1,2,3,4\n"wing.png",5,6,7,8\n'],
    ['a table with tabs', '# parts\nx\ty\tw\th\tsprite\r\n1\t2\t3\t4\thead\r\n5\t6\t7\t8\twing'],
    ['an array', JSON.stringify(wanted)],
    [
      'an object of frames',
      JSON.stringify({
        frames: {
          head: { frame: { x: 1, y: 2, w: 3, h: 4 } },
          'wing.png': { frame: { x: 5, y: 6, w: 7, h: 8 } },
        },
        meta: {},
      }),
    ],
    [
      'an array of frames',
      JSON.stringify({
        frames: [
          { filename: 'head.png', frame: { x: 1, y: 2, w: 3, h: 4 } },
          { filename: 'wing', frame: { x: 5, y: 6, w: 7, h: 8 } },
        ],
      }),
    ],
    [
      'an object',
      JSON.stringify({
        head: { x: 1, y: 2, width: 3, height: 4 },
        wing: { x: 5, y: 6, width: 7, height: 8 },
      }),
    ],
    [
      'XML',
      '<?xml version="1.0"?><sheet image="a.png"><part name="head" x="1" y="2" width="3" height="4"/><part height="8" width="7" y="6" x="5" name="wing.png"/></sheet>',
    ],
  ])('%s', (_what, text) => expect(readRegions(text, 'list')).toEqual(wanted));

  test('of parts with one name each gets one of its own', () =>
    expect(readRegions('name,x,y,w,h\na,0,0,1,1\nA,1,0,1,1\na,2,0,1,1', 'x').map(({ name }) => name)).toEqual(
      ['a', 'A_2', 'a_3'],
    ));

  test.each(['', 'nothing here', '{"a": 1}', '[', 'name,x,y\nhead,1,2', '<sheet/>', '[]'])(
    '%j is no list, which is said',
    (text) => expect(() => readRegions(text, 'list.txt')).toThrow(/list\.txt/),
  );

  test('anything else gives parts or a word, never something else', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.json()), (text) => {
        try {
          for (const region of readRegions(text, 'x')) expect(typeof region.name).toBe('string');
        } catch (error) {
          expect((error as Error).name).toBe('FormatError');
        }
      }),
    );
  });
});
