import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nodePrimitives } from '@/platform/node/primitives';
import { refOfBytes, toHex } from '../bytes';
import { hashes, hashOf } from './index';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const hash = (name: string, text: string): unknown => {
  const value = hashOf(hashes.get(name)!, refOfBytes(bytesOf(text)), nodePrimitives);
  return value instanceof Uint8Array ? toHex(value) : BigInt(value).toString(16);
};

/** Values published with each algorithm. */
describe('hashes', () => {
  test.each([
    ['crc32', '123456789', 'cbf43926'],
    ['crc32', '', '0'],
    ['adler32', 'abc', '24d0127'],
    ['adler32', '', '1'],
    ['fnv1a32', '', '811c9dc5'],
    ['fnv1a32', 'a', 'e40c292c'],
    ['fnv1a64', '', 'cbf29ce484222325'],
    ['fnv1a64', 'a', 'af63dc4c8601ec8c'],
    ['sum32', 'abc', (97 + 98 + 99).toString(16)],
    ['sha256', 'abc', 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad'],
  ])('%s of "%s"', (name, text, expected) => {
    expect(hash(name, text)).toBe(expected);
  });

  test('pieces give the hash of the whole', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 300 }),
        fc.nat(300),
        fc.constantFrom(...hashes.names()),
        (bytes, cut, name) => {
          const whole = hashes.get(name)!.start(nodePrimitives);
          whole.update(bytes);
          const pieces = hashes.get(name)!.start(nodePrimitives);
          pieces.update(bytes.subarray(0, cut));
          pieces.update(bytes.subarray(cut));
          expect(pieces.value()).toEqual(whole.value());
        },
      ),
    );
  });

  test('the sum of Adler-32 does not overflow over many high bytes', () => {
    const state = hashes.get('adler32')!.start(nodePrimitives);
    state.update(new Uint8Array(100_000).fill(255));
    let a = 1n;
    let b = 0n;
    for (let i = 0; i < 100_000; i++) {
      a = (a + 255n) % 65521n;
      b = (b + a) % 65521n;
    }
    expect(state.value()).toBe(Number((b << 16n) | a));
  });
});
