import type { ByteSink, ByteSource } from './bytes';

/** A running cipher; pieces go in and come out in order, each as long as it went in. */
export interface CipherStream {
  update(bytes: Uint8Array): Uint8Array;
}

export type BlockCipherMode = 'ctr' | 'cbc' | 'ecb';

/** Somewhere to keep bytes of unknown length until they are needed; a temporary file on the server. */
export interface Spool extends ByteSink {
  /** What was written so far, readable until `discard`. */
  readonly source: ByteSource;
  discard(): void;
}

/**
 * What the machine does better than portable code. src/platform supplies it; the core only calls it,
 * through the registries of codecs, ciphers and hashes.
 */
export interface Primitives {
  /** RFC 1951. `limit` is the most bytes that may come out; throws when the data is broken or longer. */
  inflateRaw(stored: Uint8Array, limit: number): Uint8Array;
  deflateRaw(plain: Uint8Array, level: number): Uint8Array;
  /** RFC 1950. */
  inflateZlib(stored: Uint8Array, limit: number): Uint8Array;
  deflateZlib(plain: Uint8Array, level: number): Uint8Array;
  /** RFC 1952. */
  gunzip(stored: Uint8Array, limit: number): Uint8Array;
  gzip(plain: Uint8Array, level: number): Uint8Array;
  /** What the beginning of a stream gives that is cut off behind `stored`; throws where it is none. */
  inflateStart(stored: Uint8Array, wrapping: 'raw' | 'zlib' | 'gzip'): Uint8Array;
  /** RFC 7932. */
  unbrotli(stored: Uint8Array, limit: number): Uint8Array;
  brotli(plain: Uint8Array): Uint8Array;
  /** RFC 8878. */
  unzstd(stored: Uint8Array, limit: number): Uint8Array;
  zstd(plain: Uint8Array, level: number): Uint8Array;
  /** AES (FIPS 197) with a key of 16, 24 or 32 bytes; no padding. */
  aes(mode: BlockCipherMode, key: Uint8Array, iv: Uint8Array, decrypt: boolean): CipherStream;
  /** MD5 (RFC 1321) and the SHA family (FIPS 180-4), taken piece by piece. */
  digest(name: 'md5' | 'sha1' | 'sha256' | 'sha512'): {
    update(bytes: Uint8Array): void;
    value(): Uint8Array;
  };
  /** CRC-32 (ISO 3309) continued from `seed`, 0 at the start. */
  crc32(bytes: Uint8Array, seed: number): number;
  spool(): Spool;
}
