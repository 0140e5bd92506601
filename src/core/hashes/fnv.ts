import type { Hash, HashState } from './hash';

const BASIS_HIGH = 0xcbf29ce4;
const BASIS_LOW = 0x84222325;
const PRIME_LOW = 0x1b3;

/** FNV-1a with 32 bits (the parameters of the FNV reference, draft-eastlake-fnv). */
export const fnv1a32: Hash = {
  name: 'fnv1a32',
  about: 'FNV-1a, 32 bits',
  start() {
    let hash = 0x811c9dc5;
    return {
      update(bytes) {
        for (const byte of bytes) hash = Math.imul(hash ^ byte, 0x01000193);
      },
      value: () => hash >>> 0,
    };
  },
};

/**
 * FNV-1a with 64 bits, in two 32-bit halves: a bigint a byte is forty times slower.
 * The prime is 2^40 + 0x1b3, so a product is the low half times 0x1b3 plus shifted carries.
 */
export const fnv1a64: Hash = {
  name: 'fnv1a64',
  about: 'FNV-1a, 64 bits',
  start(): HashState {
    let high = BASIS_HIGH;
    let low = BASIS_LOW;
    return {
      update(bytes) {
        for (const byte of bytes) {
          low = (low ^ byte) >>> 0;
          const product = low * PRIME_LOW;
          const carry = Math.floor(product / 0x1_0000_0000);
          high = (Math.imul(high, PRIME_LOW) + carry + (low << 8)) >>> 0;
          low = product >>> 0;
        }
      },
      value: () => (BigInt(high) << 32n) | BigInt(low),
    };
  },
};
