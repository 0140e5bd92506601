'use client';
import RepeatRounded from '@mui/icons-material/RepeatRounded';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import { keepText, useKeptText } from '@/ui/kept-text';

/** How sounds are looked at is remembered from one to the next. */
const PITCHES = 'zero-latch-sound-pitches';
const SPEED = 'zero-latch-sound-speed';
const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 2];
/** Pixels of a second at most. */
const MOST_ZOOM = 1000;

/** What is remembered of how sounds are looked at: whether pitches show, and how fast they play. */
export const useSoundLook = (): { showsPitches: boolean; speed: number } => ({
  showsPitches: useKeptText(PITCHES) === 'on',
  speed: Number(useKeptText(SPEED)) || 1,
});

interface Props {
  readonly againLabel: string;
  readonly isAgain: boolean;
  readonly onAgain: (isAgain: boolean) => void;
  /** Pixels of a second; 0 for all of it at once. */
  readonly zoom: number;
  readonly onZoom: (zoom: number) => void;
}

/** How a wave is played and shown: again, faster, its pitches, nearer. */
export function SoundControls({ againLabel, isAgain, onAgain, zoom, onZoom }: Props) {
  const { showsPitches, speed } = useSoundLook();
  return (
    <>
      <ToggleButton
        value="again"
        size="small"
        selected={isAgain}
        aria-label={againLabel}
        onChange={() => onAgain(!isAgain)}
        sx={{ p: 0.4 }}
      >
        <RepeatRounded fontSize="small" />
      </ToggleButton>
      <Select
        value={speed}
        size="small"
        variant="standard"
        disableUnderline
        inputProps={{ 'aria-label': 'Speed' }}
        onChange={({ target }) => keepText(SPEED, String(target.value))}
        sx={{ fontSize: 13 }}
      >
        {SPEEDS.map((one) => (
          <MenuItem key={one} value={one}>
            {one} ×
          </MenuItem>
        ))}
      </Select>
      <ToggleButton
        value="pitches"
        size="small"
        selected={showsPitches}
        onChange={() => keepText(PITCHES, showsPitches ? 'off' : 'on')}
        sx={{ px: 0.8, py: 0.1, fontSize: 12.5, textTransform: 'none' }}
      >
        Pitches
      </ToggleButton>
      <Slider
        size="small"
        aria-label="Nearer"
        min={0}
        max={MOST_ZOOM}
        value={zoom}
        onChange={(_event, value) => onZoom(value as number)}
        sx={{ width: 70, ml: 0.5 }}
      />
    </>
  );
}
