'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useColorScheme } from '@mui/material/styles';
import { useEffect, useRef, useState } from 'react';
import { EditRow, type Editable } from './EditRow';
import { SoundControls, useSoundLook } from './SoundControls';
import { useStretch } from './use-stretch';
import { useWave, type Stretch } from './use-wave';

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
  /** How often Space was pressed, also before this was there to hear it. */
  readonly presses?: number | undefined;
}

/** A sound as its wave, to be played whole, or a stretch of it that was dragged over; Space plays and rests. */
export function SoundView({ url, label, loop, cues = NO_CUES, entry, presses = 0 }: Props) {
  const { mode, systemMode } = useColorScheme();
  const isDark = (mode === 'system' ? systemMode : mode) === 'dark';
  const { showsPitches, speed } = useSoundLook();
  const [zoom, setZoom] = useState(0);
  const [isAgain, setAgain] = useState(false);
  const { box, player, isPlaying, length, at, failed, chosen, turn, clear } = useWave(url, {
    ...{ isDark, loop, cues, showsPitches },
  });
  // What is played: what is marked, or all; again where that is asked for, then the loop where nothing is marked.
  const stretch = chosen ?? (isAgain ? loop : undefined);
  useStretch(player, { stretch, isAgain }, `${url} ${isDark} ${showsPitches}`);
  const heard = useRef(0);
  useEffect(() => {
    // Two presses that came at once leave it as it was.
    if ((presses - heard.current) % 2 === 1) turn();
    heard.current = presses;
  });
  useEffect(() => {
    player.current?.setPlaybackRate(speed, true);
  }, [player, speed, length]);
  useEffect(() => {
    // The length may still be that of the wave before, where the next one came within one turn.
    if (player.current?.getDecodedData()) player.current.zoom(zoom);
  }, [player, zoom, length]);
  const againLabel = chosen
    ? 'What is marked again and again'
    : loop
      ? 'The loop again and again'
      : 'Again and again';
  return (
    <Box
      sx={{ border: 1, borderColor: 'line', borderRadius: 1, bgcolor: 'background.paper', p: 1.25 }}
      data-playing={isPlaying}
    >
      <div ref={box} role="img" aria-label={`Wave of ${label}`} />
      <Box sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 1 }}>
        <IconButton aria-label={isPlaying ? 'Pause' : 'Play'} onClick={turn} color="primary">
          {isPlaying ? <PauseRounded /> : <PlayArrowRounded />}
        </IconButton>
        <Box className="mono" sx={{ color: failed ? 'bad' : 'ink2', fontSize: 13, minWidth: 92 }}>
          {failed || (length === undefined ? 'decoding' : `${placeOf(at)} of ${placeOf(length)}`)}
        </Box>
        <SoundControls {...{ againLabel, isAgain, zoom }} onAgain={setAgain} onZoom={setZoom} />
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
