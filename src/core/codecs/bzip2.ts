import type { Codec } from './codec';
import { decodeBzip2 } from './bzip2-decoder';
import { encodeBzip2 } from './bzip2-encoder';

export const bzip2: Codec = {
  name: 'bzip2',
  about: 'bzip2 (J. Seward), blocks of 900 kB',
  // A block of one repeated byte is 45 MB in some forty bytes.
  mostExpansion: 1 << 21,
  decode: (stored, limit) => decodeBzip2(stored, limit),
  encode: (plain) => encodeBzip2(plain),
};
