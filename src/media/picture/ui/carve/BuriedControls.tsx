'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useRef, useState } from 'react';
import type { Buried, CarveView } from '@/server/looking/carve';
import { api } from '@/ui/api';
import type { ChannelSource } from '../light-table/ChannelMap';
import { useAction } from '@/ui/queries';
import { buriedQuery } from './buried-query';

/** Where and as what a stretch of bytes is read as a picture, and the ways out and back. */
export function BuriedControls({
  source,
  stem,
  modId,
  view,
  buried,
  onChange,
}: {
  source: ChannelSource;
  stem: string;
  modId: number | undefined;
  view: CarveView | undefined;
  buried: Buried;
  onChange: (buried: Buried) => void;
}) {
  const { gameId, archiveId, index } = source;
  const [resize, setResize] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const url = `games/${gameId}/entries/${archiveId}/${index}/carve`;
  const query = buriedQuery(buried, modId);
  const isFile = buried.layout === 'file';
  const { layouts = [], size = 0 } = view ?? {};
  const layout = layouts.find(({ name }) => name === buried.layout);
  const { block = 1, each = 1 } = layout ?? {};
  const row = Math.ceil(buried.width / block) * each;
  const length = row * Math.ceil(buried.height / block);
  const { data: widths = [] } = useQuery({
    queryKey: ['carve-widths', url, query],
    enabled: !isFile,
    queryFn: ({ signal }) =>
      api.get<number[]>(
        `${url}/widths?${buriedQuery({ ...buried, length: Math.max(length, 4096) }, modId)}`,
        signal,
      ),
  });
  const put = useAction(
    (given: File) =>
      api.put(
        `games/${gameId}/mods/${modId}/carve?${query}&${new URLSearchParams({
          archive: String(archiveId),
          index: String(index),
          name: given.name,
          resize: String(resize),
        })}`,
        given,
      ),
    () => enqueueSnackbar('Put in its place; the entry is a change of the mod now.', { variant: 'success' }),
  );
  const step = (by: number) => () =>
    onChange({ ...buried, offset: Math.min(Math.max(0, size - 1), Math.max(0, buried.offset + by)) });
  const number = (name: 'offset' | 'width' | 'height', label: string, least: number) => (
    <TextField
      type="number"
      size="small"
      label={label}
      value={buried[name]}
      onChange={(event) =>
        onChange({ ...buried, levels: 1, [name]: Math.max(least, Math.round(Number(event.target.value))) })
      }
    />
  );
  return (
    <Box component="section" aria-label="By hand">
      <Typography variant="h2" sx={{ mb: 1 }}>
        {isFile ? 'This one' : 'By hand'}
      </Typography>
      {!isFile && (
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.25 }}>
          <TextField
            select
            size="small"
            label="Read as"
            value={layout ? buried.layout : ''}
            onChange={(event) => onChange({ ...buried, levels: 1, layout: event.target.value })}
          >
            {layouts.map(({ name, title }) => (
              <MenuItem key={name} value={name}>
                {title}
              </MenuItem>
            ))}
          </TextField>
          {number('offset', 'From byte', 0)}
          <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
            {(
              [
                ['Row back', -row],
                ['Block back', -each],
                ['Byte back', -1],
                ['Byte on', 1],
                ['Block on', each],
                ['Row on', row],
              ] as const
            ).map(([label, by]) => (
              <Button key={label} size="small" onClick={step(by)} sx={{ minWidth: 0, px: 0.75 }}>
                {label}
              </Button>
            ))}
          </Box>
          <Box sx={{ display: 'flex', gap: 1 }}>
            {number('width', 'Width', 1)}
            {number('height', 'Height', 1)}
          </Box>
          {widths.length > 0 && (
            <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap', alignItems: 'center', fontSize: 12.5 }}>
              <Box sx={{ color: 'ink2' }}>Likely widths</Box>
              {widths.map((width) => (
                <Button
                  key={width}
                  size="small"
                  sx={{ minWidth: 0, px: 0.75 }}
                  onClick={() => onChange({ ...buried, levels: 1, width })}
                >
                  {width}
                </Button>
              ))}
            </Box>
          )}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 1, mt: 2, flexWrap: 'wrap', alignItems: 'center' }}>
        <Button
          variant="outlined"
          size="small"
          component="a"
          href={`/api/${url}/picture?${query}`}
          download={`${stem} at ${buried.offset}.png`}
        >
          Take out as PNG
        </Button>
        {isFile && (
          <Button
            variant="outlined"
            size="small"
            component="a"
            href={`/api/${url}/raw?${query}`}
            download={`${stem} at ${buried.offset}`}
          >
            Take out as it lies
          </Button>
        )}
        <Button
          variant="contained"
          size="small"
          disabled={modId === undefined}
          loading={put.isPending}
          onClick={() => file.current?.click()}
        >
          Put a picture there…
        </Button>
        <input
          ref={file}
          type="file"
          hidden
          aria-label="Picture for this place"
          onChange={(event) => {
            const given = event.target.files?.[0];
            event.target.value = '';
            if (given) put.mutate(given);
          }}
        />
        <FormControlLabel
          sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
          control={<Checkbox size="small" checked={resize} onChange={(_event, on) => setResize(on)} />}
          label="Resize it if need be"
        />
      </Box>
      {modId === undefined && (
        <Box sx={{ color: 'ink2', fontSize: 12.5 }}>Make a mod first; it gathers the changes.</Box>
      )}
    </Box>
  );
}
