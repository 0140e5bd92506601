import type { Hash } from './hash';

/** A hash of 32 bits that takes one byte after the other. */
function byteHash(
  name: string,
  about: string,
  first: number,
  step: (hash: number, byte: number) => number,
  last: (hash: number) => number = (hash) => hash,
): Hash {
  return {
    name,
    about,
    seeded: true,
    start(_primitives, seed) {
      let hash = seed === undefined ? first : Number(BigInt.asUintN(32, seed));
      return {
        update(bytes) {
          for (const byte of bytes) hash = step(hash, byte);
        },
        value: () => last(hash) >>> 0,
      };
    },
  };
}

/** Short hashes of names, each as its author gave it; all keep 32 bits, and the seed is the value they start with. */
export const stringHashes: readonly Hash[] = [
  byteHash(
    'djb2',
    'hash * 33 + byte, start 5381 (Bernstein), 32 bits',
    5381,
    (hash, byte) => (Math.imul(hash, 33) + byte) | 0,
  ),
  byteHash(
    'djb2x',
    'hash * 33 xor byte, start 5381, 32 bits',
    5381,
    (hash, byte) => Math.imul(hash, 33) ^ byte,
  ),
  byteHash(
    'sdbm',
    'hash * 65599 + byte, start 0, 32 bits',
    0,
    (hash, byte) => (Math.imul(hash, 65599) + byte) | 0,
  ),
  byteHash(
    'times31',
    'hash * 31 + byte, start 0, 32 bits',
    0,
    (hash, byte) => (Math.imul(hash, 31) + byte) | 0,
  ),
  byteHash(
    'fnv32',
    'FNV-1, 32 bits (draft-eastlake-fnv)',
    0x811c9dc5,
    (hash, byte) => Math.imul(hash, 0x01000193) ^ byte,
  ),
  byteHash(
    'oneatatime',
    'one-at-a-time (Jenkins, Dr. Dobb’s Journal 1997), 32 bits',
    0,
    (hash, byte) => {
      let next = (hash + byte) | 0;
      next = (next + (next << 10)) | 0;
      return next ^ (next >>> 6);
    },
    (hash) => {
      let next = (hash + (hash << 3)) | 0;
      next ^= next >>> 11;
      return (next + (next << 15)) | 0;
    },
  ),
  byteHash('sum8', 'sum of all bytes, modulo 256', 0, (hash, byte) => (hash + byte) & 0xff),
  byteHash('sum16', 'sum of all bytes, modulo 65536', 0, (hash, byte) => (hash + byte) & 0xffff),
  byteHash('xor8', 'all bytes combined by exclusive or', 0, (hash, byte) => hash ^ byte),
];

/** FNV-1 with 64 bits (draft-eastlake-fnv): multiplied first, in two 32-bit halves. */
export const fnv64: Hash = {
  name: 'fnv64',
  about: 'FNV-1, 64 bits (draft-eastlake-fnv)',
  start() {
    let high = 0xcbf29ce4;
    let low = 0x84222325;
    return {
      update(bytes) {
        for (const byte of bytes) {
          const product = low * 0x1b3;
          const carry = Math.floor(product / 0x1_0000_0000);
          high = (Math.imul(high, 0x1b3) + carry + (low << 8)) >>> 0;
          low = ((product >>> 0) ^ byte) >>> 0;
        }
      },
      value: () => (BigInt(high) << 32n) | BigInt(low),
    };
  },
};
