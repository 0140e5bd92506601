'use client';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import type { BesideProps } from '@/media/medium-ui';
import type { Known } from '@/server/looking/measure-all';
import type { EntryRecord } from '@/server/entries/catalogue';
import { api } from '@/ui/api';
import { EntryRow } from '@/ui/contents/EntryRow';
import { nameOf, number } from '@/ui/format';

const AGAIN_MS = 1500;

/** Models that are called nearly as this one is, with their triangles: the finest stands first. */
export function AlikeModels({ gameId, data: { archiveId, index }, onShow }: BesideProps) {
  // Whoever asks has those counted that were not.
  const { data: known } = useQuery({
    queryKey: ['known', gameId, 'model'],
    queryFn: () => api.get<Known[]>(`games/${gameId}/known?kinds=model`),
    refetchInterval: ({ state }) =>
      state.data?.some(({ all, measured }) => measured < all) ? AGAIN_MS : false,
  });
  const counted = known?.[0]?.measured ?? 0;
  const { data: alike = [] } = useQuery({
    queryKey: ['alike-names', gameId, archiveId, index, counted],
    enabled: counted > 0,
    queryFn: () => api.get<EntryRecord[]>(`games/${gameId}/entries/${archiveId}/${index}/alike-names`),
  });
  if (alike.length === 0) return null;
  return (
    <Box component="section" aria-label="Alike in name" sx={{ mt: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Alike in name
      </Typography>
      {alike.map((entry) => {
        const isThis = entry.archiveId === archiveId && entry.index === index;
        const isFinest = entry.measured?.found.includes('finest');
        return (
          <Box
            key={`${entry.archiveId}:${entry.index}`}
            sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}
          >
            <Box sx={{ flex: 1, minWidth: 0, fontWeight: isThis ? 700 : 400 }}>
              {isThis ? (
                <span className="mono">{nameOf(entry.path)}</span>
              ) : (
                <EntryRow
                  path={nameOf(entry.path)}
                  title={`${entry.path} in ${entry.archive}`}
                  onShow={() => onShow(entry.archiveId, entry.index)}
                />
              )}
            </Box>
            <Box sx={{ color: isFinest ? 'look' : 'ink2', fontSize: 12.5, whiteSpace: 'nowrap' }}>
              {number(entry.measured?.triangles ?? 0)} triangles{isFinest ? ', the most' : ''}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
