import type { Codec } from './codec';

/** What zlib calls its default; smaller files than 1 at a third of the time of 9. */
const LEVEL = 6;
/** RFC 1951: a match of 258 bytes costs at least two bits. */
const MOST_EXPANSION = 1032;

/** Deflate in one of its three wrappings; the platform does the work. */
function deflating(
  name: string,
  about: string,
  decode: 'inflateRaw' | 'inflateZlib' | 'gunzip',
  encode: 'deflateRaw' | 'deflateZlib' | 'gzip',
  wrapping: 'raw' | 'zlib' | 'gzip',
): Codec {
  return {
    name,
    about,
    mostExpansion: MOST_EXPANSION,
    decode: (stored, limit, primitives) => primitives[decode](stored, limit),
    encode: (plain, primitives) => primitives[encode](plain, LEVEL),
    start: (stored, primitives) => primitives.inflateStart(stored, wrapping),
  };
}

export const deflate = deflating('deflate', 'raw deflate (RFC 1951)', 'inflateRaw', 'deflateRaw', 'raw');
export const zlib = deflating(
  'zlib',
  'deflate with the zlib head and Adler-32 (RFC 1950)',
  'inflateZlib',
  'deflateZlib',
  'zlib',
);
export const gzip = deflating(
  'gzip',
  'deflate with the gzip head and CRC-32 (RFC 1952)',
  'gunzip',
  'gzip',
  'gzip',
);

export const brotli: Codec = {
  name: 'brotli',
  about: 'Brotli (RFC 7932)',
  // A run of 16 MiB takes a few bytes.
  mostExpansion: 1 << 22,
  decode: (stored, limit, primitives) => primitives.unbrotli(stored, limit),
  encode: (plain, primitives) => primitives.brotli(plain),
};

export const zstd: Codec = {
  name: 'zstd',
  about: 'Zstandard (RFC 8878)',
  // A block of one repeated byte is 128 KiB in four bytes.
  mostExpansion: 1 << 16,
  decode: (stored, limit, primitives) => primitives.unzstd(stored, limit),
  // Smaller than what the command line tool makes when nothing is said, at about deflate's speed.
  encode: (plain, primitives) => primitives.zstd(plain, 9),
};
