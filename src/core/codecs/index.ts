import { Registry } from '../registry';
import type { Codec } from './codec';
import { deflate, zlib } from './deflate';

export type { Codec } from './codec';

/** Every compression that a format script may name. */
export const codecs = new Registry<Codec>('codec', [deflate, zlib]);
