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

/** Words taken together, modulo 2^bits; a last part of a word counts with zeros behind it. */
function overWords(
  name: 'sum' | 'xor',
  bytesOfWord: 2 | 4,
  isLittle: boolean,
  combine: (all: number, part: number) => number,
): Hash {
  const bits = 8 * bytesOfWord;
  const words = `words of ${bits} bits, ${isLittle ? 'lowest' : 'highest'} byte first`;
  return {
    name: `${name}${bits}${isLittle ? 'le' : 'be'}`,
    about: name === 'sum' ? `sum of ${words}, modulo 2^${bits}` : `${words}, combined by exclusive or`,
    start() {
      let all = 0;
      let at = 0;
      return {
        update(bytes) {
          for (const byte of bytes) {
            const shift = 8 * (isLittle ? at : bytesOfWord - 1 - at);
            all = combine(all, (byte << shift) >>> 0) % 2 ** bits;
            at = (at + 1) % bytesOfWord;
          }
        },
        value: () => all,
      };
    },
  };
}

const wordSum = (bytesOfWord: 2 | 4, isLittle: boolean): Hash =>
  overWords('sum', bytesOfWord, isLittle, (all, part) => all + part);
const wordXor = (bytesOfWord: 2 | 4, isLittle: boolean): Hash =>
  overWords('xor', bytesOfWord, isLittle, (all, part) => (all ^ part) >>> 0);

/** Two sums, the second of the first ones (Fletcher, 1982), over bytes. */
const fletcher16: Hash = {
  name: 'fletcher16',
  about: 'Fletcher-16 (Fletcher, 1982), modulo 255',
  start() {
    let low = 0;
    let high = 0;
    return {
      update(bytes) {
        for (const byte of bytes) {
          low = (low + byte) % 255;
          high = (high + low) % 255;
        }
      },
      value: () => (high << 8) | low,
    };
  },
};

export const wordSums: readonly Hash[] = [
  wordSum(2, true),
  wordSum(2, false),
  wordSum(4, true),
  wordSum(4, false),
  wordXor(2, true),
  wordXor(2, false),
  wordXor(4, true),
  wordXor(4, false),
  fletcher16,
];
