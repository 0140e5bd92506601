import ImageOutlined from '@mui/icons-material/ImageOutlined';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';
import { plural } from '@/ui/format';

// What shows them is fetched when one is shown.
const PictureLook = dynamic(() => import('./PictureLook').then((made) => made.PictureLook));
const PictureSide = dynamic(() => import('./PictureSide').then((made) => made.PictureSide));
const Wall = dynamic(() => import('./Wall').then((made) => made.Wall));

/** Pictures on the screens. */
export const pictureUi: MediumUi = {
  kind: 'picture',
  title: 'Picture',
  Icon: ImageOutlined,
  Look: PictureLook,
  more: (look) =>
    look.sort === 'picture'
      ? [
          plural(look.levels, 'level'),
          ...(look.alpha ? ['transparency'] : []),
          ...(look.origin ? [`placed by ${look.origin.x}, ${look.origin.y}`] : []),
        ]
      : [],
  glance: 'picture?most=96',
  saved: { address: 'picture', ending: '.png' },
  Side: PictureSide,
  sidesBeside: true,
  Wall,
  shown: [
    ['', 'In one'],
    ['folder', 'By folder'],
    ['look', 'By look'],
  ],
};
