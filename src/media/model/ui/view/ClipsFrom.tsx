'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import type { EntryPage } from '@/server/entries/entries';
import { api } from '@/ui/api';
import { nameOf } from '@/ui/format';

const MOST_LISTED = 100;

/** Chooses another file whose clips move this model; what does not fit is listed. */
export function ClipsFrom({
  gameId,
  archiveId,
  index,
  path,
  other,
  missing,
  error,
  onOther,
}: {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly other: string;
  /** Bones that the clip moves and this model has not. */
  readonly missing: readonly string[];
  readonly error: Error | null;
  readonly onOther: (entry: string | undefined) => void;
}) {
  const folder = path.slice(0, path.lastIndexOf('/') + 1);
  const query = new URLSearchParams({ folder, kind: 'model', limit: String(MOST_LISTED) });
  const { data } = useQuery<EntryPage>({
    queryKey: ['clips-beside', gameId, folder],
    queryFn: () => api.get(`games/${gameId}/entries?${query}`),
    retry: false,
  });
  const others = data?.rows.filter((row) => row.archiveId !== archiveId || row.index !== index) ?? [];
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Clips of
      </Typography>
      <Select
        size="small"
        displayEmpty
        fullWidth
        value={others.some((row) => `${row.archiveId}:${row.index}` === other) ? other : ''}
        onChange={({ target }) => onOther(target.value === '' ? undefined : target.value)}
        inputProps={{ 'aria-label': 'File whose clips are played' }}
      >
        <MenuItem value="">its own file</MenuItem>
        {others.map((row) => (
          <MenuItem key={`${row.archiveId}:${row.index}`} value={`${row.archiveId}:${row.index}`}>
            {nameOf(row.path)}
            {row.wins ? '' : `, hidden in ${row.archive}`}
          </MenuItem>
        ))}
      </Select>
      {error && (
        <Box role="alert" sx={{ color: 'bad', fontSize: 12.5, mt: 0.75 }}>
          {error.message}
        </Box>
      )}
      {missing.length > 0 && (
        <Box sx={{ color: 'look', fontSize: 12.5, mt: 0.75 }}>
          Bones that it moves and this model has not: {missing.join(', ')}
        </Box>
      )}
    </Box>
  );
}
