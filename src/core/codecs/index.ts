import { Registry } from '../registry';
import type { Codec } from './codec';
import { brotli, deflate, gzip, zlib, zstd } from './deflate';
import { lz4, lz4frame } from './lz4';
import { lzss } from './lzss';
import { bzip2 } from './bzip2';
import { lzma } from './lzma';
import { gaps } from './gap-runs';
import { packbits, pairs, pcx, rle } from './run-length';
import { xz } from './xz';

export type { Codec } from './codec';
export { beginPiece, withPatience, type Patience } from './patience';

/** Every compression that a format script may name. */
export const codecs = new Registry<Codec>('codec', [
  deflate,
  zlib,
  gzip,
  brotli,
  zstd,
  lzma,
  xz,
  bzip2,
  lz4,
  lz4frame,
  lzss,
  packbits,
  rle,
  pcx,
  pairs,
  gaps,
]);
