'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { uiOf } from '@/media/ui';
import type { ChangeView } from '@/server/mods/mods';
import type { TableWords } from '@/server/reading/change-words';
import { api } from '../api';
import { nameOf, number, plural } from '../format';
import { PageLink } from '../kit/PageLink';

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
      api.get<readonly TableWords[] | null>(`games/${gameId}/mods/${modId}/changes/${change.id}/words`),
  });
  if (!isTold || !data || data.length === 0) return null;
  return (
    <Box component="section" aria-label="In words">
      {data.map((one) => (
        <OneTable key={one.table} gameId={gameId} words={one} />
      ))}
    </Box>
  );
}

function OneTable({ gameId, words }: { gameId: number; words: TableWords }) {
  const { table, values, count, added, removed, isMoved, columnsAdded, columnsRemoved } = words;
  const listed = (title: string, names: readonly string[]) =>
    names.length > 0 && (
      <Box sx={{ fontSize: 13.5, mt: 0.5 }}>
        {title}: {names.join(', ')}
      </Box>
    );
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ fontSize: 12.5, color: 'ink2', mb: 0.25 }}>
        {plural(count, 'value')} of {nameOf(table)} changed,{' '}
        <PageLink
          style={{ color: 'inherit' }}
          href={`/games/${gameId}/read?table=${encodeURIComponent(table)}`}
        >
          read it
        </PageLink>
      </Box>
      <Box sx={{ maxHeight: 260, overflow: 'auto' }}>
        {values.map(({ row, field, before, after, isNowhere }, i) => (
          <Box key={i} sx={{ fontSize: 13.5, py: 0.25, overflowWrap: 'anywhere' }}>
            <Box component="span" sx={{ fontWeight: 600 }}>
              {row}
            </Box>
            : {field} {before} to {after}
            {isNowhere && (
              <Box component="span" sx={{ color: 'bad' }}>
                {' '}
                (no row is called so)
              </Box>
            )}
          </Box>
        ))}
      </Box>
      {count > values.length && (
        <Box sx={{ fontSize: 12.5, color: 'ink2' }}>and {number(count - values.length)} more</Box>
      )}
      {listed('Rows added', added)}
      {listed('Rows taken out', removed)}
      {listed('Fields added', columnsAdded)}
      {listed('Fields taken out', columnsRemoved)}
      {isMoved && <Box sx={{ fontSize: 13.5, mt: 0.5 }}>Rows stand in another order.</Box>}
    </Box>
  );
}
