import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import type { MediumUi } from '@/media/medium-ui';
import { nameOf } from '@/ui/format';
import { SoundView } from './SoundView';

/** Sounds on the screens. */
export const soundUi: MediumUi = {
  kind: 'sound',
  title: 'Sound',
  Icon: GraphicEqRounded,
  Look: ({ data, url, version }) => <SoundView url={`${url}/raw?${version}`} label={nameOf(data.path)} />,
  Side: ({ url, stamp, label }) => <SoundView url={`${url}/raw?${stamp}`} label={label} />,
};
