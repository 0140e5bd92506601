import TerminalRounded from '@mui/icons-material/TerminalRounded';
import type { MediumUi } from '@/media/medium-ui';

/** Programs on the screens. */
export const programUi: MediumUi = { kind: 'program', Icon: TerminalRounded };
