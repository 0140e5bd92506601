import type { BytesRef } from '../bytes';
import type { Primitives } from '../primitives';
import { Registry } from '../registry';
import { adler32 } from './adler32';
import { crc32 } from './crc32';
import { crc64 } from './crc64';
import { fnv1a32, fnv1a64 } from './fnv';
import type { Hash } from './hash';
import { crcFamily } from './crc-family';
import { md5, sha1, sha256, sha512 } from './digests';
import { murmur3 } from './murmur3';
import { fnv64, stringHashes } from './string-hashes';
import { sum32, wordSums } from './sum';
import { xxh32, xxh64 } from './xxhash';

export { crc } from './crc-family';
export { fnvOfLines } from './line-kernel';
export type { Hash, HashState } from './hash';

/** Every checksum and hash that a format script may name. */
export const hashes = new Registry<Hash>('hash', [
  crc32,
  ...crcFamily,
  crc64,
  adler32,
  fnv1a32,
  fnv1a64,
  fnv64,
  ...stringHashes,
  murmur3,
  xxh32,
  xxh64,
  md5,
  sha1,
  sha256,
  sha512,
  sum32,
  ...wordSums,
]);

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
