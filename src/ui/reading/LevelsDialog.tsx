'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { TableWords } from '@/server/reading/change-words';
import type { LevelView } from '@/server/reading/levels';
import { api } from '../api';
import { WordsOfTable } from '../changes/WordsOfTable';
import { Failed, Loading } from '../kit/Blank';

const asked = (gameId: number, params: Record<string, string>): string =>
  `games/${gameId}/reading/levels?${new URLSearchParams(params).toString()}`;

/** What the table that the game finds says otherwise than those of the same path that it hides, or that another version of the game finds. */
export function LevelsDialog({
  gameId,
  table,
  onClose,
}: {
  gameId: number;
  table: string;
  onClose: () => void;
}) {
  const [chosen, setChosen] = useState('');
  const levels = useQuery({
    queryKey: ['reading', gameId, 'levels', table],
    queryFn: () => api.get<LevelView[]>(asked(gameId, { table })),
  });
  const others = levels.data?.filter(({ isFound }) => !isFound) ?? [];
  const found = levels.data?.find(({ isFound }) => isFound);
  const idOf = ({ archiveId, index }: LevelView): string => `${archiveId}:${index}`;
  const other = others.find((one) => idOf(one) === chosen) ?? others[0];
  const words = useQuery({
    queryKey: ['reading', gameId, 'levels', table, other && idOf(other)],
    enabled: other !== undefined,
    queryFn: () =>
      api.get<readonly TableWords[]>(
        asked(gameId, { table, archive: String(other!.archiveId), index: String(other!.index) }),
      ),
  });
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>What other versions say</DialogTitle>
      <DialogContent>
        {levels.error && <Failed error={levels.error} />}
        {!levels.data && !levels.error && <Loading what="Looking through archives and games" />}
        {levels.data && !other && (
          <Box sx={{ color: 'ink2' }}>
            No other archive or game has a file of this path; the game finds the only one.
          </Box>
        )}
        {other && (
          <>
            <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap', pt: 1, mb: 1.5 }}>
              <TextField
                select
                size="small"
                label="Another version"
                value={idOf(other)}
                onChange={({ target }) => setChosen(target.value)}
                sx={{ minWidth: 240 }}
              >
                {others.map((one) => (
                  <MenuItem key={idOf(one)} value={idOf(one)}>
                    {one.game
                      ? `${one.game.title}, ${one.archive}`
                      : `${one.archive}, hidden by the load order`}
                  </MenuItem>
                ))}
              </TextField>
              <Box sx={{ color: 'ink2', fontSize: 13.5 }}>to what the game finds in {found?.archive}</Box>
            </Box>
            {words.error && <Failed error={words.error} />}
            {!words.data && !words.error && <Loading what="Comparing" />}
            {words.data?.length === 0 && <Box sx={{ color: 'ink2' }}>Both say the same.</Box>}
            {words.data?.map((one) => (
              <WordsOfTable key={one.table} words={one} />
            ))}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
