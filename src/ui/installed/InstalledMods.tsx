'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { InstallationView } from '@/server/installing/installations';
import { api } from '../api';
import { sheet } from '../kit/Screen';
import { useAction, useRunning } from '../queries';

/** The mods that are installed together; each can be taken out alone. */
export function InstalledMods({ gameId, mods }: { gameId: number; mods: InstallationView['mods'] }) {
  const running = useRunning(gameId, 'take-out');
  const takeOut = useAction((modId: number) => api.post(`games/${gameId}/jobs`, { kind: 'take-out', modId }));
  return (
    <Box component="section" aria-label="Installed mods" sx={{ ...sheet, mb: 2 }}>
      {mods.map(({ id, title }, i) => (
        <Box
          key={id}
          sx={{
            display: 'flex',
            gap: 1.5,
            px: 1.5,
            py: 0.5,
            borderBottom: 1,
            borderColor: 'line',
            alignItems: 'center',
          }}
        >
          <Box sx={{ color: 'ink2', width: 20 }}>{i + 1}</Box>
          <Box sx={{ flex: 1, fontWeight: 600, overflowWrap: 'anywhere' }}>{title}</Box>
          <Button
            size="small"
            disabled={running !== undefined}
            aria-label={`Take out ${title}`}
            onClick={() => takeOut.mutate(id)}
          >
            Take out
          </Button>
        </Box>
      ))}
    </Box>
  );
}
