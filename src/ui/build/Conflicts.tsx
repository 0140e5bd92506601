'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import type { Conflict } from '@/core/mod';
import type { ModView } from '@/server/mods/mods';
import { api } from '../api';
import { plural } from '../format';
import { sheet } from '../kit/Screen';
import { useAction } from '../queries';

const MOST_SHOWN = 200;

/** What several mods change in different ways, and which of them has its way. */
export function Conflicts({
  gameId,
  conflicts,
  mods,
}: {
  gameId: number;
  conflicts: readonly Conflict[];
  mods: readonly ModView[];
}) {
  const choose = useAction((choice: { path: string; modId: number | null }) =>
    api.post(`games/${gameId}/choices`, choice),
  );
  const titleOf = (id: number): string => mods.find((mod) => mod.id === id)?.title ?? `mod ${id}`;
  return (
    <Box component="section" aria-label="Conflicts" sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {plural(conflicts.length, 'path is', 'paths are')} changed by several mods
      </Typography>
      <Box sx={sheet}>
        {conflicts.slice(0, MOST_SHOWN).map(({ path, mods: ids, taken, by }) => (
          <Box
            key={path}
            sx={{
              display: 'grid',
              gridTemplateColumns: 'minmax(0, 1fr) 260px',
              gap: 1.5,
              px: 1.5,
              py: 0.75,
              borderBottom: 1,
              borderColor: 'line',
              alignItems: 'center',
            }}
          >
            <Box
              className="mono"
              title={path}
              sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            >
              {path}
            </Box>
            <TextField
              select
              size="small"
              value={by === 'order' ? '' : taken}
              onChange={({ target }) =>
                choose.mutate({ path, modId: target.value === '' ? null : Number(target.value) })
              }
              slotProps={{
                select: { displayEmpty: true },
                htmlInput: { 'aria-label': `Which mod changes ${path}` },
              }}
            >
              <MenuItem value="">By the order: {titleOf(by === 'order' ? taken : ids.at(-1)!)}</MenuItem>
              {ids.map((id) => (
                <MenuItem key={id} value={id}>
                  Always {titleOf(id)}
                </MenuItem>
              ))}
            </TextField>
          </Box>
        ))}
      </Box>
      {conflicts.length > MOST_SHOWN && (
        <Box sx={{ color: 'ink2', mt: 1 }}>
          {plural(conflicts.length - MOST_SHOWN, 'more is', 'more are')} told by the order.
        </Box>
      )}
    </Box>
  );
}
