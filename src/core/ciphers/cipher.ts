import type { CipherStream, Primitives } from '../primitives';

export interface CipherArguments {
  key: Uint8Array;
  iv?: Uint8Array;
}

/** A cipher that keeps the length of what goes through it. */
export interface Cipher {
  readonly name: string;
  readonly about: string;
  /** Allowed key lengths in bytes; empty where any will do. */
  readonly keyLengths: readonly number[];
  /** Length of the initial vector in bytes, 0 where there is none. */
  readonly ivLength: number;
  /** Bytes must come in whole multiples of this. */
  readonly blockLength: number;
  start(args: CipherArguments, decrypt: boolean, primitives: Primitives): CipherStream;
}
