import DescriptionOutlined from '@mui/icons-material/DescriptionOutlined';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';

// The editor is fetched when a text is shown.
const TextLook = dynamic(() => import('./TextLook').then((made) => made.TextLook));

/** Texts on the screens. */
export const textUi: MediumUi = {
  kind: 'text',
  title: 'Text',
  Icon: DescriptionOutlined,
  Look: TextLook,
  // A text is seen and mended where it does not fit.
  looksUnfit: true,
  isToldInWords: true,
};
