import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  collect,
  concatRefs,
  firstDifference,
  FormatError,
  fromHex,
  memorySource,
  refOfBytes,
  refOfSpan,
  spelledBytes,
  toHex,
  windowOf,
} from './index';

describe('sources and refs', () => {
  test('bounds are those of the view, not of its buffer', () => {
    const view = new Uint8Array([9, 9, 1, 2, 3, 9]).subarray(2, 5);
    const source = memorySource(view, 'v');
    expect([...source.read(1, 2)]).toEqual([2, 3]);
    expect(() => source.read(2, 2)).toThrow(FormatError);
    expect(() => source.read(-1, 1)).toThrow(FormatError);
    expect(() => source.read(5, 0)).toThrow(FormatError);
  });

  test('the first difference, wherever the pieces are cut', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 60 }),
        fc.nat(60),
        fc.nat(59),
        (bytes, cut, at) => {
          const other = bytes.slice();
          const spot = at % bytes.length;
          other[spot]! ^= 0xff;
          const pieces = (all: Uint8Array) =>
            concatRefs([refOfBytes(all.subarray(0, cut)), refOfBytes(all.subarray(cut))]);
          expect(firstDifference(refOfBytes(bytes), pieces(bytes))).toBeUndefined();
          expect(firstDifference(refOfBytes(bytes), pieces(other))).toBe(spot);
          expect(firstDifference(pieces(bytes), refOfBytes(bytes.subarray(0, spot)))).toBe(spot);
        },
      ),
    );
  });

  test('a span gives its stretch, piece by piece', () => {
    const bytes = new Uint8Array(3_000_000).map((_, i) => i % 251);
    const ref = refOfSpan(memorySource(bytes), 1000, 2_500_000);
    expect([...ref.chunks()].length).toBe(3);
    expect(Buffer.from(collect(ref)).equals(bytes.subarray(1000, 2_501_000))).toBe(true);
  });
});

describe('spellings of a key', () => {
  const wanted = '00112233445566778899aabbccddeeff';
  test.each([
    wanted,
    wanted.toUpperCase(),
    `0x${wanted}`,
    '00 11 22 33 44 55 66 77 88 99 aa bb cc dd ee ff',
    '0x00, 0x11, 0x22, 0x33, 0x44, 0x55, 0x66, 0x77, 0x88, 0x99, 0xaa, 0xbb, 0xcc, 0xdd, 0xee, 0xff',
    '00:11:22:33:44:55:66:77:88:99:aa:bb:cc:dd:ee:ff',
    'ABEiM0RVZneImaq7zN3u/w==',
    `"${wanted}"`,
  ])('%s', (text) => {
    expect(toHex(spelledBytes(text)!)).toBe(wanted);
  });

  test.each(['', 'hello', 'Lanternfen', '0011223', 'no key at all', 'z!'.repeat(16)])(
    '%j is no key',
    (text) => {
      expect(spelledBytes(text)).toBeUndefined();
    },
  );

  test('hex there and back', () => {
    fc.assert(fc.property(fc.uint8Array(), (bytes) => expect(fromHex(toHex(bytes))).toEqual(bytes)));
  });
});

test('an error names file, field, offset, what was expected and found, why, and what to do', () => {
  const error = new FormatError('truncated', {
    fieldPath: 'a.b',
    byteOffset: 7,
    expected: '4 bytes',
    actual: '2',
    remedy: 'Get it anew',
  }).with({ file: 'x.hold', byteOffset: 99 });
  expect(error.message).toBe(
    'x.hold, a.b, byte 7: the file ends too early (expected 4 bytes, found 2). Get it anew.',
  );
});

test('a window of bytes is what there is of it, in pieces of any size, and nothing behind the end', () => {
  fc.assert(
    fc.property(
      fc.array(fc.uint8Array({ maxLength: 9 }), { maxLength: 8 }),
      fc.nat(90),
      fc.nat(90),
      (pieces, from, length) => {
        const whole = Buffer.concat(pieces);
        const ref = { length: whole.length, chunks: () => pieces };
        const wanted = [...whole.subarray(from, from + length)];
        expect([...windowOf(ref, from, length)]).toEqual(wanted);
        expect([
          ...windowOf(refOfSpan(memorySource(new Uint8Array(whole)), 0, whole.length), from, length),
        ]).toEqual(wanted);
      },
    ),
  );
});
