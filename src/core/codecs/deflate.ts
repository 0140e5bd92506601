import type { Codec } from './codec';

/** What zlib calls its default; smaller files than 1 at a third of the time of 9. */
const LEVEL = 6;
/** RFC 1951: a match of 258 bytes costs at least two bits. */
const MOST_EXPANSION = 1032;

export const deflate: Codec = {
  name: 'deflate',
  about: 'raw deflate (RFC 1951)',
  mostExpansion: MOST_EXPANSION,
  decode: (stored, limit, primitives) => primitives.inflateRaw(stored, limit),
  encode: (plain, primitives) => primitives.deflateRaw(plain, LEVEL),
};

export const zlib: Codec = {
  name: 'zlib',
  about: 'deflate with the zlib head and Adler-32 (RFC 1950)',
  mostExpansion: MOST_EXPANSION,
  decode: (stored, limit, primitives) => primitives.inflateZlib(stored, limit),
  encode: (plain, primitives) => primitives.deflateZlib(plain, LEVEL),
};

export const gzip: Codec = {
  name: 'gzip',
  about: 'deflate with the gzip head and CRC-32 (RFC 1952)',
  mostExpansion: MOST_EXPANSION,
  decode: (stored, limit, primitives) => primitives.gunzip(stored, limit),
  encode: (plain, primitives) => primitives.gzip(plain, LEVEL),
};

export const brotli: Codec = {
  name: 'brotli',
  about: 'Brotli (RFC 7932)',
  // A run of 16 MiB takes a few bytes.
  mostExpansion: 1 << 22,
  decode: (stored, limit, primitives) => primitives.unbrotli(stored, limit),
  encode: (plain, primitives) => primitives.brotli(plain),
};
