import DataArrayRounded from '@mui/icons-material/DataArrayRounded';
import type { MediumUi } from '@/media/medium-ui';

/** What is none of the other kinds, on the screens. */
export const dataUi: MediumUi = { kind: 'data', Icon: DataArrayRounded };
