import type { BytesRef } from '../bytes';
import type { Primitives } from '../primitives';
import { Registry } from '../registry';
import { adler32 } from './adler32';
import { crc32 } from './crc32';
import { fnv1a32, fnv1a64 } from './fnv';
import type { Hash } from './hash';
import { sha256 } from './sha256';
import { sum32 } from './sum';

export type { Hash, HashState } from './hash';

/** Every checksum and hash that a format script may name. */
export const hashes = new Registry<Hash>('hash', [crc32, adler32, fnv1a32, fnv1a64, sha256, sum32]);

/** The hash of all bytes of `ref`, taken piece by piece. */
export function hashOf(
  hash: Hash,
  ref: BytesRef,
  primitives: Primitives,
  seed?: bigint,
): number | bigint | Uint8Array {
  const state = hash.start(primitives, seed);
  for (const chunk of ref.chunks()) state.update(chunk);
  return state.value();
}
