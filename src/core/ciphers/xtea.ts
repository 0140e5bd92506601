import { numberSetting, wordSetting, NO_SETTINGS } from '../settings';
import { blockStream, type WordCipher, type WordMode } from './block-mode';
import type { Cipher } from './cipher';

const DELTA = 0x9e3779b9;

function xteaWords(key: Uint8Array, rounds: number, little: boolean): WordCipher {
  const view = new DataView(key.buffer, key.byteOffset, key.length);
  const k = [0, 4, 8, 12].map((at) => view.getUint32(at, little));
  // The sum and key word of every half round, so that the loop only adds.
  const first = new Uint32Array(rounds);
  const second = new Uint32Array(rounds);
  for (let i = 0, sum = 0; i < rounds; i++) {
    first[i] = sum + k[sum & 3]!;
    sum = (sum + DELTA) >>> 0;
    second[i] = sum + k[(sum >>> 11) & 3]!;
  }
  return {
    encrypt(words) {
      let a = words[0]! | 0;
      let b = words[1]! | 0;
      for (let i = 0; i < rounds; i++) {
        a = (a + ((((b << 4) ^ (b >>> 5)) + b) ^ first[i]!)) | 0;
        b = (b + ((((a << 4) ^ (a >>> 5)) + a) ^ second[i]!)) | 0;
      }
      words[0] = a;
      words[1] = b;
    },
    decrypt(words) {
      let a = words[0]! | 0;
      let b = words[1]! | 0;
      for (let i = rounds - 1; i >= 0; i--) {
        b = (b - ((((a << 4) ^ (a >>> 5)) + a) ^ second[i]!)) | 0;
        a = (a - ((((b << 4) ^ (b >>> 5)) + b) ^ first[i]!)) | 0;
      }
      words[0] = a;
      words[1] = b;
    },
  };
}

/** XTEA (Needham and Wheeler, 1997). */
function xtea(mode: WordMode): Cipher {
  return {
    name: `xtea-${mode}`,
    about: `XTEA in ${mode === 'ecb' ? 'single blocks' : 'chaining mode'}, whole 8-byte blocks only`,
    keyLengths: [16],
    ivLength: mode === 'cbc' ? 8 : 0,
    blockLength: 8,
    settings: {
      rounds: { about: 'rounds of two steps', default: 32 },
      words: { about: 'byte order of key and blocks', default: 'big', words: ['big', 'little'] },
    },
    start({ key, iv, settings = NO_SETTINGS }, decrypt) {
      const little = wordSetting(settings, 'words') === 'little';
      const rounds = Math.min(256, Math.max(1, numberSetting(settings, 'rounds') || 32));
      return blockStream(xteaWords(key, rounds, little), mode, decrypt, little, iv);
    },
  };
}

export const xteaEcb = xtea('ecb');
export const xteaCbc = xtea('cbc');
