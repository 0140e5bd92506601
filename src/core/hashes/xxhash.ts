import { rotateLeft } from '../rotate';
import type { Hash } from './hash';
import { striped } from './striped-hash';

/** xxHash fast digest algorithm, specification 0.1.1 (Collet). */
const P32 = [0x9e3779b1, 0x85ebca77, 0xc2b2ae3d, 0x27d4eb2f, 0x165667b1] as const;
const P64 = [
  0x9e3779b185ebca87n,
  0xc2b2ae3d27d4eb4fn,
  0x165667b19e3779f9n,
  0x85ebca77c2b2ae63n,
  0x27d4eb2f165667c5n,
] as const;

const round32 = (lane: number, input: number): number =>
  Math.imul(rotateLeft((lane + Math.imul(input, P32[1])) | 0, 13), P32[0]);

export const xxh32: Hash = {
  name: 'xxh32',
  about: 'xxHash, 32 bits; seed 0 if nothing is said',
  seeded: true,
  start(_primitives, seed = 0n) {
    const start = Number(BigInt.asUintN(32, seed)) | 0;
    const lanes = [start + P32[0] + P32[1], start + P32[1], start, start - P32[0]].map((lane) => lane | 0);
    return striped(
      16,
      (view, at) => {
        for (let i = 0; i < 4; i++) lanes[i] = round32(lanes[i]!, view.getUint32(at + 4 * i, true));
      },
      (rest, total) => {
        let hash =
          total >= 16
            ? rotateLeft(lanes[0]!, 1) +
              rotateLeft(lanes[1]!, 7) +
              rotateLeft(lanes[2]!, 12) +
              rotateLeft(lanes[3]!, 18)
            : start + P32[4];
        hash = (hash + total) | 0;
        const view = new DataView(rest.buffer, rest.byteOffset, rest.length);
        let at = 0;
        for (; at + 4 <= rest.length; at += 4)
          hash = Math.imul(rotateLeft((hash + Math.imul(view.getUint32(at, true), P32[2])) | 0, 17), P32[3]);
        for (; at < rest.length; at++)
          hash = Math.imul(rotateLeft((hash + Math.imul(rest[at]!, P32[4])) | 0, 11), P32[0]);
        hash = Math.imul(hash ^ (hash >>> 15), P32[1]);
        hash = Math.imul(hash ^ (hash >>> 13), P32[2]);
        return (hash ^ (hash >>> 16)) >>> 0;
      },
    );
  },
};

const wrap = (value: bigint): bigint => BigInt.asUintN(64, value);
const rotate64 = (value: bigint, by: bigint): bigint => wrap((value << by) | (value >> (64n - by)));
const round64 = (lane: bigint, input: bigint): bigint =>
  wrap(rotate64(wrap(lane + wrap(input * P64[1])), 31n) * P64[0]);
const merge = (hash: bigint, lane: bigint): bigint => wrap((hash ^ round64(0n, lane)) * P64[0] + P64[3]);

/** In bigints: right, and slow beside a kernel; names and small tables are what it is used for. */
export const xxh64: Hash = {
  name: 'xxh64',
  about: 'xxHash, 64 bits; seed 0 if nothing is said',
  seeded: true,
  start(_primitives, seed = 0n) {
    const start = wrap(seed);
    const lanes = [start + P64[0] + P64[1], start + P64[1], start, start - P64[0]].map(wrap);
    return striped(
      32,
      (view, at) => {
        for (let i = 0; i < 4; i++) lanes[i] = round64(lanes[i]!, view.getBigUint64(at + 8 * i, true));
      },
      (rest, total) => {
        let hash = wrap(start + P64[4]);
        if (total >= 32) {
          const [a, b, c, d] = lanes as [bigint, bigint, bigint, bigint];
          hash = wrap(rotate64(a, 1n) + rotate64(b, 7n) + rotate64(c, 12n) + rotate64(d, 18n));
          for (const lane of lanes) hash = merge(hash, lane);
        }
        hash = wrap(hash + BigInt(total));
        const view = new DataView(rest.buffer, rest.byteOffset, rest.length);
        let at = 0;
        for (; at + 8 <= rest.length; at += 8)
          hash = wrap(rotate64(hash ^ round64(0n, view.getBigUint64(at, true)), 27n) * P64[0] + P64[3]);
        if (at + 4 <= rest.length) {
          hash = wrap(
            rotate64(hash ^ wrap(BigInt(view.getUint32(at, true)) * P64[0]), 23n) * P64[1] + P64[2],
          );
          at += 4;
        }
        for (; at < rest.length; at++)
          hash = wrap(rotate64(hash ^ wrap(BigInt(rest[at]!) * P64[4]), 11n) * P64[0]);
        hash = wrap((hash ^ (hash >> 33n)) * P64[1]);
        hash = wrap((hash ^ (hash >> 29n)) * P64[2]);
        return hash ^ (hash >> 32n);
      },
    );
  },
};
