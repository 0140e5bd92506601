import { Registry } from '../registry';
import type { Codec } from './codec';
import { brotli, deflate, gzip, zlib } from './deflate';
import { lz4, lz4frame } from './lz4';
import { lzss } from './lzss';
import { packbits, rle } from './run-length';

export type { Codec } from './codec';

/** Every compression that a format script may name. */
export const codecs = new Registry<Codec>('codec', [
  deflate,
  zlib,
  gzip,
  brotli,
  lz4,
  lz4frame,
  lzss,
  packbits,
  rle,
]);
