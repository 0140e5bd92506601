import type { Hash } from './hash';

/** All bytes added up, modulo 2^32. */
export const sum32: Hash = {
  name: 'sum32',
  about: 'sum of all bytes, modulo 2^32',
  start() {
    let sum = 0;
    return {
      update(bytes) {
        for (const byte of bytes) sum = (sum + byte) >>> 0;
      },
      value: () => sum,
    };
  },
};
