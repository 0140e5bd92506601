'use client';
import Box from '@mui/material/Box';
import type { ChangeView } from '@/server/mods';
import { SoundView } from '@/media/sound/ui/SoundView';
import { checker } from '../kit/checker';

/** A change that has one side only: an entry that is added, or one that is taken out. */
export function OneSide({ gameId, modId, change }: { gameId: number; modId: number; change: ChangeView }) {
  const isAdded = change.action === 'add';
  const title = isAdded ? 'as it will be' : 'now in the archive';
  if (change.kind !== 'picture' && change.kind !== 'sound') return null;
  if (isAdded ? change.preparedSize === null : change.archiveId === null || change.index < 0) return null;
  const base = isAdded
    ? `/api/games/${gameId}/mods/${modId}/changes/${change.id}`
    : `/api/games/${gameId}/entries/${change.archiveId}/${change.index}`;
  const stamp = `stamp=${encodeURIComponent(`${change.givenName} ${change.preparedSize}`)}`;
  return (
    <Box>
      <Box sx={{ fontSize: 12.5, color: 'ink2', mb: 0.5 }}>{title}</Box>
      {change.kind === 'sound' ? (
        <SoundView url={`${base}/raw?${stamp}`} label={change.path} />
      ) : (
        <Box
          component="img"
          src={`${base}/picture?most=600&${stamp}`}
          alt={`${change.path}, ${title}`}
          sx={{
            ...checker,
            display: 'block',
            maxWidth: '100%',
            maxHeight: 260,
            border: 1,
            borderColor: 'line',
          }}
        />
      )}
    </Box>
  );
}
