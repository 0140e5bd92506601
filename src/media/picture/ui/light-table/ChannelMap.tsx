'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { enqueueSnackbar } from 'notistack';
import { useRef, useState } from 'react';
import { api } from '@/ui/api';
import { useAction } from '@/ui/queries';
import { useMod } from '@/ui/use-mod';

/** Where a channel comes from and goes to. */
export interface ChannelSource {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
}

/** One channel as a grey map of its own: saved as PNG, and one from outside put in its place. */
export function ChannelMap({
  source,
  channel,
  name,
}: {
  source: ChannelSource;
  channel: string;
  name: string;
}) {
  const { gameId, archiveId, index } = source;
  const [inverted, setInverted] = useState(false);
  const { mod } = useMod(gameId);
  const file = useRef<HTMLInputElement>(null);
  const put = useAction(
    (given: File) => {
      if (!mod) throw new Error('Make a mod first; it gathers the changes.');
      const query = new URLSearchParams({
        archive: String(archiveId),
        index: String(index),
        channel,
        inverted: String(inverted),
        name: given.name,
      });
      return api.put<{ fit: string }>(`games/${gameId}/mods/${mod.id}/channel?${query}`, given);
    },
    ({ fit }) =>
      enqueueSnackbar(
        `The ${channel} of ${name} is changed${fit === 'does not fit' ? '; it does not fit yet' : ''}.`,
      ),
  );
  const address = `/api/games/${gameId}/entries/${archiveId}/${index}/picture?channel=${channel}&inverted=${inverted}`;
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', mb: 1 }}>
      <Button size="small" variant="outlined" href={address} download={`${name}.${channel}.png`}>
        Save as a grey map
      </Button>
      <Button
        size="small"
        variant="outlined"
        loading={put.isPending}
        disabled={!mod}
        onClick={() => file.current?.click()}
      >
        Put a map in
      </Button>
      <input
        ref={file}
        type="file"
        hidden
        aria-label={`Grey map for ${channel}`}
        onChange={(event) => {
          const given = event.target.files?.[0];
          event.target.value = '';
          if (given) put.mutate(given);
        }}
      />
      <FormControlLabel
        sx={{ '& .MuiFormControlLabel-label': { fontSize: 13.5 } }}
        control={
          <Checkbox size="small" checked={inverted} onChange={(event) => setInverted(event.target.checked)} />
        }
        label="Inverted"
      />
    </Box>
  );
}
