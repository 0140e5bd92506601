'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { PageLink } from '../kit/PageLink';
import { useEffect, useState } from 'react';
import type { ChangeView } from '@/server/mods/mods';
import type { EntryDetail } from '@/server/looking/preview';
import { FIT_TONES } from '../changes/fit-tones';
import type { LookProps } from '@/media/medium-ui';
import { uiOf } from '@/media/ui';
import { Failed } from '../kit/Blank';
import { StateMark } from '../kit/StateMark';
import { BytesView } from './BytesView';

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
          <Button size="small" component={PageLink} href={`/games/${gameId}/changes`} sx={{ ml: 'auto' }}>
            To the changes
          </Button>
        </Box>
      )}
      <TheThing
        gameId={gameId}
        data={data}
        // A text that is changed already is edited where it is shown changed.
        draftKey={hasChange && !isMod ? undefined : draftKey}
        onSave={onSave}
        saving={saving}
        {...(isMod
          ? {
              url: `/api/games/${gameId}/mods/${change.modId}/changes/${change.change.id}`,
              version: `v=${change.change.stamp}`,
              changed: { ...change.change, modId: change.modId },
            }
          : { url, version, changed: undefined })}
        given={isMod ? change.change : undefined}
      />
    </>
  );
}

const MOST_BYTES_SHOWN = 1 << 16;

/** What its medium shows of it, or its bytes, or why neither can be. */
function TheThing({ given, ...props }: LookProps & { readonly given: ChangeView | undefined }) {
  const { data, url, changed } = props;
  const { look } = data;
  const ui = uiOf(look.sort);
  if (given && given.preparedSize === null && !ui?.looksUnfit)
    return (
      <Box sx={{ p: 2, border: 1, borderColor: 'line', borderRadius: 1 }}>
        {given.givenName} does not fit yet: {given.findings[0]?.what}.
        <Button size="small" href={`/games/${props.gameId}/changes`} sx={{ ml: 1 }}>
          To the mend
        </Button>
      </Box>
    );
  if (ui?.Look && (ui.canLook?.(data) ?? true)) return <ui.Look {...props} />;
  if (!changed && look.sort === 'problem') return <Failed error={look.message} />;
  if (!changed && look.sort === 'large')
    return (
      <Box sx={{ p: 2, border: 1, borderColor: 'line', borderRadius: 1, color: 'ink2' }}>
        It is too large to be shown here. Extract it, or look at its bytes.
      </Box>
    );
  return (
    <Box sx={{ height: 190, border: 1, borderColor: 'line', borderRadius: 1, p: 1 }}>
      <BytesView
        url={`${url}/bytes`}
        size={Math.min(changed?.preparedSize ?? data.size, MOST_BYTES_SHOWN)}
        across={8}
        {...(changed && { stamp: changed.stamp })}
      />
    </Box>
  );
}
