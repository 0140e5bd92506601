import type { Hash } from './hash';

const MODULUS = 65521;
/** The most bytes that can be added before the sums need reducing (RFC 1950, 9). */
const RUN = 5552;

/** Adler-32 as in RFC 1950. */
export const adler32: Hash = {
  name: 'adler32',
  about: 'Adler-32 (RFC 1950), 32 bits',
  start() {
    let a = 1;
    let b = 0;
    return {
      update(bytes) {
        for (let from = 0; from < bytes.length; from += RUN) {
          const to = Math.min(bytes.length, from + RUN);
          for (let i = from; i < to; i++) {
            a += bytes[i]!;
            b += a;
          }
          a %= MODULUS;
          b %= MODULUS;
        }
      },
      value: () => b * 65536 + a,
    };
  },
};
