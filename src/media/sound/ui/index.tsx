import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';
import { nameOf } from '@/ui/format';
import { ToBoard } from './desk/ToBoard';
import { TakeBeside } from './TakeBeside';
import { useLookPresses } from './use-look-presses';
import { WayFact } from './WayFact';

// What plays them is fetched when one is shown.
const PlayThrough = dynamic(() => import('./PlayThrough').then((made) => made.PlayThrough));
const SoundView = dynamic(() => import('./SoundView').then((made) => made.SoundView));

/** Sounds on the screens. */
export const soundUi: MediumUi = {
  kind: 'sound',
  title: 'Sound',
  Icon: GraphicEqRounded,
  Look({ gameId, data: { look, path, archive, archiveId, index }, url, version, changed }) {
    // Of what a mod has in its place the marks are not known here.
    const marks = look.sort === 'sound' && !changed ? { loop: look.loop, cues: look.cues } : {};
    const entry = { gameId, archiveId, index, archive, path };
    const presses = useLookPresses();
    const ways = look.sort === 'sound' ? look.ways : undefined;
    return (
      <>
        <SoundView
          url={`${url}/raw?${version}${ways ? `&way=${ways.taken}` : ''}`}
          label={nameOf(path)}
          entry={entry}
          presses={presses}
          {...marks}
        />
        {ways && !changed && <WayFact gameId={gameId} path={path} ways={ways} />}
      </>
    );
  },
  Beside: TakeBeside,
  Picked: ({ gameId, items }) => (
    <ToBoard sort="strip" clips={items.map(({ archive, path }) => ({ game: gameId, archive, path }))} />
  ),
  Through: PlayThrough,
  Side: ({ url, stamp, label }) => <SoundView url={`${url}/raw?${stamp}`} label={label} />,
};
