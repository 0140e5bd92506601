import { Registry } from '../registry';
import { aesCbc, aesCtr } from './aes';
import type { Cipher } from './cipher';
import { xor } from './xor';

export type { Cipher, CipherArguments } from './cipher';

/** Every cipher that a format script may name. */
export const ciphers = new Registry<Cipher>('cipher', [aesCtr, aesCbc, xor]);
