'use client';
import Box from '@mui/material/Box';
import type { ChangeView } from '@/server/mods/mods';
import { uiOf } from '@/media/ui';

/** The slot as it was before any installation and as it will be, for media that can be looked at or heard. */
export function BeforeAfter({
  gameId,
  modId,
  change,
}: {
  gameId: number;
  modId: number;
  change: ChangeView;
}) {
  const ui = uiOf(change.kind);
  if (change.archiveId === null || change.index < 0 || !ui?.Side) return null;
  const before = `/api/games/${gameId}/entries/${change.archiveId}/${change.index}-before`;
  const after = `/api/games/${gameId}/mods/${modId}/changes/${change.id}`;
  const ready = change.preparedSize !== null;
  const stamp = `stamp=${encodeURIComponent(`${change.givenName} ${change.preparedSize} ${change.mends.join()}`)}`;
  const sides = [
    ['the original', before],
    ['as it will be', ready ? after : undefined],
  ] as const;
  const { Side } = ui;
  /** What a side is looked at together with; null where it is not there yet. */
  const otherSide = (title: string): { url: string; title: string } | null => {
    const [name, url] = sides.find(([one]) => one !== title)!;
    return url === undefined ? null : { url, title: name };
  };
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: ui.sidesBeside ? '1fr 1fr' : '1fr', gap: 1 }}>
      {sides.map(([title, url]) => (
        <Box key={title}>
          <Box sx={{ fontSize: 12.5, color: 'ink2', mb: 0.5 }}>{title}</Box>
          {url === undefined ? (
            <Box
              sx={{
                height: 110,
                border: 1,
                borderColor: 'line',
                borderRadius: 1,
                display: 'flex',
                alignItems: 'center',
                justifyContent: 'center',
                p: 1,
                color: 'ink2',
                fontSize: 12.5,
                textAlign: 'center',
              }}
            >
              not before it fits
            </Box>
          ) : (
            <Side
              url={url}
              stamp={stamp}
              title={title}
              path={change.path}
              label={`${change.path}, ${title}`}
              against={otherSide(title)}
            />
          )}
        </Box>
      ))}
    </Box>
  );
}
