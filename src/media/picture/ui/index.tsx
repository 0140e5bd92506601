import ImageOutlined from '@mui/icons-material/ImageOutlined';
import type { MediumUi } from '@/media/medium-ui';
import { plural } from '@/ui/format';
import { PictureLook } from './PictureLook';
import { PictureSide } from './PictureSide';
import { Wall } from './Wall';

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
  saved: { address: 'picture', ending: '.png' },
  Side: PictureSide,
  sidesBeside: true,
  Wall,
};
