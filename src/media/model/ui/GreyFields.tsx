'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Typography from '@mui/material/Typography';
import { GREY_USES, type Greys, type GreyUse } from '../core/take';
import { Check } from './fields';

const CHANNELS = [
  ['red', 'Red'],
  ['green', 'Green'],
  ['blue', 'Blue'],
  ['alpha', 'Alpha'],
] as const;

const USE_NAMES: Readonly<Record<GreyUse, string>> = {
  none: 'left out',
  roughness: 'how rough',
  metal: 'how much metal',
  shade: 'how much light comes in',
};

/** What each channel of a game's grey maps is; kept for the game. */
export function GreyFields({
  greys,
  onChange,
}: {
  readonly greys: Greys;
  readonly onChange: (greys: Greys) => void;
}) {
  return (
    <Box role="group" aria-label="Grey maps">
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Grey maps of this game
      </Typography>
      {CHANNELS.map(([channel, label]) => {
        const { is, inverted } = greys[channel] ?? { is: 'none', inverted: false };
        return (
          <Box key={channel} sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}>
            <Box sx={{ width: 48, color: 'ink2' }}>{label}</Box>
            <Select
              size="small"
              value={is}
              inputProps={{ 'aria-label': `${label} is` }}
              onChange={({ target }) => onChange({ ...greys, [channel]: { is: target.value, inverted } })}
            >
              {GREY_USES.map((use) => (
                <MenuItem key={use} value={use}>
                  {USE_NAMES[use]}
                </MenuItem>
              ))}
            </Select>
            {is !== 'none' && (
              <Check
                label="turned over"
                isOn={inverted}
                onChange={(next) => onChange({ ...greys, [channel]: { is, inverted: next } })}
              />
            )}
          </Box>
        );
      })}
    </Box>
  );
}
