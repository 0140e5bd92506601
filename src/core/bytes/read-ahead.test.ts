import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ReadAhead } from '.';

test('who goes on is given more and more, who jumps about less and less', () => {
  const ahead = new ReadAhead(16, 256);
  const jumps = [10_000, 20_000, 30_000, 40_000].map((from) => ahead.from(from, 4, 1_000_000));
  expect(jumps).toEqual([64, 16, 16, 16]);
  const on: number[] = [];
  for (let at = 40_016; on.length < 6; at += on.at(-1)!) on.push(ahead.from(at, 4, 1_000_000));
  expect(on).toEqual([32, 64, 128, 256, 256, 256]);
});

test('never less than is wanted, and never beyond the end', () => {
  const ahead = new ReadAhead(16, 256);
  fc.assert(
    fc.property(fc.nat(5000), fc.nat(600), (from, wanted) => {
      const length = 6000;
      const size = ahead.from(from, wanted, length);
      expect(size).toBeGreaterThanOrEqual(wanted);
      expect(from + size).toBeLessThanOrEqual(length);
    }),
  );
});
