import type { Cipher } from '../ciphers';
import type { Codec } from '../codecs';
import type { Settings } from '../settings';
import type { Scalar } from './scalars';

export interface ResolvedCipher {
  readonly sort: 'cipher';
  readonly cipher: Cipher;
  readonly key: Uint8Array;
  readonly iv: Uint8Array | undefined;
  readonly settings: Settings;
  readonly skip: number | undefined;
  readonly first: number | undefined;
  readonly every: { nth: number; of: number } | undefined;
  readonly keepsTail: boolean;
}

export interface ResolvedBlocks {
  readonly sort: 'blocks';
  readonly plain: number;
  readonly total: number;
  readonly table: { scalar: Scalar; little: boolean; each: boolean } | undefined;
  readonly sizes: readonly number[] | undefined;
  readonly rawBit: number;
  readonly rawWhenFull: boolean;
  readonly align: number;
  readonly codec: Codec;
  readonly settings: Settings;
}

/** A step with everything in it settled for one payload or region. */
export type ResolvedStep =
  | { sort: 'codec'; codec: Codec; size: number | undefined; settings: Settings }
  | ResolvedCipher
  | ResolvedBlocks;
