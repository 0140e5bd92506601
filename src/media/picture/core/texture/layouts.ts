import { Registry } from '@/core/registry';
import { BLOCK_LAYOUTS } from './block-layouts';
import { DEEP_LAYOUTS } from './deep-layouts';
import type { PixelLayout } from './pixel-layout';
import { PLAIN_LAYOUTS } from './plain-layouts';

/** Every pixel layout that a picture script or a container may name. */
export const layouts = new Registry<PixelLayout>('pixel layout', [
  ...PLAIN_LAYOUTS,
  ...DEEP_LAYOUTS,
  ...BLOCK_LAYOUTS,
]);
