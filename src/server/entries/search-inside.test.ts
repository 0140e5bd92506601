import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { BytesRef } from '@/core/bytes';
import { hitsIn } from './search-inside';

const inPieces = (bytes: Buffer, piece: number): BytesRef => ({
  length: bytes.length,
  *chunks() {
    const buffer = new Uint8Array(piece);
    for (let at = 0; at < bytes.length; at += piece) {
      const part = bytes.subarray(at, at + piece);
      buffer.set(part);
      yield buffer.subarray(0, part.length);
    }
  },
});
const needle = (text: string, encoding: BufferEncoding = 'utf8') => ({
  bytes: Buffer.from(text, encoding),
  encoding: encoding as string,
});
const offsets = (bytes: Buffer, piece: number, ...texts: string[]): number[] =>
  [
    ...hitsIn(
      inPieces(bytes, piece),
      texts.map((text) => needle(text)),
    ),
  ].map(({ byteOffset }) => byteOffset);

describe('a search through pieces', () => {
  test('finds each place once, however the pieces are cut', () => {
    const text = fc.string({ unit: fc.constantFrom('a', 'b'), minLength: 1, maxLength: 4 });
    const body = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 18 });
    fc.assert(
      fc.property(body, text, fc.integer({ min: 1, max: 9 }), (whole, wanted, piece) => {
        const plain: number[] = [];
        for (let at = whole.indexOf(wanted); at >= 0; at = whole.indexOf(wanted, at + 1)) plain.push(at);
        expect(offsets(Buffer.from(whole), piece, wanted)).toEqual(plain);
      }),
    );
  });

  test('shows what is around it, in its encoding', () => {
    const bytes = Buffer.from('Mind the third plank', 'utf16le');
    const [hit] = [...hitsIn(inPieces(bytes, 1000), [needle('third', 'utf16le')])];
    expect(hit).toEqual({ byteOffset: 18, around: 'Mind the third plank', encoding: 'utf16le' });
  });

  test('stops after a few of one entry', () =>
    expect(offsets(Buffer.alloc(1000, 'a'), 100, 'a').length).toBe(20));
});
