'use client';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import type { Place } from '@/media/picture/core/texture';
import type { Texels } from './texel-messages';
import { CHANNELS, GROUNDS, type View } from './view-state';

const FACES = ['right', 'left', 'top', 'bottom', 'front', 'back'];

function Group<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly T[];
  onChange: (value: T) => void;
}) {
  return (
    <Box sx={{ mb: 1.25 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        {label}
      </Typography>
      <ToggleButtonGroup
        exclusive
        fullWidth
        size="small"
        value={value}
        aria-label={label}
        onChange={(_event, next: T | null) => next && onChange(next)}
      >
        {options.map((option) => (
          <ToggleButton key={option} value={option} sx={{ py: 0.1, px: 0.5 }}>
            {option}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}

/** Which of the images of a picture is looked at. */
function Images({
  facts,
  place,
  onChange,
}: {
  facts: Texels['facts'];
  place: Place;
  onChange: (place: Place) => void;
}) {
  const slices = Math.max(1, facts.depth >> place.level);
  const lists: [keyof Place, string, string[]][] = [
    [
      'level',
      'Level',
      Array.from(
        { length: facts.levels },
        (_, n) => `${n}: ${Math.max(1, facts.width >> n)} x ${Math.max(1, facts.height >> n)}`,
      ),
    ],
    ['layer', 'Layer', Array.from({ length: facts.layers }, (_, n) => `${n + 1} of ${facts.layers}`)],
    ['face', 'Face', Array.from({ length: facts.faces }, (_, n) => FACES[n] ?? `${n}`)],
    ['slice', 'Slice', Array.from({ length: slices }, (_, n) => `${n + 1} of ${slices}`)],
  ];
  const shown = lists.filter(([, , options]) => options.length > 1);
  if (shown.length === 0) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1, mb: 1.5 }}>
      {shown.map(([name, label, options]) => (
        <TextField
          key={name}
          select
          size="small"
          label={label}
          value={place[name]}
          onChange={(event) =>
            onChange({ ...place, [name]: Number(event.target.value), ...(name === 'level' && { slice: 0 }) })
          }
        >
          {options.map((option, n) => (
            <MenuItem key={option} value={n}>
              {option}
            </MenuItem>
          ))}
        </TextField>
      ))}
    </Box>
  );
}

const SWITCHES: readonly [keyof View & ('tinted' | 'linear' | 'tiled' | 'lit' | 'masked'), string][] = [
  ['tinted', 'Single channel in its colour'],
  ['linear', 'Texels are linear light'],
  ['tiled', 'Repeat in all directions'],
  ['lit', 'Directions under a light'],
  ['masked', 'Areas in colours'],
];

/** Everything that can be chosen on the light table. */
export function Choices({
  facts,
  place,
  onPlace,
  view,
  onView,
  canCompare,
}: {
  facts: Texels['facts'];
  place: Place;
  onPlace: (place: Place) => void;
  view: View;
  onView: (change: Partial<View>) => void;
  canCompare: boolean;
}) {
  return (
    <>
      <Images facts={facts} place={place} onChange={onPlace} />
      {canCompare && (
        <>
          <Group
            label="Against the other"
            value={view.compare}
            options={['off', 'slider', 'difference']}
            onChange={(compare) => onView({ compare })}
          />
          {view.compare === 'difference' && (
            <Box sx={{ px: 1, mb: 1 }}>
              <Slider
                size="small"
                aria-label="Gain of the difference"
                min={1}
                max={64}
                value={view.gain}
                valueLabelDisplay="auto"
                valueLabelFormat={(gain) => `${gain} times`}
                onChange={(_event, gain) => onView({ gain: gain as number })}
              />
            </Box>
          )}
        </>
      )}
      <Group
        label="Channel"
        value={view.channel}
        options={CHANNELS}
        onChange={(channel) => onView({ channel })}
      />
      {facts.alpha && (
        <Group
          label="Behind alpha"
          value={view.ground}
          options={GROUNDS}
          onChange={(ground) => onView({ ground })}
        />
      )}
      {facts.alpha && view.ground === 'solid' && (
        <Colour label="Colour behind" value={view.solid} onChange={(solid) => onView({ solid })} />
      )}
      {SWITCHES.map(([name, label]) => (
        <FormControlLabel
          key={name}
          sx={{ display: 'flex', my: -0.6, '& .MuiFormControlLabel-label': { fontSize: 13.5 } }}
          control={
            <Checkbox
              size="small"
              checked={view[name]}
              onChange={(event) => onView({ [name]: event.target.checked })}
            />
          }
          label={label}
        />
      ))}
      {view.masked && (
        <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 0.5, mt: 1 }}>
          {view.maskColours.map((colour, n) => (
            <Colour
              key={n}
              label={CHANNELS[n + 1]!}
              value={colour}
              onChange={(next) =>
                onView({ maskColours: view.maskColours.map((old, m) => (m === n ? next : old)) as never })
              }
            />
          ))}
        </Box>
      )}
    </>
  );
}

function Colour({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (colour: string) => void;
}) {
  return (
    <TextField
      type="color"
      size="small"
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      sx={{ mb: 1, '& input': { p: 0.5, height: 26 } }}
      fullWidth
    />
  );
}
