import { rotateLeft } from '../rotate';
import type { Hash } from './hash';
import { striped } from './striped-hash';

const scramble = (k: number): number => Math.imul(rotateLeft(Math.imul(k, 0xcc9e2d51), 15), 0x1b873593);

/** MurmurHash3, x86, 32 bits (Appleby, public domain reference code). */
export const murmur3: Hash = {
  name: 'murmur3',
  about: 'MurmurHash3 x86, 32 bits; seed 0 if nothing is said',
  seeded: true,
  start(_primitives, seed = 0n) {
    let hash = Number(BigInt.asUintN(32, seed)) | 0;
    return striped(
      4,
      (view, at) => {
        hash = (Math.imul(rotateLeft(hash ^ scramble(view.getUint32(at, true)), 13), 5) + 0xe6546b64) | 0;
      },
      (rest, total) => {
        let tail = 0;
        for (let i = rest.length - 1; i >= 0; i--) tail = (tail << 8) | rest[i]!;
        let mixed = (rest.length > 0 ? hash ^ scramble(tail) : hash) ^ total;
        mixed = Math.imul(mixed ^ (mixed >>> 16), 0x85ebca6b);
        mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
        return (mixed ^ (mixed >>> 16)) >>> 0;
      },
    );
  },
};
