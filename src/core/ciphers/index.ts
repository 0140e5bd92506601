import { Registry } from '../registry';
import { aesCbc, aesCtr, aesEcb } from './aes';
import { blowfishCbc, blowfishEcb } from './blowfish';
import type { Cipher } from './cipher';
import { keystream } from './keystream';
import { chacha20, rc4, xorFeedback, xorPosition } from './stream-ciphers';
import { xor } from './xor';
import { xteaCbc, xteaEcb } from './xtea';

export type { Cipher, CipherArguments } from './cipher';

/** Every cipher that a format script may name. */
export const ciphers = new Registry<Cipher>('cipher', [
  aesCtr,
  aesCbc,
  aesEcb,
  blowfishEcb,
  blowfishCbc,
  xteaEcb,
  xteaCbc,
  rc4,
  chacha20,
  xor,
  xorPosition,
  xorFeedback,
  keystream,
]);
