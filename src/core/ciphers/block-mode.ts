import type { CipherStream } from '../primitives';

/** A block cipher over blocks of eight bytes, as two 32-bit words; it changes them in place. */
export interface WordCipher {
  encrypt(words: Uint32Array): void;
  decrypt(words: Uint32Array): void;
}

export type WordMode = 'ecb' | 'cbc';

const BLOCK = 8;

/** Runs a block cipher in a mode (NIST SP 800-38A, 6.1 and 6.2) over pieces of any length; a last part of a block is never given out. */
export function blockStream(
  cipher: WordCipher,
  mode: WordMode,
  decrypt: boolean,
  littleWords: boolean,
  iv: Uint8Array | undefined,
): CipherStream {
  const words = new Uint32Array(2);
  const chain = new Uint32Array(2);
  const stored = new Uint32Array(2);
  if (mode === 'cbc' && iv) load(new DataView(iv.buffer, iv.byteOffset, iv.length), 0, chain, littleWords);
  let held: Uint8Array = new Uint8Array(0);
  return {
    update(bytes) {
      let whole = bytes;
      if (held.length > 0) {
        whole = new Uint8Array(held.length + bytes.length);
        whole.set(held);
        whole.set(bytes, held.length);
      }
      const length = whole.length - (whole.length % BLOCK);
      held = whole.slice(length);
      const out = new Uint8Array(length);
      const from = new DataView(whole.buffer, whole.byteOffset, whole.length);
      const to = new DataView(out.buffer);
      for (let at = 0; at < length; at += BLOCK) {
        load(from, at, words, littleWords);
        if (decrypt) {
          stored.set(words);
          cipher.decrypt(words);
          mix(words, chain, mode);
          chain.set(stored);
        } else {
          mix(words, chain, mode);
          cipher.encrypt(words);
          chain.set(words);
        }
        to.setUint32(at, words[0]!, littleWords);
        to.setUint32(at + 4, words[1]!, littleWords);
      }
      return out;
    },
  };
}

function load(view: DataView, at: number, words: Uint32Array, little: boolean): void {
  words[0] = view.getUint32(at, little);
  words[1] = view.getUint32(at + 4, little);
}

function mix(words: Uint32Array, chain: Uint32Array, mode: WordMode): void {
  if (mode !== 'cbc') return;
  words[0]! ^= chain[0]!;
  words[1]! ^= chain[1]!;
}
