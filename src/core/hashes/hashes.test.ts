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
    ['crc64', '123456789', '995dc9bbdf1939fa'],
    ['crc32', '', '0'],
    ['adler32', 'abc', '24d0127'],
    ['adler32', '', '1'],
    ['fnv1a32', '', '811c9dc5'],
    ['fnv1a32', 'a', 'e40c292c'],
    ['fnv1a64', '', 'cbf29ce484222325'],
    ['fnv1a64', 'a', 'af63dc4c8601ec8c'],
    ['sum32', 'abc', (97 + 98 + 99).toString(16)],
    // Check values of the catalogue of parametrised CRC algorithms.
    ['crc32c', '123456789', 'e3069283'],
    ['crc32raw', '123456789', '340bc6d9'],
    ['crc32b', '123456789', 'fc891918'],
    ['crc32mpeg2', '123456789', '376e6e7'],
    ['crc16', '123456789', 'bb3d'],
    ['crc16ccitt', '123456789', '29b1'],
    // By hand: 3132 + 3334 + 35 (with a zero behind or in front).
    ['sum16be', '12345', (0x3132 + 0x3334 + 0x3500).toString(16)],
    ['sum16le', '12345', (0x3231 + 0x3433 + 0x35).toString(16)],
    ['sum32be', '12345', ((0x31323334 + 0x35000000) % 2 ** 32).toString(16)],
    ['sum32le', '12345', (0x34333231 + 0x35).toString(16)],
    ['xor16be', '12345', (0x3132 ^ 0x3334 ^ 0x3500).toString(16)],
    ['xor16le', '12345', (0x3231 ^ 0x3433 ^ 0x35).toString(16)],
    ['xor32be', '12345', (0x31323334 ^ 0x35000000).toString(16)],
    ['xor32le', '12345', (0x34333231 ^ 0x35).toString(16)],
    // Published examples of Fletcher-16.
    ['fletcher16', 'abcde', 'c8f0'],
    ['fletcher16', 'abcdef', '2057'],
    // Test vectors of the FNV draft.
    ['fnv32', 'a', '50c5d7e'],
    ['fnv64', 'a', 'af63bd4c8601b7be'],
    ['fnv32', 'b', '50c5d7d'],
    ['fnv64', 'b', 'af63bd4c8601b7bd'],
    ['djb2', 'a', (5381 * 33 + 97).toString(16)],
    ['djb2x', 'a', ((5381 * 33) ^ 97).toString(16)],
    ['sdbm', 'ab', (97 * 65599 + 98).toString(16)],
    ['times31', 'ab', (97 * 31 + 98).toString(16)],
    ['oneatatime', 'a', 'ca2e9442'],
    ['oneatatime', 'The quick brown fox jumps over the lazy dog', '519e91f5'],
    ['murmur3', '', '0'],
    ['murmur3', 'test', 'ba6bd213'],
    ['murmur3', 'Hello, world!', 'c0363e43'],
    ['murmur3', 'The quick brown fox jumps over the lazy dog', '2e4ff723'],
    ['xxh32', '', '2cc5d05'],
    ['xxh32', 'abc', '32d153ff'],
    ['xxh32', 'Nobody inspects the spammish repetition', 'e2293b2f'],
    ['xxh64', '', 'ef46db3751d8e999'],
    ['xxh64', 'abc', '44bc2cf5ad770999'],
    ['xxh64', 'Nobody inspects the spammish repetition', 'fbcea83c8a378bf1'],
    ['md5', 'abc', '900150983cd24fb0d6963f7d28e17f72'],
    ['sha1', 'abc', 'a9993e364706816aba3e25717850c26c9cd0d89d'],
    ['sum8', 'abc', ((97 + 98 + 99) & 255).toString(16)],
    ['sum16', 'abc', (97 + 98 + 99).toString(16)],
    ['xor8', 'abc', (97 ^ 98 ^ 99).toString(16)],
    ['sha256', 'abc', 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad'],
  ])('%s of "%s"', (name, text, expected) => {
    expect(hash(name, text)).toBe(expected);
  });

  test.each([
    ['murmur3', 'test', 0x9747b28cn, '704b81dc'],
    ['xxh32', '', 0x9e3779b1n, '36b78ae7'],
  ])('%s of "%s" with a seed', (name, text, seed, expected) => {
    const value = hashOf(hashes.get(name)!, refOfBytes(bytesOf(text)), nodePrimitives, seed);
    expect(BigInt(value as number).toString(16)).toBe(expected);
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
