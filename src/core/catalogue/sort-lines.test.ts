import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { orderOf } from './radix';
import { sortedRows } from './sort-lines';

const FOLDED = Uint8Array.from({ length: 256 }, (_, byte) => (byte >= 65 && byte <= 90 ? byte + 32 : byte));

function pieces(texts: readonly string[]) {
  const lines = new Uint8Array(Buffer.from(texts.join('')));
  const starts = new Uint32Array(texts.length);
  const ends = new Uint32Array(texts.length);
  let at = 0;
  texts.forEach((text, i) => {
    starts[i] = at;
    at += Buffer.byteLength(text);
    ends[i] = at;
  });
  return { lines, starts, ends };
}

describe('rows in order', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', 'B', '/', 'é', '0'), maxLength: 14 });

  test('by their bytes, equal ones as they stood', () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 200 }), (texts) => {
        const plain = texts
          .map((one, i) => [one, i] as const)
          .sort(([a, i], [b, j]) => Buffer.compare(Buffer.from(a), Buffer.from(b)) || i - j)
          .map(([, i]) => i);
        expect([...sortedRows(pieces(texts))]).toEqual(plain);
      }),
      { numRuns: 200 },
    );
  });

  test('with both cases as one', () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 200 }), (texts) => {
        const key = (one: string): Buffer => Buffer.from(one.replace(/B/g, 'b'));
        const plain = texts
          .map((one, i) => [one, i] as const)
          .sort(([a, i], [b, j]) => Buffer.compare(key(a), key(b)) || i - j)
          .map(([, i]) => i);
        expect([...sortedRows(pieces(texts), FOLDED)]).toEqual(plain);
      }),
    );
  });

  test('by numbers of any size, those that are none first', () => {
    const key = fc.oneof(
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 0, max: Number.MAX_SAFE_INTEGER - 1 }),
      fc.constant(Number.NaN),
    );
    fc.assert(
      fc.property(fc.array(key, { maxLength: 300 }), (keys) => {
        const value = (one: number): number => (Number.isNaN(one) ? -1 : one);
        const plain = keys
          .map((one, i) => [value(one), i] as const)
          .sort(([a, i], [b, j]) => a - b || i - j)
          .map(([, i]) => i);
        expect([...orderOf(Float64Array.from(keys))]).toEqual(plain);
      }),
    );
  });
});
