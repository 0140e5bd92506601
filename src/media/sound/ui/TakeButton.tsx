'use client';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import StopRounded from '@mui/icons-material/StopRounded';
import IconButton from '@mui/material/IconButton';
import { useEffect, useState } from 'react';

interface Playable {
  readonly archiveId: number;
  readonly index: number;
  readonly storedSize: number;
}

/** One sound at a time is heard of those that stand in lists. */
const heard = { audio: undefined as HTMLAudioElement | undefined, stop: (): void => undefined };

function stopHeard(): void {
  heard.audio?.pause();
  heard.stop();
  heard.audio = undefined;
}

/** Plays a sound of a list where it stands, and stops it. */
export function TakeButton({ gameId, entry, label }: { gameId: number; entry: Playable; label: string }) {
  const [isOn, setOn] = useState(false);
  const [failed, setFailed] = useState('');
  const { archiveId, index, storedSize } = entry;
  const address = `/api/games/${gameId}/entries/${archiveId}/${index}/raw?v=${storedSize}`;
  useEffect(
    () => () => {
      if (heard.audio?.src.endsWith(address)) stopHeard();
    },
    [address],
  );
  const press = (): void => {
    stopHeard();
    if (isOn) return;
    const audio = new Audio(address);
    heard.audio = audio;
    heard.stop = () => setOn(false);
    audio.addEventListener('ended', () => setOn(false));
    setOn(true);
    setFailed('');
    audio.play().catch((error: unknown) => {
      setOn(false);
      if ((error as Error).name !== 'AbortError') setFailed((error as Error).message);
    });
  };
  const what = failed || `${isOn ? 'Stop' : 'Play'} ${label}`;
  return (
    <IconButton
      size="small"
      aria-label={what}
      title={what}
      color={failed ? 'error' : 'primary'}
      onClick={press}
      sx={{ p: 0.25 }}
    >
      {isOn ? <StopRounded fontSize="small" /> : <PlayArrowRounded fontSize="small" />}
    </IconButton>
  );
}
