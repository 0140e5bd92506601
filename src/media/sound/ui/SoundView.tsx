'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useColorScheme } from '@mui/material/styles';
import { useEffect, useRef, useState } from 'react';
import WaveSurfer from 'wavesurfer.js';
import { duration } from '@/ui/format';

/** A sound as its wave, with play and pause; Space does the same. */
export function SoundView({ url, label }: { url: string; label: string }) {
  const box = useRef<HTMLDivElement>(null);
  const player = useRef<WaveSurfer>(null);
  const [playing, setPlaying] = useState(false);
  const [length, setLength] = useState<number>();
  const [failed, setFailed] = useState('');
  const { mode, systemMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  useEffect(() => {
    const wave = WaveSurfer.create({
      container: box.current!,
      url,
      height: 92,
      waveColor: dark ? '#5f8f89' : '#3a7a74',
      progressColor: dark ? '#dba94d' : '#9a6a14',
      cursorColor: dark ? '#dba94d' : '#9a6a14',
      barWidth: 2,
      barGap: 1,
      barRadius: 1,
    });
    player.current = wave;
    wave.on('play', () => setPlaying(true));
    wave.on('pause', () => setPlaying(false));
    wave.on('finish', () => setPlaying(false));
    wave.on('ready', setLength);
    wave.on('error', (error) => setFailed(error.message));
    const space = (): void => void wave.playPause();
    window.addEventListener('zero-latch-look', space);
    return () => {
      window.removeEventListener('zero-latch-look', space);
      wave.destroy();
    };
  }, [url, dark]);
  return (
    <Box
      sx={{ border: 1, borderColor: 'line', borderRadius: 1, bgcolor: 'background.paper', p: 1.25 }}
      data-playing={playing}
    >
      <div ref={box} role="img" aria-label={`Wave of ${label}`} />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <IconButton
          aria-label={playing ? 'Pause' : 'Play'}
          onClick={() => void player.current?.playPause()}
          color="primary"
        >
          {playing ? <PauseRounded /> : <PlayArrowRounded />}
        </IconButton>
        <Box sx={{ color: failed ? 'bad' : 'ink2', fontSize: 13 }}>
          {failed || (length === undefined ? 'decoding' : duration(length))}
        </Box>
      </Box>
    </Box>
  );
}
