'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import NextLink from 'next/link';
import { useEffect, useState } from 'react';
import type { ChangeView } from '@/server/mods';
import type { EntryDetail } from '@/server/preview';
import { FIT_TONES } from '../changes/fit-tones';
import { nameOf } from '../format';
import { Failed, Loading } from '../kit/Blank';
import { StateMark } from '../kit/StateMark';
import { useChangedText } from '../queries';
import { BytesView } from './BytesView';
import { PictureView } from '@/media/picture/ui/PictureView';
import { SoundView } from '@/media/sound/ui/SoundView';
import { TextView } from '@/media/text/ui/TextView';

interface Props {
  readonly gameId: number;
  readonly data: EntryDetail;
  /** What the mod that is worked on has in the place of it. */
  readonly change:
    { readonly modId: number; readonly modTitle: string; readonly change: ChangeView } | undefined;
  readonly onSave: (text: string, draftKey: string) => void;
  readonly saving: boolean;
}

/** The thing itself: as the mod will have it, with the original a key away, or as it is. */
export function EntryLook({ gameId, data, change, onSave, saving }: Props) {
  const [shows, setShows] = useState<'mod' | 'original'>('mod');
  useEffect(() => {
    const turn = (): void => setShows((now) => (now === 'mod' ? 'original' : 'mod'));
    window.addEventListener('zero-latch-original', turn);
    return () => window.removeEventListener('zero-latch-original', turn);
  }, []);
  const url = `/api/games/${gameId}/entries/${data.archiveId}/${data.index}`;
  // The archive's hash and size stand for its content, so a rebuilt one is fetched anew.
  const version = `v=${data.offset}-${data.storedSize}`;
  const draftKey = `${gameId} ${data.archive}#${data.index}`;
  const hasChange = change && change.change.action !== 'remove';
  const isMod = hasChange && shows === 'mod';
  const isReady = isMod && change.change.preparedSize !== null;
  const picture = data.look.sort === 'picture' && (!isMod || isReady) ? data.look : undefined;
  const shown = isReady
    ? changedPicture(gameId, data, change.modId, change.change)
    : originalPicture(gameId, data, url, version);
  return (
    <>
      {hasChange && (
        <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1, mb: 1 }}>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="What is shown"
            value={shows}
            onChange={(_event, next: 'mod' | 'original' | null) => next && setShows(next)}
          >
            <ToggleButton value="mod" sx={{ py: 0.1, px: 1.2 }} title={change.modTitle}>
              Changed
            </ToggleButton>
            <ToggleButton value="original" sx={{ py: 0.1, px: 1.2 }} title="o">
              Original
            </ToggleButton>
          </ToggleButtonGroup>
          <StateMark tone={FIT_TONES[change.change.fit]}>{change.change.fit}</StateMark>
          <Button size="small" component={NextLink} href={`/games/${gameId}/changes`} sx={{ ml: 'auto' }}>
            To the changes
          </Button>
        </Box>
      )}
      {picture ? (
        // One and the same for both, so that what is open over it stays open.
        <PictureView
          label={nameOf(data.path)}
          alpha={picture.alpha}
          pixelated={picture.width <= 128}
          {...shown}
        />
      ) : isMod ? (
        <ChangedLook
          gameId={gameId}
          data={data}
          modId={change.modId}
          change={change.change}
          draftKey={draftKey}
          onSave={onSave}
          saving={saving}
        />
      ) : (
        <OriginalLook
          data={data}
          url={url}
          version={version}
          // A text that is changed already is edited where it is shown changed.
          draftKey={hasChange ? undefined : draftKey}
          onSave={onSave}
          saving={saving}
        />
      )}
    </>
  );
}

type Pictured = Pick<Parameters<typeof PictureView>[0], 'url' | 'table'>;

/** A picture as the mod will have it. */
function changedPicture(gameId: number, data: EntryDetail, modId: number, change: ChangeView): Pictured {
  const base = `/api/games/${gameId}/mods/${modId}/changes/${change.id}`;
  return {
    url: `${base}/picture?v=${change.stamp}`,
    table: {
      title: data.path,
      role: data.role,
      url: `${base}/texels`,
      source: { gameId, archiveId: data.archiveId, index: data.index },
    },
  };
}

function originalPicture(gameId: number, data: EntryDetail, url: string, version: string): Pictured {
  const { look } = data;
  const isLarge = look.sort === 'picture' && look.width * look.height > MOST_INLINE;
  return {
    url: `${url}/picture?${isLarge ? 'most=512&' : ''}${version}`,
    table: {
      title: data.path,
      role: data.role,
      url: `${url}/texels`,
      blockUrl: `${url.replace('/api/', '')}/block`,
      source: { gameId, archiveId: data.archiveId, index: data.index },
    },
  };
}

function ChangedLook({
  gameId,
  data,
  modId,
  change,
  draftKey,
  onSave,
  saving,
}: {
  gameId: number;
  data: EntryDetail;
  modId: number;
  change: ChangeView;
  draftKey: string;
  onSave: Props['onSave'];
  saving: boolean;
}) {
  const base = `/api/games/${gameId}/mods/${modId}/changes/${change.id}`;
  const version = `v=${change.stamp}`;
  const { sort } = data.look;
  const text = useChangedText(gameId, modId, change.id, change.stamp, sort === 'text');
  if (sort === 'text') {
    if (text.error) return <Failed error={text.error} />;
    if (!text.data) return <Loading what="Reading the change" />;
    return (
      <TextView
        key={change.stamp}
        text={text.data.text}
        whole={text.data.whole}
        draftKey={draftKey}
        onSave={(now) => onSave(now, draftKey)}
        saving={saving}
      />
    );
  }
  if (change.preparedSize === null)
    return (
      <Box sx={{ p: 2, border: 1, borderColor: 'line', borderRadius: 1 }}>
        {change.givenName} does not fit yet: {change.findings[0]?.what}.
        <Button size="small" href={`/games/${gameId}/changes`} sx={{ ml: 1 }}>
          To the mend
        </Button>
      </Box>
    );
  if (sort === 'sound') return <SoundView url={`${base}/raw?${version}`} label={nameOf(data.path)} />;
  return (
    <Box sx={{ height: 190, border: 1, borderColor: 'line', borderRadius: 1, p: 1 }}>
      <BytesView
        url={`${base}/bytes`}
        size={Math.min(change.preparedSize, MOST_BYTES_SHOWN)}
        across={8}
        stamp={change.stamp}
      />
    </Box>
  );
}

/** A picture of more texels is shown by its thumbnail; the light table has all of it. */
const MOST_INLINE = 4096 * 4096;

/** Films that a browser can play as they are. */
const PLAYED = /\.(mp4|m4v|webm|mkv|mov)$/i;
const MOST_BYTES_SHOWN = 1 << 16;

function OriginalLook({
  data,
  url,
  version,
  draftKey,
  onSave,
  saving,
}: {
  data: EntryDetail;
  url: string;
  version: string;
  draftKey: string | undefined;
  onSave: Props['onSave'];
  saving: boolean;
}) {
  const { look } = data;
  if (look.sort === 'sound') return <SoundView url={`${url}/raw?${version}`} label={nameOf(data.path)} />;
  if (look.sort === 'text')
    return (
      <TextView
        key={`${data.archiveId}:${data.index}:${version}:${draftKey}`}
        text={look.text}
        whole={look.whole}
        draftKey={draftKey}
        onSave={(text) => onSave(text, draftKey ?? '')}
        saving={saving}
      />
    );
  if (look.sort === 'problem') return <Failed error={look.message} />;
  if (look.sort === 'film' && PLAYED.test(data.path))
    return (
      <Box
        component="video"
        controls
        preload="metadata"
        src={`${url}/raw?${version}`}
        aria-label={`Film ${nameOf(data.path)}`}
        sx={{ width: '100%', borderRadius: 1, bgcolor: 'muteBack' }}
      />
    );
  if (look.sort !== 'large')
    return (
      <Box sx={{ height: 190, border: 1, borderColor: 'line', borderRadius: 1, p: 1 }}>
        <BytesView url={`${url}/bytes`} size={Math.min(data.size, MOST_BYTES_SHOWN)} across={8} />
      </Box>
    );
  return (
    <Box sx={{ p: 2, border: 1, borderColor: 'line', borderRadius: 1, color: 'ink2' }}>
      It is too large to be shown here. Extract it, or look at its bytes.
    </Box>
  );
}
