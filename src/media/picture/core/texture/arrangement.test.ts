import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { arranged, INTERLACES, isPlain, type Arrangement } from './arrangement';

const PLAIN: Arrangement = {
  ...{ bits: 8, lowFirst: false, align: 1, rowBytes: undefined },
  ...{ bottomFirst: false, interlace: 'none', planes: undefined },
};

/** Texels of one byte, called by their number in the picture. */
const gathered = (
  how: Partial<Arrangement>,
  width: number,
  height: number,
  stored: readonly number[],
): number[] => [...arranged({ ...PLAIN, ...how }, width, height).gather(Uint8Array.from(stored))];

describe('how rows lie', () => {
  test('the lowest row first, and filled up', () => {
    expect(gathered({ bottomFirst: true, align: 4 }, 3, 2, [4, 5, 6, 99, 1, 2, 3, 99])).toEqual([
      1, 2, 3, 4, 5, 6,
    ]);
    expect(arranged({ ...PLAIN, rowBytes: 9 }, 3, 2).length).toBe(18);
  });

  test('interlaced in halves and in passes', () => {
    expect(gathered({ interlace: 'halves' }, 1, 5, [0, 2, 4, 1, 3])).toEqual([0, 1, 2, 3, 4]);
    const passes = [0, 8, 4, 2, 6, 1, 3, 5, 7, 9];
    expect(gathered({ interlace: 'passes' }, 1, 10, passes)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(gathered({ interlace: 'passes' }, 1, 1, [7])).toEqual([7]);
  });

  test('several texels in a byte, from either end', () => {
    expect(gathered({ bits: 4 }, 3, 1, [0x12, 0x3f])).toEqual([1, 2, 3]);
    expect(gathered({ bits: 4, lowFirst: true }, 3, 1, [0x21, 0xf3])).toEqual([1, 2, 3]);
    expect(gathered({ bits: 2 }, 5, 1, [0b00011011, 0b10_000000])).toEqual([0, 1, 2, 3, 2]);
    expect(gathered({ bits: 1, lowFirst: true }, 9, 1, [0b0000_0101, 1])).toEqual([
      1, 0, 1, 0, 0, 0, 0, 0, 1,
    ]);
  });

  test('planes of bits, of bytes and of columns', () => {
    const bits = { of: 'bits', count: 2 } as const;
    expect(gathered({ planes: { ...bits, by: 'row' } }, 2, 2, [0b10 << 6, 0b11 << 6, 0b01 << 6, 0])).toEqual([
      3, 2, 0, 1,
    ]);
    expect(
      gathered({ planes: { ...bits, by: 'picture' } }, 2, 2, [0b10 << 6, 0b01 << 6, 0b11 << 6, 0]),
    ).toEqual([3, 2, 0, 1]);
    const channels = { of: 'channels', count: 3, by: 'picture' } as const;
    expect(gathered({ bits: 24, planes: channels }, 2, 1, [1, 2, 3, 4, 5, 6])).toEqual([1, 3, 5, 2, 4, 6]);
    const columns = { of: 'columns', count: 4, by: 'picture' } as const;
    expect(gathered({ planes: columns }, 5, 1, [0, 4, 1, 2, 3])).toEqual([0, 1, 2, 3, 4]);
  });

  test('rows that are too short for their texels', () => {
    expect(() => arranged({ ...PLAIN, rowBytes: 2 }, 3, 1)).toThrow(/at least 3 bytes a row/);
  });

  test('whatever lies somehow comes back, and what lies between stays', () => {
    const how = fc
      .record({
        bits: fc.constantFrom(1, 2, 4, 8, 16, 24, 32),
        lowFirst: fc.boolean(),
        align: fc.constantFrom(1, 2, 4, 16),
        bottomFirst: fc.boolean(),
        interlace: fc.constantFrom(...INTERLACES),
        of: fc.constantFrom('none', 'bits', 'channels', 'columns'),
        count: fc.integer({ min: 1, max: 8 }),
        by: fc.constantFrom<'row' | 'picture'>('row', 'picture'),
      })
      .map(({ of, count, by, ...rest }): Arrangement => {
        const base = { ...rest, rowBytes: undefined };
        if (of === 'bits') return { ...base, bits: 8, planes: { of, count, by } };
        if (of === 'channels' && rest.bits >= 8) return { ...base, planes: { of, count: rest.bits / 8, by } };
        if (of === 'columns' && rest.bits >= 8) return { ...base, planes: { of, count, by } };
        return { ...base, planes: undefined };
      });
    const size = fc.integer({ min: 1, max: 20 });
    fc.assert(
      fc.property(how, size, size, fc.integer(), (arrangement, width, height, seed) => {
        const image = arranged(arrangement, width, height);
        const random = (length: number, from: number): Uint8Array =>
          Uint8Array.from({ length }, (_, i) => Math.imul(from + i, 2654435761) >>> 24);
        const stored = random(image.length, seed);
        const texels = image.gather(stored);
        expect(texels).toHaveLength(width * height * Math.max(1, arrangement.bits >> 3));
        // The same texels put back change nothing, whatever lies between them.
        expect(image.scatter(texels, stored)).toEqual(stored);
        const mask =
          arrangement.planes?.of === 'bits'
            ? (1 << arrangement.planes.count) - 1
            : (1 << Math.min(8, arrangement.bits)) - 1;
        const others = random(texels.length, seed + 7).map((value) => value & mask);
        expect(image.gather(image.scatter(others, stored))).toEqual(others);
        if (isPlain(arrangement)) expect(texels).toEqual(stored);
      }),
    );
  });
});
