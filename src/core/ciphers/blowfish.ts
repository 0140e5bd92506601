import { NO_SETTINGS, wordSetting } from '../settings';
import { blockStream, type WordCipher, type WordMode } from './block-mode';
import type { Cipher } from './cipher';
import { piWords } from './pi-words';

const ROUNDS = 16;
const SUBKEYS = ROUNDS + 2;
const BOX = 256;

let start: Uint32Array | undefined;

/** Blowfish (Schneier, Fast Software Encryption 1993): subkeys and boxes begin as the digits of pi. */
function blowfishWords(key: Uint8Array): WordCipher {
  start ??= piWords(SUBKEYS + 4 * BOX);
  const p = start.slice(0, SUBKEYS);
  const s = start.slice(SUBKEYS);
  for (let i = 0, at = 0; i < SUBKEYS; i++) {
    let word = 0;
    for (let j = 0; j < 4; j++, at = (at + 1) % key.length) word = (word << 8) | key[at]!;
    p[i]! ^= word;
  }
  const mixed = (x: number): number =>
    ((((s[x >>> 24]! + s[BOX + ((x >>> 16) & 255)]!) ^ s[2 * BOX + ((x >>> 8) & 255)]!) >>> 0) +
      s[3 * BOX + (x & 255)]!) |
    0;
  const encrypt = (words: Uint32Array): void => {
    let left = words[0]! | 0;
    let right = words[1]! | 0;
    for (let i = 0; i < ROUNDS; i += 2) {
      left ^= p[i]!;
      right ^= mixed(left);
      right ^= p[i + 1]!;
      left ^= mixed(right);
    }
    words[0] = right ^ p[ROUNDS + 1]!;
    words[1] = left ^ p[ROUNDS]!;
  };
  const words = new Uint32Array(2);
  for (const table of [p, s])
    for (let i = 0; i < table.length; i += 2) {
      encrypt(words);
      table[i] = words[0]!;
      table[i + 1] = words[1]!;
    }
  return {
    encrypt,
    decrypt(block) {
      let left = block[0]! | 0;
      let right = block[1]! | 0;
      for (let i = ROUNDS; i > 0; i -= 2) {
        left ^= p[i + 1]!;
        right ^= mixed(left);
        right ^= p[i]!;
        left ^= mixed(right);
      }
      block[0] = right ^ p[0]!;
      block[1] = left ^ p[1]!;
    },
  };
}

function blowfish(mode: WordMode): Cipher {
  return {
    name: `blowfish-${mode}`,
    about: `Blowfish in ${mode === 'ecb' ? 'single blocks' : 'chaining mode'}, whole 8-byte blocks only; key of 4 to 56 bytes`,
    keyLengths: Array.from({ length: 53 }, (_, i) => i + 4),
    ivLength: mode === 'cbc' ? 8 : 0,
    blockLength: 8,
    settings: { words: { about: 'byte order of blocks', default: 'big', words: ['big', 'little'] } },
    start({ key, iv, settings = NO_SETTINGS }, decrypt) {
      const little = wordSetting(settings, 'words') === 'little';
      return blockStream(blowfishWords(key), mode, decrypt, little, iv);
    },
  };
}

export const blowfishEcb = blowfish('ecb');
export const blowfishCbc = blowfish('cbc');
