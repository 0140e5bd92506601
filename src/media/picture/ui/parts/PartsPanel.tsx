'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { Region } from '@/media/picture/core/atlas';
import type { AtlasView } from '@/server/looking/atlas';
import { api } from '@/ui/api';
import { nameOf, plural } from '@/ui/format';
import type { ChannelSource } from '../light-table/ChannelMap';
import { useAction } from '@/ui/queries';
import { PartsList } from './PartsList';
import type { PartsBy } from './use-parts';

const stemOf = (file: string): string => file.replace(/\.[^.]*$/, '').toLowerCase();

/** How a request says that the parts are the frames of the file. */
const OWN_FRAMES = ':frames';

/** The part that a file is meant for by its name; a single picked part takes a file of any name. */
function partFor(file: string, regions: readonly Region[], picked: readonly Region[]): Region | undefined {
  const stem = stemOf(file);
  const named = regions.find(({ name }) => name.toLowerCase() === stem);
  if (named) return named;
  const ending = regions.filter(({ name }) => stem.endsWith(name.toLowerCase()));
  if (ending.length === 1) return ending[0];
  return picked.length === 1 ? picked[0] : undefined;
}

/** Where parts are told from, which are picked, and the ways out and back. */
export function PartsPanel({
  source,
  modId,
  atlas,
  by,
  onBy,
  picked,
  onPicked,
  onToggle,
}: {
  source: ChannelSource;
  modId: number | undefined;
  atlas: AtlasView | undefined;
  by: PartsBy;
  onBy: (by: PartsBy) => void;
  picked: ReadonlySet<string>;
  onPicked: (picked: ReadonlySet<string>) => void;
  onToggle: (name: string) => void;
}) {
  const { gameId, archiveId, index } = source;
  const [search, setSearch] = useState('');
  const [resize, setResize] = useState(false);
  const regions = atlas?.regions ?? [];
  const chosen = regions.filter(({ name }) => picked.has(name));
  const wanted = search.trim().toLowerCase();
  const shown = wanted === '' ? regions : regions.filter(({ name }) => name.toLowerCase().includes(wanted));
  const cut = useAction(
    () =>
      api.blob(
        `games/${gameId}/entries/${archiveId}/${index}/atlas`,
        JSON.stringify({ regions: chosen, ...(modId !== undefined && { mod: modId }) }),
      ),
    (zip) => {
      const link = document.createElement('a');
      link.href = URL.createObjectURL(zip);
      link.download = 'parts.zip';
      link.click();
      URL.revokeObjectURL(link.href);
    },
  );
  const back = useAction(
    async (files: readonly File[]) => {
      const pieces: { region: Region; name: string; blob: string }[] = [];
      const unknown: string[] = [];
      for (const file of files) {
        const region = partFor(file.name, regions, files.length === 1 ? chosen : []);
        if (!region) {
          unknown.push(file.name);
          continue;
        }
        const query = new URLSearchParams({ name: file.name });
        const { blob } = await api.put<{ blob: string }>(
          `games/${gameId}/mods/${modId}/retouch?${query}`,
          file,
        );
        pieces.push({ region, name: file.name, blob });
      }
      if (pieces.length === 0)
        throw new Error(`No part is called like ${unknown[0]}. Tick the one that it is for.`);
      await api.post(`games/${gameId}/mods/${modId}/retouch`, { archive: archiveId, index, pieces, resize });
      return { taken: pieces.length, unknown };
    },
    ({ taken, unknown }) => {
      enqueueSnackbar(`${plural(taken, 'part')} put back.`, { variant: 'success' });
      if (unknown.length > 0)
        enqueueSnackbar(`No part is called like ${unknown.slice(0, 3).join(', ')}.`, { variant: 'warning' });
    },
  );
  const drop = useDropzone({
    noClick: true,
    noKeyboard: true,
    disabled: modId === undefined || back.isPending,
    onDropAccepted: (files) => back.mutate(files),
  });
  const told = by.list ?? atlas?.list ?? '';
  return (
    <Box
      {...drop.getRootProps()}
      // Where nothing can be dropped, all else can be used.
      aria-disabled={undefined}
      component="section"
      aria-label="Parts of this sheet"
      sx={{
        display: 'flex',
        flexDirection: 'column',
        minHeight: 330,
        flex: 1,
        mb: 2.5,
        outline: drop.isDragActive ? '2px dashed' : 'none',
        outlineColor: 'brass',
        outlineOffset: 6,
      }}
    >
      <input {...drop.getInputProps({ 'aria-label': 'Parts to put back' })} />
      <Typography variant="h2" sx={{ mb: 1 }}>
        Parts
      </Typography>
      <TextField
        select
        size="small"
        label="Told by"
        value={told}
        onChange={(event) => onBy({ ...by, list: event.target.value })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">the gaps between them</MenuItem>
        {atlas && atlas.frames > 0 && (
          <MenuItem value={OWN_FRAMES}>the file itself, {plural(atlas.frames, 'frame')}</MenuItem>
        )}
        {[...new Set([...(atlas?.lists ?? []), ...(told && told !== OWN_FRAMES ? [told] : [])])].map(
          (path) => (
            <MenuItem key={path} value={path}>
              {nameOf(path)}
            </MenuItem>
          ),
        )}
      </TextField>
      {told === '' && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1.25 }}>
          <Whole label="Gap, texels" value={by.gap} most={64} onChange={(gap) => onBy({ ...by, gap })} />
          <Whole
            label="Empty up to"
            value={by.threshold}
            most={254}
            onChange={(threshold) => onBy({ ...by, threshold })}
          />
        </Box>
      )}
      <TextField
        size="small"
        label="Part of the name"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
        sx={{ mt: 1.25 }}
      />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, my: 0.5 }}>
        <Box sx={{ flex: 1, fontSize: 13, color: 'ink2' }}>
          {chosen.length} of {regions.length} picked
        </Box>
        <Button size="small" onClick={() => onPicked(new Set([...picked, ...shown.map(({ name }) => name)]))}>
          Pick {wanted === '' ? 'all' : `these ${shown.length}`}
        </Button>
        <Button size="small" disabled={chosen.length === 0} onClick={() => onPicked(new Set())}>
          None
        </Button>
      </Box>
      <PartsList regions={shown} picked={picked} onToggle={onToggle} />
      <Box sx={{ display: 'flex', gap: 1, mt: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <Button
          size="small"
          variant="outlined"
          disabled={chosen.length === 0}
          loading={cut.isPending}
          onClick={() => cut.mutate(undefined)}
        >
          Cut out {chosen.length > 0 ? chosen.length : ''}
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={modId === undefined || regions.length === 0}
          loading={back.isPending}
          onClick={drop.open}
        >
          Put back…
        </Button>
        <FormControlLabel
          sx={{ mr: 0, '& .MuiFormControlLabel-label': { fontSize: 13 } }}
          control={<Checkbox size="small" checked={resize} onChange={(_event, on) => setResize(on)} />}
          label="to size"
          title="Pieces of another size are made to fit"
        />
      </Box>
    </Box>
  );
}

function Whole({
  label,
  value,
  most,
  onChange,
}: {
  label: string;
  value: number;
  most: number;
  onChange: (value: number) => void;
}) {
  return (
    <TextField
      type="number"
      size="small"
      label={label}
      value={value}
      onChange={(event) => onChange(Math.min(most, Math.max(0, Math.round(Number(event.target.value)))))}
    />
  );
}
