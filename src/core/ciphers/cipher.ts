import type { CipherStream, Primitives } from '../primitives';
import type { Settings, SettingTypes } from '../settings';

export interface CipherArguments {
  key: Uint8Array;
  iv?: Uint8Array | undefined;
  settings?: Settings;
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
  readonly settings?: SettingTypes;
  /** Whether it takes no key. */
  readonly keyless?: boolean;
  /** `length` is that of all bytes that will go through. */
  start(args: CipherArguments, decrypt: boolean, primitives: Primitives, length?: number): CipherStream;
}
