import ImageOutlined from '@mui/icons-material/ImageOutlined';
import type { MediumUi } from '@/media/medium-ui';
import { PictureLook } from './PictureLook';
import { PictureSide } from './PictureSide';
import { Wall } from './Wall';

/** Pictures on the screens. */
export const pictureUi: MediumUi = {
  kind: 'picture',
  Icon: ImageOutlined,
  Look: PictureLook,
  Side: PictureSide,
  sidesBeside: true,
  Wall,
};
