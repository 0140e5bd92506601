import FontDownloadOutlined from '@mui/icons-material/FontDownloadOutlined';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';

const FontLook = dynamic(() => import('./FontLook').then((made) => made.FontLook));

/** Fonts on the screens. */
export const fontUi: MediumUi = { kind: 'font', title: 'Font', Icon: FontDownloadOutlined, Look: FontLook };
