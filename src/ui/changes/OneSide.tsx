'use client';
import Box from '@mui/material/Box';
import type { ChangeView } from '@/server/mods/mods';
import { uiOf } from '@/media/ui';

/** A change that has one side only: an entry that is added, or one that is taken out. */
export function OneSide({ gameId, modId, change }: { gameId: number; modId: number; change: ChangeView }) {
  const isAdded = change.action === 'add';
  const title = isAdded ? 'as it will be' : 'the original';
  const Side = uiOf(change.kind)?.Side;
  if (!Side) return null;
  if (isAdded ? change.preparedSize === null : change.archiveId === null || change.index < 0) return null;
  const base = isAdded
    ? `/api/games/${gameId}/mods/${modId}/changes/${change.id}`
    : `/api/games/${gameId}/entries/${change.archiveId}/${change.index}-before`;
  const stamp = `stamp=${encodeURIComponent(`${change.givenName} ${change.preparedSize}`)}`;
  return (
    <Box>
      <Box sx={{ fontSize: 12.5, color: 'ink2', mb: 0.5 }}>{title}</Box>
      <Side url={base} stamp={stamp} title={title} path={change.path} label={`${change.path}, ${title}`} />
    </Box>
  );
}
