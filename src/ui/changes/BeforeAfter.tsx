'use client';
import Box from '@mui/material/Box';
import { useState } from 'react';
import type { ChangeView } from '@/server/mods';
import { LightTable, type OnTable } from '@/media/picture/ui/light-table/LightTable';
import { checker } from '../kit/checker';
import { SoundView } from '@/media/sound/ui/SoundView';

/** The slot as it is and as it will be, for pictures and sounds. */
export function BeforeAfter({
  gameId,
  modId,
  change,
}: {
  gameId: number;
  modId: number;
  change: ChangeView;
}) {
  const [table, setTable] = useState<OnTable>();
  if (change.archiveId === null || change.index < 0 || (change.kind !== 'picture' && change.kind !== 'sound'))
    return null;
  const before = `/api/games/${gameId}/entries/${change.archiveId}/${change.index}`;
  const after = `/api/games/${gameId}/mods/${modId}/changes/${change.id}`;
  const ready = change.preparedSize !== null;
  const stamp = `stamp=${encodeURIComponent(`${change.givenName} ${change.preparedSize} ${change.mends.join()}`)}`;
  const sides = [
    ['now in the archive', change.kind === 'picture' ? `${before}/picture?most=600` : `${before}/raw?`],
    [
      'as it will be',
      ready ? (change.kind === 'picture' ? `${after}/picture?${stamp}` : `${after}/raw?${stamp}`) : undefined,
    ],
  ] as const;
  const onTable = (side: string): OnTable => {
    const [now, then] = [
      { url: `${before}/texels`, title: sides[0][0] },
      { url: `${after}/texels`, title: sides[1][0] },
    ];
    const [first, second] = side === sides[1][0] ? [then, now] : [now, then];
    return { title: `${change.path}, ${first.title}`, url: first.url, other: ready ? second : undefined };
  };
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: change.kind === 'picture' ? '1fr 1fr' : '1fr', gap: 1 }}>
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
          ) : change.kind === 'picture' ? (
            <Box
              component="button"
              aria-label={`Look closely at ${change.path}, ${title}`}
              onClick={() => setTable(onTable(title))}
              sx={{
                all: 'unset',
                boxSizing: 'border-box',
                display: 'block',
                width: '100%',
                cursor: 'zoom-in',
                border: 1,
                borderColor: 'line',
                borderRadius: 1,
                overflow: 'hidden',
                height: 110,
                ...checker,
                '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
              }}
            >
              <img
                src={url}
                alt={`${change.path}, ${title}`}
                style={{ width: '100%', height: '100%', objectFit: 'contain' }}
              />
            </Box>
          ) : (
            <SoundView url={url} label={`${change.path}, ${title}`} />
          )}
        </Box>
      ))}
      <LightTable on={table} onClose={() => setTable(undefined)} />
    </Box>
  );
}
