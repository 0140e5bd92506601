'use client';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { Policy } from '@/core/fit';
import { api } from '../api';
import { useAction } from '../queries';

const WORDS: Readonly<Record<Policy, string>> = {
  refuse: 'Refuse doubts',
  warn: 'Point doubts out',
  allow: 'Allow doubts',
};

/** What the mod does with what is only worth a look. */
export function PolicyChoice({ gameId, mod }: { gameId: number; mod: { id: number; policy: Policy } }) {
  const save = useAction((policy: Policy) => api.patch(`games/${gameId}/mods/${mod.id}`, { policy }));
  return (
    <TextField
      select
      size="small"
      value={mod.policy}
      onChange={(event) => save.mutate(event.target.value as Policy)}
      slotProps={{ htmlInput: { 'aria-label': 'What is only worth a look' } }}
      sx={{ minWidth: 150 }}
    >
      {Object.entries(WORDS).map(([policy, words]) => (
        <MenuItem key={policy} value={policy}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
