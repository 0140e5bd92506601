import type { Cipher } from './cipher';

/** Every byte combined with a repeated key by exclusive or; the same in both directions. */
export const xor: Cipher = {
  name: 'xor',
  about: 'exclusive or with a repeated key',
  keyLengths: [],
  ivLength: 0,
  blockLength: 1,
  start({ key }) {
    let at = 0;
    return {
      update(bytes) {
        const out = new Uint8Array(bytes.length);
        for (let i = 0; i < bytes.length; i++) {
          out[i] = bytes[i]! ^ key[at]!;
          at = at + 1 === key.length ? 0 : at + 1;
        }
        return out;
      },
    };
  },
};
