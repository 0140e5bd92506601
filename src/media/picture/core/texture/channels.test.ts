import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { CHANNEL_NAMES, channelOf, withChannel, type Pixels } from './index';

const arbitrary = fc
  .uint8Array({ minLength: 24, maxLength: 24 })
  .map((data): Pixels => ({ width: 3, height: 2, data }));

test('a picture that is taken apart and put together again is what it was, inverted maps too', () => {
  fc.assert(
    fc.property(arbitrary, fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }), (pixels, inverted) => {
      let whole: Pixels = { ...pixels, data: new Uint8Array(24) };
      CHANNEL_NAMES.forEach((name, c) => {
        whole = withChannel(whole, name, channelOf(pixels, name, inverted[c]!), inverted[c]!);
      });
      expect(whole).toEqual(pixels);
    }),
  );
});

test('only the channel that is meant changes', () => {
  const pixels: Pixels = { width: 1, height: 1, data: new Uint8Array([1, 2, 3, 4]) };
  const grey: Pixels = { width: 1, height: 1, data: new Uint8Array([200, 9, 9, 9]) };
  expect([...withChannel(pixels, 'blue', grey, false).data]).toEqual([1, 2, 200, 4]);
  expect([...withChannel(pixels, 'alpha', grey, true).data]).toEqual([1, 2, 3, 55]);
  expect([...pixels.data]).toEqual([1, 2, 3, 4]);
});

test('a map of another size is refused in words', () => {
  const pixels: Pixels = { width: 2, height: 1, data: new Uint8Array(8) };
  expect(() => withChannel(pixels, 'red', { width: 1, height: 2, data: new Uint8Array(8) }, false)).toThrow(
    /2 x 1 texels.*1 x 2/,
  );
});
