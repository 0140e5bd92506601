import type { MediumNode } from '@/media/medium';
import { filmConverters } from './converters';
import { trackHead } from './track-head';

/** Films, where there is Node. */
export const filmNode: MediumNode = {
  kind: 'film',
  converters: filmConverters,
  head: ({ source, first }) => trackHead(source, first),
};
