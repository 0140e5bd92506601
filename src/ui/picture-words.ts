import type { PictureWay } from '@/core/recipe';

/** What pictures become, in words of the screens. */
export const PICTURE_WORDS: Readonly<Record<PictureWay, string>> = {
  stored: 'as they are',
  png: 'as PNG',
  tga: 'as TGA',
  dds: 'as DDS',
  ktx2: 'as KTX2',
};
