import { rotateLeft } from '../rotate';
import { numberSetting, NO_SETTINGS, wordSetting } from '../settings';
import type { Cipher } from './cipher';

/** RC4, as published in 1994 and described in RFC 6229. */
export const rc4: Cipher = {
  name: 'rc4',
  about: 'RC4; drop says how many bytes of its stream are thrown away first',
  keyLengths: [],
  ivLength: 0,
  blockLength: 1,
  settings: { drop: { about: 'bytes of the stream that are thrown away', default: 0 } },
  start({ key, settings = NO_SETTINGS }) {
    const state = Uint8Array.from({ length: 256 }, (_, i) => i);
    for (let i = 0, j = 0; i < 256; i++) {
      j = (j + state[i]! + key[i % key.length]!) & 255;
      [state[i], state[j]] = [state[j]!, state[i]!];
    }
    let i = 0;
    let j = 0;
    const next = (): number => {
      i = (i + 1) & 255;
      const a = state[i]!;
      j = (j + a) & 255;
      const b = state[j]!;
      state[i] = b;
      state[j] = a;
      return state[(a + b) & 255]!;
    };
    for (let left = Math.min(1 << 20, numberSetting(settings, 'drop') || 0); left > 0; left--) next();
    return { update: (bytes) => bytes.map((byte) => byte ^ next()) };
  },
};

function quarter(x: Uint32Array, a: number, b: number, c: number, d: number): void {
  x[a]! += x[b]!;
  x[d] = rotateLeft(x[d]! ^ x[a]!, 16);
  x[c]! += x[d]!;
  x[b] = rotateLeft(x[b]! ^ x[c]!, 12);
  x[a]! += x[b]!;
  x[d] = rotateLeft(x[d]! ^ x[a]!, 8);
  x[c]! += x[d]!;
  x[b] = rotateLeft(x[b]! ^ x[c]!, 7);
}

/** ChaCha20 (RFC 8439, 2.4): a key of 32 bytes, a nonce of 12, a block counter of 32 bits. */
export const chacha20: Cipher = {
  name: 'chacha20',
  about: 'ChaCha20 (RFC 8439); counter says the number of the first block',
  keyLengths: [32],
  ivLength: 12,
  blockLength: 1,
  settings: { counter: { about: 'the number of the first block', default: 0 } },
  start({ key, iv, settings = NO_SETTINGS }) {
    const state = new Uint32Array(16);
    state.set([0x61707865, 0x3320646e, 0x79622d32, 0x6b206574]);
    const keyView = new DataView(key.buffer, key.byteOffset, key.length);
    for (let i = 0; i < 8; i++) state[4 + i] = keyView.getUint32(4 * i, true);
    state[12] = numberSetting(settings, 'counter') || 0;
    const nonce = new DataView(iv!.buffer, iv!.byteOffset, iv!.length);
    for (let i = 0; i < 3; i++) state[13 + i] = nonce.getUint32(4 * i, true);
    const x = new Uint32Array(16);
    const block = new Uint8Array(64);
    const view = new DataView(block.buffer);
    let used = 64;
    const refill = (): void => {
      x.set(state);
      for (let round = 0; round < 10; round++) {
        quarter(x, 0, 4, 8, 12);
        quarter(x, 1, 5, 9, 13);
        quarter(x, 2, 6, 10, 14);
        quarter(x, 3, 7, 11, 15);
        quarter(x, 0, 5, 10, 15);
        quarter(x, 1, 6, 11, 12);
        quarter(x, 2, 7, 8, 13);
        quarter(x, 3, 4, 9, 14);
      }
      for (let i = 0; i < 16; i++) view.setUint32(4 * i, x[i]! + state[i]!, true);
      state[12]!++;
      used = 0;
    };
    return {
      update(bytes) {
        const out = new Uint8Array(bytes.length);
        for (let i = 0; i < bytes.length; i++) {
          if (used === 64) refill();
          out[i] = bytes[i]! ^ block[used++]!;
        }
        return out;
      },
    };
  },
};

/** A key whose bytes change with the place: key[i mod n] + step * i, and with step times the whole rounds of the key. */
export const xorPosition: Cipher = {
  name: 'xor-position',
  about: 'exclusive or with a repeated key to whose bytes a multiple of the place is added',
  keyLengths: [],
  ivLength: 0,
  blockLength: 1,
  settings: {
    step: { about: 'added for each byte', default: 1 },
    start: { about: 'the place of the first byte', default: 0 },
  },
  start({ key, settings = NO_SETTINGS }) {
    const step = numberSetting(settings, 'step');
    let at = numberSetting(settings, 'start') || 0;
    return {
      update: (bytes) =>
        bytes.map((byte) => {
          const mask = (key[at % key.length]! + step * at) & 255;
          at++;
          return byte ^ mask;
        }),
    };
  },
};

/** Each byte is combined with the stored or plain byte before it; the first with the key. */
export const xorFeedback: Cipher = {
  name: 'xor-feedback',
  about: 'exclusive or with the byte before, the first one with a key of one byte',
  keyLengths: [1],
  ivLength: 0,
  blockLength: 1,
  settings: { of: { about: 'which byte before', default: 'stored', words: ['stored', 'plain'] } },
  start({ key, settings = NO_SETTINGS }, decrypt) {
    const ofStored = wordSetting(settings, 'of') !== 'plain';
    let before = key[0]!;
    return {
      update: (bytes) =>
        bytes.map((byte) => {
          const out = byte ^ before;
          before = ofStored === decrypt ? byte : out;
          return out;
        }),
    };
  },
};
