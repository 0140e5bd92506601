'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { PageLink } from '@/ui/kit/PageLink';
import { useState } from 'react';
import { PAD_KEYS, type PadClip } from '@/media/sound/core/board';
import type { ClipPlace } from '@/server/boards/clip-places';
import { sheet } from '@/ui/kit/Screen';
import { NumberField } from '@/ui/kit/NumberField';

const ENDS = [
  { name: 'from', title: 'From', empty: 'start' },
  { name: 'to', title: 'To', empty: 'end' },
] as const;

/** What is on a key, to be changed. */
export function PadKeySide({
  clip,
  place,
  onChange,
  onMove,
  onRemove,
}: {
  clip: PadClip;
  place: ClipPlace | undefined;
  onChange: (clip: PadClip) => void;
  onMove: (key: string) => void;
  onRemove: () => void;
}) {
  const [label, setLabel] = useState(clip.label);
  const keep = (): void => {
    if (label !== clip.label) onChange({ ...clip, label });
  };
  const end = (name: 'from' | 'to') => (value: number | undefined) => {
    const next: PadClip = { ...clip };
    if (value === undefined) delete next[name];
    else next[name] = value;
    onChange(next);
  };
  return (
    <Box
      component="section"
      aria-label={`Key ${clip.key}`}
      sx={{ ...sheet, p: 1.5, mt: 1, display: 'flex', alignItems: 'center', flexWrap: 'wrap', gap: 1.5 }}
    >
      <TextField
        select
        size="small"
        label="Key"
        value={clip.key}
        onChange={({ target }) => onMove(target.value)}
        sx={{ width: 76 }}
      >
        {PAD_KEYS.map((key) => (
          <MenuItem key={key} value={key}>
            {key.toUpperCase()}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        size="small"
        label="Name on the key"
        value={label}
        onChange={({ target }) => setLabel(target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === 'Enter' && (event.target as HTMLElement).blur()}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Box sx={{ fontSize: 12, color: 'ink2' }}>
        Louder by
        <NumberField
          label="Louder by"
          unit="dB"
          least={-60}
          most={60}
          value={clip.gain}
          onKeep={(value) => onChange({ ...clip, gain: value ?? 0 })}
        />
      </Box>
      {ENDS.map(({ name, title, empty }) => (
        <Box key={name} sx={{ fontSize: 12, color: 'ink2' }}>
          {title}
          <NumberField
            label={title}
            unit="s"
            least={0}
            most={86_400}
            empty={empty}
            value={clip[name]}
            onKeep={end(name)}
          />
        </Box>
      ))}
      <Box
        sx={{
          flex: '1 1 200px',
          minWidth: 0,
          fontSize: 12.5,
          color: place?.entry ? 'ink2' : 'bad',
          overflowWrap: 'anywhere',
        }}
      >
        {place?.entry ? (
          <Box
            component={PageLink}
            href={`/games/${clip.game}/contents?entry=${place.entry.archiveId}:${place.entry.index}`}
            sx={{ color: 'inherit' }}
          >
            {clip.path} in {clip.archive}, {place.gameTitle}
          </Box>
        ) : (
          (place?.why ?? clip.path)
        )}
      </Box>
      <Button size="small" onClick={onRemove}>
        Take it off
      </Button>
    </Box>
  );
}
