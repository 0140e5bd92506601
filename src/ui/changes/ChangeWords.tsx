'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { uiOf } from '@/media/ui';
import type { ChangeView } from '@/server/mods/mods';
import type { TableWords } from '@/server/reading/change-words';
import { api } from '../api';
import { WordsOfTable } from './WordsOfTable';

/** What a change of a table says differently, value by value; nothing for what is no table. */
export function ChangeWords({
  gameId,
  modId,
  change,
}: {
  gameId: number;
  modId: number;
  change: ChangeView;
}) {
  const isTold = uiOf(change.kind)?.isToldInWords === true && change.preparedSize !== null;
  const { data } = useQuery({
    queryKey: ['changes', gameId, modId, 'words', change.id, change.givenName, change.preparedSize],
    enabled: isTold,
    queryFn: () =>
      api.get<{ readonly tables: readonly TableWords[] }>(
        `games/${gameId}/mods/${modId}/changes/${change.id}/words`,
      ),
  });
  if (!isTold || !data || data.tables.length === 0) return null;
  return (
    <Box component="section" aria-label="In words">
      {data.tables.map((one) => (
        <WordsOfTable
          key={one.table}
          words={one}
          href={`/games/${gameId}/read?table=${encodeURIComponent(one.table)}`}
        />
      ))}
    </Box>
  );
}
