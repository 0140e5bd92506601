import type { MediumWays } from '../../way';

/** How pictures are taken out. */
export const pictureWays: MediumWays = {
  title: 'Pictures',
  one: 'picture',
  usual: 'png',
  ways: [
    {
      name: 'png',
      label: 'as PNG',
      said: 'pictures as PNG',
      help: 'To edit in any program: the largest level with its alpha, 8 or 16 bits a channel.',
      isPacked: true,
    },
    {
      name: 'tga',
      label: 'as TGA',
      said: 'pictures as TGA',
      help: 'The largest level with its alpha, 8 bits a channel, not packed.',
    },
    {
      name: 'dds',
      label: 'as DDS',
      said: 'pictures as DDS',
      help: 'All levels as they are stored, nothing coded anew.',
    },
    {
      name: 'ktx2',
      label: 'as KTX2',
      said: 'pictures as KTX2',
      help: 'All levels as they are stored, under Zstandard.',
      isPacked: true,
    },
  ],
};
