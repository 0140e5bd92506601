import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { shareOut } from './share-out';

const pieces = fc.array(fc.integer({ min: 0, max: 5000 }), { minLength: 1, maxLength: 20 });

test('content of the same length is cut as it was', () => {
  fc.assert(
    fc.property(pieces, fc.integer({ min: 1, max: 64 }), (lengths, unit) => {
      const total = lengths.reduce((sum, length) => sum + length, 0);
      let end = 0;
      expect(shareOut(lengths, total, unit)).toEqual(lengths.map((length) => (end += length)));
    }),
  );
});

test('ends rise to the length, all but the last in whole units', () => {
  fc.assert(
    fc.property(
      pieces,
      fc.integer({ min: 0, max: 50_000 }),
      fc.integer({ min: 1, max: 64 }),
      (lengths, length, unit) => {
        fc.pre(lengths.reduce((sum, one) => sum + one, 0) !== length);
        const ends = shareOut(lengths, length, unit);
        expect(ends).toHaveLength(lengths.length);
        expect(ends.at(-1)).toBe(length);
        let before = 0;
        for (const [i, end] of ends.entries()) {
          expect(end).toBeGreaterThanOrEqual(before);
          expect(end).toBeLessThanOrEqual(length);
          if (i < ends.length - 1 && end < length) expect(end % unit).toBe(0);
          before = end;
        }
      },
    ),
  );
});

test('pieces that were empty leave it all to the last', () => {
  expect(shareOut([0, 0], 7, 4)).toEqual([0, 7]);
});
