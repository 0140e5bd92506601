'use client';
import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import type { Edit } from '@/media/picture/core/retouch';

/** Where the sliders of the small edits stand. */
export interface Settings {
  readonly colour: string;
  readonly amount: number;
  readonly degrees: number;
  readonly saturation: number;
  readonly black: number;
  readonly white: number;
  readonly gamma: number;
  /** -1 leaves alpha as it is. */
  readonly alpha: number;
}

export const NO_EDITS: Settings = {
  colour: '#c0842c',
  amount: 0,
  degrees: 0,
  saturation: 1,
  black: 0,
  white: 255,
  gamma: 1,
  alpha: -1,
};

/** The edits that sliders stand for; those that would change nothing are left out. */
export function editsOf(settings: Settings): Edit[] {
  const { colour, amount, degrees, saturation, black, white, gamma, alpha } = settings;
  return [
    ...(black !== 0 || white !== 255 || gamma !== 1
      ? [{ sort: 'levels', black, white: Math.max(white, black + 1), gamma } as const]
      : []),
    ...(degrees !== 0 || saturation !== 1 ? [{ sort: 'hue', degrees, saturation } as const] : []),
    ...(amount > 0 ? [{ sort: 'tint', colour, amount } as const] : []),
    ...(alpha >= 0 ? [{ sort: 'alpha', value: alpha } as const] : []),
  ];
}

interface Row {
  readonly name: Exclude<keyof Settings, 'colour'>;
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
}

const ROWS: readonly Row[] = [
  { name: 'amount', label: 'Tint', min: 0, max: 1, step: 0.01 },
  { name: 'degrees', label: 'Hue', min: -180, max: 180, step: 1 },
  { name: 'saturation', label: 'Saturation', min: 0, max: 3, step: 0.01 },
  { name: 'black', label: 'Black', min: 0, max: 254, step: 1 },
  { name: 'gamma', label: 'Middle', min: 0.2, max: 4, step: 0.01 },
  { name: 'white', label: 'White', min: 1, max: 255, step: 1 },
  { name: 'alpha', label: 'Alpha', min: -1, max: 255, step: 1 },
];

const spelled = (name: Row['name'], value: number): string =>
  name === 'alpha' ? (value < 0 ? 'as it is' : String(value)) : String(value);

/** Tint, hue, levels and alpha, of the picked parts or of the whole sheet. */
export function EditsPanel({
  settings,
  scope,
  disabled,
  onChange,
}: {
  settings: Settings;
  scope: string;
  disabled: boolean;
  onChange: (settings: Settings) => void;
}) {
  return (
    <Box component="section" aria-label="Small edits">
      <Box sx={{ display: 'flex', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Small edits
        </Typography>
        <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{scope}</Box>
      </Box>
      {ROWS.map(({ name, label, ...range }) => (
        <Box
          key={name}
          sx={{ display: 'grid', gridTemplateColumns: '80px 1fr 56px', gap: 1.5, alignItems: 'center' }}
        >
          <Box sx={{ fontSize: 13.5 }}>{label}</Box>
          <Slider
            size="small"
            {...range}
            disabled={disabled}
            value={settings[name]}
            aria-label={label}
            getAriaValueText={(value) => spelled(name, value)}
            onChange={(_event, value) => onChange({ ...settings, [name]: value })}
          />
          {name === 'amount' ? (
            <TextField
              type="color"
              size="small"
              variant="standard"
              disabled={disabled}
              value={settings.colour}
              onChange={(event) => onChange({ ...settings, colour: event.target.value })}
              slotProps={{ htmlInput: { 'aria-label': 'Colour of the tint' } }}
            />
          ) : (
            <Box sx={{ fontSize: 12.5, textAlign: 'right', color: 'ink2' }}>
              {spelled(name, settings[name])}
            </Box>
          )}
        </Box>
      ))}
    </Box>
  );
}
