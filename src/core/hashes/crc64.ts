import type { Hash } from './hash';

/** The polynomial of ECMA-182, lowest bit first, in two halves. */
const HIGH = 0xc96c5795;
const LOW = 0xd7870f42;

let tables: { high: Uint32Array; low: Uint32Array } | undefined;

function makeTables(): NonNullable<typeof tables> {
  const high = new Uint32Array(256);
  const low = new Uint32Array(256);
  for (let i = 0; i < 256; i++) {
    let h = 0;
    let l = i;
    for (let bit = 0; bit < 8; bit++) {
      const odd = l & 1;
      l = (l >>> 1) | ((h & 1) << 31);
      h >>>= 1;
      if (odd) {
        h ^= HIGH;
        l ^= LOW;
      }
    }
    high[i] = h;
    low[i] = l;
  }
  return { high, low };
}

/** CRC-64 as in .xz files (ECMA-182, lowest bit first, inverted at both ends); check value 995dc9bbdf1939fa. */
export const crc64: Hash = {
  name: 'crc64',
  about: 'CRC-64 (ECMA-182, lowest bit first), 64 bits, as in xz',
  start() {
    const { high, low } = (tables ??= makeTables());
    let h = 0xffffffff;
    let l = 0xffffffff;
    return {
      update(bytes) {
        for (const byte of bytes) {
          const index = (l ^ byte) & 255;
          l = ((l >>> 8) | (h << 24)) ^ low[index]!;
          h = (h >>> 8) ^ high[index]!;
        }
      },
      value: () => (BigInt(~h >>> 0) << 32n) | BigInt(~l >>> 0),
    };
  },
};
