import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nodePrimitives } from '@/platform/node/primitives';
import type { Settings } from '../settings';
import { codecs } from './index';

const gaps = codecs.get('gaps')!;

function settingsOf(given: Record<string, number | string>): Settings {
  const all = new Map<string, number | string | Uint8Array>();
  for (const [word, type] of Object.entries(gaps.settings!))
    if (type.default !== undefined) all.set(word, type.default);
  for (const [word, value] of Object.entries(given)) all.set(word, value);
  return all;
}
const decode = (stored: readonly number[], given: Record<string, number | string>): number[] => [
  ...gaps.decode(Uint8Array.from(stored), 1 << 20, nodePrimitives, settingsOf(given)),
];
const encode = (plain: Uint8Array, given: Record<string, number | string>): Uint8Array =>
  gaps.encode(plain, nodePrimitives, settingsOf(given));

/** Texels as they come out: `.` is a gap. */
const texels = (...rows: string[]): number[] =>
  [...rows.join('')].flatMap((one) => (one === '.' ? [0, 0] : [one.charCodeAt(0), 255]));
const codes = (text: string): number[] => [...text].map((one) => one.charCodeAt(0));

describe('runs with gaps', () => {
  test('rows that are full when they are full', () => {
    const stored = [1, 2, ...codes('ab'), 1, 0, 0, 4, ...codes('cdef')];
    expect(decode(stored, { width: 4, height: 2 })).toEqual(texels('.ab.', 'cdef'));
    expect([...encode(Uint8Array.from(texels('.ab.', 'cdef')), { width: 4, height: 2 })]).toEqual(stored);
  });

  test('columns by a table of places, with skips from the top, pads, and a byte that ends each', () => {
    const how = {
      ...{ width: 3, height: 3, by: 'columns', table: 'u32', from: 8 },
      ...{ skip: 'absolute', end: 255, pad: 1 },
    };
    const column = (top: number, bytes: string): number[] => [
      ...[top, bytes.length, bytes.charCodeAt(0), ...codes(bytes), bytes.charCodeAt(bytes.length - 1)],
    ];
    const stored = [
      ...[20, 0, 0, 0, 31, 0, 0, 0, 32, 0, 0, 0],
      ...[...column(0, 'a'), ...column(2, 'b'), 255],
      255,
      ...[...column(0, 'cde'), 255],
    ];
    expect(decode(stored, how)).toEqual(texels('a.c', '..d', 'b.e'));
    expect([...encode(Uint8Array.from(texels('a.c', '..d', 'b.e')), how)]).toEqual(stored);
  });

  const shapes = fc.record({
    by: fc.constantFrom('rows', 'columns'),
    table: fc.constantFrom('none', 'u16', 'u32'),
    order: fc.constantFrom('little', 'big'),
    from: fc.nat(200),
    skip: fc.constantFrom('relative', 'absolute'),
    end: fc.constantFrom(-1, 255),
    pad: fc.nat(2),
  });

  test('whatever is written comes back, in every shape', () => {
    const picture = fc
      .tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40 }))
      .chain(([width, height]) =>
        fc.record({
          ...{ width: fc.constant(width), height: fc.constant(height) },
          there: fc.array(fc.option(fc.nat(255), { nil: -1 }), {
            minLength: width * height,
            maxLength: width * height,
          }),
        }),
      );
    fc.assert(
      fc.property(shapes, picture, (shape, { width, height, there }) => {
        const how = { ...shape, width, height };
        const plain = Uint8Array.from(there.flatMap((one) => (one < 0 ? [0, 0] : [one, 255])));
        expect(decode([...encode(plain, how)], how)).toEqual([...plain]);
      }),
    );
  });

  test('a line of a thousand texels: gaps and runs longer than a byte can count', () => {
    const line = [
      ...Array<number>(600).fill(-1),
      ...Array<number>(300).fill(7),
      ...Array<number>(100).fill(-1),
    ];
    const plain = Uint8Array.from(line.flatMap((one) => (one < 0 ? [0, 0] : [one, 255])));
    for (const end of [-1, 255]) {
      const how = { width: 1000, height: 1, end };
      expect(decode([...encode(plain, how)], how)).toEqual([...plain]);
    }
    expect(() => encode(plain, { width: 1000, height: 1, skip: 'absolute' })).toThrow(
      /600 texels into line 0/,
    );
  });

  test('hostile bytes: tables that point outside, lines that stand still or run over', () => {
    const how = { width: 4, height: 1 };
    expect(() => decode([0, 0, 0, 0], how)).toThrow(/stands still/);
    expect(() => decode([2, 3, 1, 2, 3], how)).toThrow(/longer than 4/);
    expect(() => decode([0, 4, 1, 2], how)).toThrow(/ends too early/);
    expect(() => decode([1, 0], { ...how, table: 'u16', from: 9 })).toThrow(/before the bytes/);
    expect(() => decode([200, 0], { ...how, table: 'u16' })).toThrow(/ends too early/);
    expect(() => decode([1], { ...how, table: 'u16' })).toThrow(/cut short/);
    expect(() => gaps.check!(settingsOf({ width: 1 << 20, height: 1 << 20 }))).toThrow(/67108864 texels/);
    fc.assert(
      fc.property(shapes, fc.uint8Array({ maxLength: 200 }), (shape, bytes) => {
        try {
          expect(decode([...bytes], { ...shape, width: 9, height: 7 })).toHaveLength(126);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
    );
  });
});

describe('runs by rows', () => {
  const row = Uint8Array.from([5, 5, 5, 5, 5, 5, 5, 9, 200]);
  const plain = (name: string, bytes: Uint8Array, given: Record<string, number | string>): Uint8Array => {
    const codec = codecs.get(name)!;
    const settings = new Map<string, number | string | Uint8Array>();
    for (const [word, type] of Object.entries(codec.settings!)) settings.set(word, type.default!);
    for (const [word, value] of Object.entries(given)) settings.set(word, value);
    return codec.encode(bytes, nodePrimitives, settings);
  };

  test('known answers', () => {
    expect([...plain('pcx', row, {})]).toEqual([0xc7, 5, 9, 0xc1, 200]);
    expect([...plain('pairs', row, {})]).toEqual([7, 5, 1, 9, 1, 200]);
    expect([...plain('pairs', row, { order: 'byte', bias: 1 })]).toEqual([5, 6, 9, 0, 200, 0]);
    expect([...plain('packbits', row, {})]).toEqual([250, 5, 1, 9, 200]);
  });

  test('no run reaches beyond its row', () => {
    expect([...plain('pcx', row, { row: 3 })]).toEqual([0xc3, 5, 0xc3, 5, 5, 9, 0xc1, 200]);
    expect([...plain('packbits', row, { row: 3 })]).toEqual([254, 5, 254, 5, 2, 5, 9, 200]);
    expect([...plain('pairs', row, { row: 4 })]).toEqual([4, 5, 3, 5, 1, 9, 1, 200]);
  });
});
