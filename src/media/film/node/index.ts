import type { MediumNode } from '@/media/medium';
import { trackHead } from './track-head';

/** Films, where there is Node. */
export const filmNode: MediumNode = {
  kind: 'film',
  head: ({ source, first }) => trackHead(source, first),
};
