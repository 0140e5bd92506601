'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import RepeatRounded from '@mui/icons-material/RepeatRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import { useColorScheme } from '@mui/material/styles';
import { useEffect, useRef, useState } from 'react';
import { keepText, useKeptText } from '@/ui/kept-text';
import { EditRow, type Editable } from './EditRow';
import { useWave, type Stretch } from './use-wave';

/** How sounds are looked at is remembered from one to the next. */
const PITCHES = 'zero-latch-sound-pitches';
const SPEED = 'zero-latch-sound-speed';
const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 2];
/** Pixels of a second at most. */
const MOST_ZOOM = 1000;
const NO_CUES: readonly number[] = [];

/** A place in a sound, to the hundredth of a second. */
const placeOf = (seconds: number): string => {
  const minutes = Math.floor(seconds / 60);
  return `${minutes}:${(seconds - 60 * minutes).toFixed(2).padStart(5, '0')}`;
};

interface Props {
  readonly url: string;
  readonly label: string;
  readonly loop?: Stretch | undefined;
  readonly cues?: readonly number[] | undefined;
  /** Set where it can be edited. */
  readonly entry?: Editable | undefined;
}

/** A sound as its wave, to be played whole, or a stretch of it that was dragged over; Space plays and rests. */
export function SoundView({ url, label, loop, cues = NO_CUES, entry }: Props) {
  const { mode, systemMode } = useColorScheme();
  const isDark = (mode === 'system' ? systemMode : mode) === 'dark';
  const showsPitches = useKeptText(PITCHES) === 'on';
  const speed = Number(useKeptText(SPEED)) || 1;
  const [zoom, setZoom] = useState(0);
  const [isAgain, setAgain] = useState(false);
  const { box, player, isPlaying, length, at, failed, chosen, clear } = useWave(url, {
    ...{ isDark, loop, cues, showsPitches },
  });
  // What is played: what is marked, or all; again where that is asked for, then the loop where nothing is marked.
  const stretch = chosen ?? (isAgain ? loop : undefined);
  const now = useRef({ stretch, isAgain });
  useEffect(() => {
    now.current = { stretch, isAgain };
  });
  useEffect(() => {
    const wave = player.current;
    if (!wave) return;
    const play = (): void => void wave.playPause();
    window.addEventListener('zero-latch-look', play);
    const turn = (time: number): void => {
      const { stretch: only, isAgain: again } = now.current;
      if (!only || !wave.isPlaying() || time < only.to) return;
      if (again) wave.setTime(only.from);
      else wave.pause();
    };
    const begin = (): void => {
      const only = now.current.stretch;
      const time = wave.getCurrentTime();
      // A loop is come to from before it; what is marked is played from where it begins.
      if (only && (time >= only.to || (time < only.from && !now.current.isAgain))) wave.setTime(only.from);
    };
    const over = (): void => {
      if (now.current.isAgain && !now.current.stretch) void wave.play();
    };
    const off = [wave.on('timeupdate', turn), wave.on('play', begin), wave.on('finish', over)];
    return () => {
      window.removeEventListener('zero-latch-look', play);
      for (const end of off) end();
    };
  }, [player, url, isDark, showsPitches]);
  useEffect(() => {
    player.current?.setPlaybackRate(speed, true);
  }, [player, speed, length]);
  useEffect(() => {
    if (length !== undefined) player.current?.zoom(zoom);
  }, [player, zoom, length]);
  return (
    <Box
      sx={{ border: 1, borderColor: 'line', borderRadius: 1, bgcolor: 'background.paper', p: 1.25 }}
      data-playing={isPlaying}
    >
      <div ref={box} role="img" aria-label={`Wave of ${label}`} />
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 1 }}>
        <IconButton
          aria-label={isPlaying ? 'Pause' : 'Play'}
          onClick={() => void player.current?.playPause()}
          color="primary"
        >
          {isPlaying ? <PauseRounded /> : <PlayArrowRounded />}
        </IconButton>
        <Box className="mono" sx={{ color: failed ? 'bad' : 'ink2', fontSize: 13, minWidth: 92 }}>
          {failed || (length === undefined ? 'decoding' : `${placeOf(at)} of ${placeOf(length)}`)}
        </Box>
        <ToggleButton
          value="again"
          size="small"
          selected={isAgain}
          aria-label={
            chosen ? 'What is marked again and again' : loop ? 'The loop again and again' : 'Again and again'
          }
          onChange={() => setAgain(!isAgain)}
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
          onChange={(_event, value) => setZoom(value as number)}
          sx={{ width: 70, ml: 0.5 }}
        />
      </Box>
      {chosen && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13, color: 'ink2' }}>
          <span className="mono">
            {placeOf(chosen.from)} to {placeOf(chosen.to)}, {(chosen.to - chosen.from).toFixed(2)} s
          </span>
          <Button size="small" onClick={clear}>
            Clear
          </Button>
        </Box>
      )}
      {entry && <EditRow {...{ entry, chosen, length }} />}
    </Box>
  );
}
