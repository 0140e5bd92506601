import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import type { MediumUi } from '@/media/medium-ui';
import { nameOf } from '@/ui/format';
import { PlayThrough } from './PlayThrough';
import { SoundView } from './SoundView';

/** Sounds on the screens. */
export const soundUi: MediumUi = {
  kind: 'sound',
  title: 'Sound',
  Icon: GraphicEqRounded,
  Look({ gameId, data: { look, path, archiveId, index }, url, version, changed }) {
    // Of what a mod has in its place the marks are not known here.
    const marks = look.sort === 'sound' && !changed ? { loop: look.loop, cues: look.cues } : {};
    const entry = { gameId, archiveId, index, path };
    return <SoundView url={`${url}/raw?${version}`} label={nameOf(path)} entry={entry} {...marks} />;
  },
  Through: PlayThrough,
  Side: ({ url, stamp, label }) => <SoundView url={`${url}/raw?${stamp}`} label={label} />,
};
