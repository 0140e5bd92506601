import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { BytesRef } from '../bytes';
import { alignBytes } from './align';
import { compareBytes } from './differences';

/** Bytes in pieces of some length, all in one buffer that is used again, as files are read. */
function inPieces(bytes: Uint8Array, piece: number): BytesRef {
  return {
    length: bytes.length,
    *chunks() {
      const buffer = new Uint8Array(piece);
      for (let at = 0; at < bytes.length; at += piece) {
        const part = bytes.subarray(at, at + piece);
        buffer.fill(0xee);
        buffer.set(part);
        yield buffer.subarray(0, part.length);
      }
    },
  };
}

describe('two things side by side', () => {
  test('differences are stretches at the same offsets', () => {
    const a = Uint8Array.from({ length: 40 }, (_, i) => i);
    const b = a.slice();
    b[3]! ^= 1;
    b[20]! ^= 1;
    b[21]! ^= 1;
    expect(compareBytes(inPieces(a, 7), inPieces(b, 5))).toEqual({
      isSame: false,
      sameStart: 3,
      differing: 3,
      hasMore: false,
      differences: [
        { offset: 3, length: 1 },
        { offset: 20, length: 2 },
      ],
    });
  });

  test('what is longer differs to its end', () => {
    const a = Uint8Array.of(1, 2, 3);
    expect(compareBytes(inPieces(a, 2), inPieces(a.subarray(0, 1), 1))).toMatchObject({
      isSame: false,
      sameStart: 1,
      differences: [{ offset: 1, length: 2 }],
    });
    expect(compareBytes(inPieces(new Uint8Array(0), 1), inPieces(a, 1)).differing).toBe(3);
  });

  test('as a plain comparison says, however they come in pieces', () => {
    const bytes = fc.uint8Array({ maxLength: 200, max: 2 });
    const piece = fc.integer({ min: 1, max: 60 });
    fc.assert(
      fc.property(bytes, bytes, piece, piece, (a, b, pieceA, pieceB) => {
        const found = compareBytes(inPieces(a, pieceA), inPieces(b, pieceB));
        const wrong = Array.from({ length: Math.max(a.length, b.length) }, (_, i) => i).filter(
          (i) => a[i] !== b[i],
        );
        expect(found.differing).toBe(wrong.length);
        expect(found.isSame).toBe(wrong.length === 0);
        expect(found.sameStart).toBe(wrong[0] ?? a.length);
        for (const at of wrong)
          expect(found.differences.some(({ offset, length }) => at >= offset && at < offset + length)).toBe(
            true,
          );
      }),
    );
  });
});

describe('two things aligned', () => {
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
  const align = (a: string, b: string) => alignBytes(bytes(a), bytes(b), 100).differences;

  test('what was put in or taken out moves nothing behind it', () => {
    const text = 'The ferry leaves the jetty at dusk, and nobody waits for the widow.';
    const more = text.replace('at dusk', 'at dusk and at dawn');
    expect(align(text, more)).toEqual([
      { offset: text.indexOf(', and'), length: 0, other: { offset: text.indexOf(', and'), length: 12 } },
    ]);
    expect(align(more, text)).toEqual([
      { offset: text.indexOf(', and'), length: 12, other: { offset: text.indexOf(', and'), length: 0 } },
    ]);
  });

  test('a byte changed in place is one byte, also among zeros', () => {
    const a = new Uint8Array(400);
    const b = a.slice();
    b[100] = 7;
    b[300] = 9;
    expect(alignBytes(a, b, 10).differences).toEqual([
      { offset: 100, length: 1, other: { offset: 100, length: 1 } },
      { offset: 300, length: 1, other: { offset: 300, length: 1 } },
    ]);
    expect(alignBytes(a, b, 1)).toMatchObject({ hasMore: true, differences: [{ offset: 100 }] });
  });

  test('long runs of one value are gone through in time', () => {
    const a = new Uint8Array(1 << 20);
    const b = new Uint8Array(1 << 20);
    for (let at = 0; at < b.length; at += 3001) b[at] = 1 + (at % 7);
    const { differences } = alignBytes(a, b, 2000);
    expect(differences).toHaveLength(Math.ceil(b.length / 3001));
    expect(differences.every(({ length, other }) => length === 1 && other!.length === 1)).toBe(true);
  });

  test('differences put into the first one give the second', () => {
    const piece = fc.uint8Array({ maxLength: 30, max: 3 });
    const both = fc.array(fc.tuple(piece, piece, piece), { maxLength: 8 });
    fc.assert(
      fc.property(both, (parts) => {
        const join = (of: (part: readonly [Uint8Array, Uint8Array, Uint8Array]) => readonly Uint8Array[]) =>
          Uint8Array.from(parts.flatMap((part) => of(part).flatMap((one) => [...one])));
        const a = join(([x, y]) => [x, y]);
        const b = join(([x, , z]) => [x, z]);
        const { differences } = alignBytes(a, b, 1000);
        const out: number[] = [];
        let at = 0;
        for (const { offset, length, other } of differences) {
          out.push(...a.subarray(at, offset), ...b.subarray(other!.offset, other!.offset + other!.length));
          at = offset + length;
        }
        out.push(...a.subarray(at));
        expect(out).toEqual([...b]);
      }),
    );
  });
});
