import type { BlockCipherMode } from '../primitives';
import type { Cipher } from './cipher';

function aes(mode: BlockCipherMode, about: string, blockLength: number): Cipher {
  return {
    name: `aes-${mode}`,
    about,
    keyLengths: [16, 24, 32],
    ivLength: mode === 'ecb' ? 0 : 16,
    blockLength,
    start: ({ key, iv }, decrypt, primitives) => primitives.aes(mode, key, iv ?? new Uint8Array(16), decrypt),
  };
}

/** AES in counter mode (NIST SP 800-38A, 6.5), the counter being all 16 bytes, big endian. */
export const aesCtr = aes('ctr', 'AES in counter mode; the key length chooses 128, 192 or 256', 1);
/** AES in chaining mode (NIST SP 800-38A, 6.2) without padding. */
export const aesCbc = aes('cbc', 'AES in chaining mode, whole 16-byte blocks only', 16);
/** AES block by block (NIST SP 800-38A, 6.1) without padding. */
export const aesEcb = aes('ecb', 'AES in single 16-byte blocks, each by itself', 16);
