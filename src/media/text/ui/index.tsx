import DescriptionOutlined from '@mui/icons-material/DescriptionOutlined';
import type { MediumUi } from '@/media/medium-ui';
import { TextLook } from './TextLook';

/** Texts on the screens. */
export const textUi: MediumUi = {
  kind: 'text',
  title: 'Text',
  Icon: DescriptionOutlined,
  Look: TextLook,
  // A text is seen and mended where it does not fit.
  looksUnfit: true,
};
