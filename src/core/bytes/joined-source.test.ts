import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError, joinedSource, memorySource, type Stretched } from './index';

const stretches = fc.array(
  fc.record({
    before: fc.uint8Array({ maxLength: 5 }),
    bytes: fc.uint8Array({ maxLength: 9 }),
    behind: fc.uint8Array({ maxLength: 5 }),
  }),
  { maxLength: 8 },
);

const partOf = (of: { before: Uint8Array; bytes: Uint8Array; behind: Uint8Array }): Stretched => ({
  source: memorySource(new Uint8Array(Buffer.concat([of.before, of.bytes, of.behind]))),
  offset: of.before.length,
  length: of.bytes.length,
});

test('every range reads as it does from the bytes put together', () => {
  fc.assert(
    fc.property(stretches, (parts) => {
      const whole = Buffer.concat(parts.map(({ bytes }) => bytes));
      const source = joinedSource(parts.map(partOf), 'joined');
      expect(source.length).toBe(whole.length);
      for (let from = 0; from <= whole.length; from++)
        for (let length = 0; from + length <= whole.length; length++)
          expect(Buffer.from(source.read(from, length)).equals(whole.subarray(from, from + length))).toBe(
            true,
          );
    }),
    { numRuns: 100 },
  );
});

test('a range outside is refused', () => {
  const source = joinedSource([{ source: memorySource(new Uint8Array(4)), offset: 1, length: 2 }], 'joined');
  for (const [from, length] of [
    [0, 3],
    [2, 1],
    [-1, 1],
  ] as const)
    expect(() => source.read(from, length)).toThrow(FormatError);
});
