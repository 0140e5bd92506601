'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import type { MapView } from '@/server/reading/map-view';
import { number } from '../../format';
import { glanceOf, hueOf } from './tile-looks';
import type { Painting } from './use-painting';

interface Props {
  readonly gameId: number;
  readonly map: MapView;
  readonly painting: Painting;
}

const MOST_LISTED = 200;
/** More than these are looked for by a part of their names. */
const MOST_UNSOUGHT = 12;

/** The tiles that a map is painted with, by their pictures and names. */
export function Palette({ gameId, map, painting: { brush, choose, waiting } }: Props) {
  const [text, setText] = useState('');
  const layer = brush?.layer ?? 0;
  const { palette, none } = map.layers[layer]!;
  const found = useMemo(() => {
    const low = text.trim().toLocaleLowerCase();
    return palette.filter(({ tile }) => map.tiles[tile]!.title.toLocaleLowerCase().includes(low));
  }, [map, palette, text]);
  const may = map.layers.flatMap((one, i) => (one.palette.length > 0 ? [{ field: one.field, i }] : []));
  return (
    <Box
      component="section"
      aria-label="Painting"
      sx={{
        ...{ p: 1.5, borderLeft: 1, borderBottom: 1, borderColor: 'line', bgcolor: 'panel' },
        ...{ display: 'flex', flexDirection: 'column', minHeight: 0, maxHeight: '55%' },
      }}
    >
      <Typography variant="h2" sx={{ fontSize: 13, fontWeight: 700, mb: 0.75 }}>
        Paint with
      </Typography>
      <Box sx={{ color: 'ink2', fontSize: 12.5, mb: 1 }}>
        Drag over spots, or Space on the spot one is on. Alt and a press take up what lies there; Shift and a
        drag move the map.
      </Box>
      {may.length > 1 && (
        <TextField
          select
          size="small"
          label="Layer"
          value={layer}
          onChange={({ target }) => {
            const next = Number(target.value);
            choose({ layer: next, ...map.layers[next]!.palette[0]! });
          }}
          sx={{ mb: 1 }}
        >
          {may.map(({ field, i }) => (
            <MenuItem key={field} value={i}>
              {field}
            </MenuItem>
          ))}
        </TextField>
      )}
      {palette.length > MOST_UNSOUGHT && (
        <TextField
          size="small"
          label="Find a tile"
          value={text}
          onChange={({ target }) => setText(target.value)}
          sx={{ mb: 1 }}
        />
      )}
      <ToggleButtonGroup
        exclusive
        orientation="vertical"
        size="small"
        aria-label="Tiles"
        value={brush?.tile ?? null}
        onChange={(_, tile: number | null) => {
          if (tile === null) return;
          const own = palette.find((one) => one.tile === tile);
          choose({ layer, tile, value: own?.value ?? none! });
        }}
        sx={{ overflow: 'auto', minHeight: 0 }}
      >
        {none !== null && (
          <ToggleButton value={-1} sx={{ justifyContent: 'flex-start', gap: 1, py: 0.5 }}>
            <Swatch url={null} hue={undefined} />
            no tile
          </ToggleButton>
        )}
        {found.slice(0, MOST_LISTED).map(({ tile }) => {
          const { title, entry } = map.tiles[tile]!;
          return (
            <ToggleButton
              key={tile}
              value={tile}
              sx={{ justifyContent: 'flex-start', textAlign: 'left', gap: 1, py: 0.5 }}
            >
              <Swatch url={glanceOf(gameId, entry)} hue={hueOf(title)} />
              <span>{title}</span>
            </ToggleButton>
          );
        })}
      </ToggleButtonGroup>
      {found.length === 0 && <Box sx={{ color: 'ink2', py: 1 }}>No tile is called so.</Box>}
      {found.length > MOST_LISTED && (
        <Box sx={{ color: 'ink2', py: 1 }}>and {number(found.length - MOST_LISTED)} more</Box>
      )}
      <Box role="status" aria-label="Strokes" sx={{ color: 'ink2', fontSize: 12.5, mt: 0.75 }}>
        {waiting > 0 ? 'Putting it into the mod …' : 'Each stroke is a step of the mod.'}
      </Box>
    </Box>
  );
}

/** A tile as it is drawn on the map: its picture, else its hue. */
function Swatch({ url, hue }: { url: string | null; hue: number | undefined }) {
  const size = { width: 22, height: 22, flex: 'none', borderRadius: 0.5 } as const;
  if (url !== null)
    return <Box component="img" src={url} alt="" loading="lazy" sx={{ ...size, objectFit: 'cover' }} />;
  return (
    <Box
      sx={{ ...size, border: 1, borderColor: 'line' }}
      style={hue === undefined ? undefined : { background: `hsl(${hue} 35% 48%)` }}
    />
  );
}
