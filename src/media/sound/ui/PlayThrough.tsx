'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import ReplayRounded from '@mui/icons-material/ReplayRounded';
import SkipNextRounded from '@mui/icons-material/SkipNextRounded';
import SkipPreviousRounded from '@mui/icons-material/SkipPreviousRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useEffect, useState } from 'react';
import type { ThroughProps } from '@/media/medium-ui';
import { nameOf, number } from '@/ui/format';
import { isForPage, lettersWork } from '@/ui/letter-keys';
import { usePlayThrough } from './use-play-through';

/** Plays a list of sounds one after the other: the arrow keys go to the next, which begins at once. */
export function PlayThrough({ gameId, entries, selected, onSelect }: ThroughProps) {
  const [isOn, setOn] = useState(false);
  useEffect(() => {
    if (isOn) return;
    const press = (event: KeyboardEvent): void => {
      if (event.key !== 'p' || !isForPage(event) || !lettersWork()) return;
      event.preventDefault();
      setOn(true);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [isOn]);
  if (entries.total === 0) return null;
  if (!isOn)
    return (
      <Button size="small" title="p" onClick={() => setOn(true)}>
        Play through
      </Button>
    );
  return <Playing {...{ gameId, entries, selected, onSelect }} onEnd={() => setOn(false)} />;
}

function Playing({ onEnd, ...through }: ThroughProps & { onEnd: () => void }) {
  const { total } = through.entries;
  const { isPlaying, failed, waited, speed, at, item, go, turn, again, nextSpeed } = usePlayThrough(
    through,
    onEnd,
  );
  return (
    <Box
      role="region"
      aria-label="Playing through"
      data-waited={waited === undefined ? undefined : Math.round(waited)}
      data-playing={isPlaying}
      sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 0.5, fontSize: 13 }}
    >
      <IconButton
        size="small"
        aria-label="The one before"
        title="↑"
        onClick={(event) => go(-1, event.timeStamp)}
      >
        <SkipPreviousRounded fontSize="small" />
      </IconButton>
      <IconButton
        size="small"
        color="primary"
        aria-label={isPlaying ? 'Rest' : 'Go on'}
        title="Space"
        onClick={turn}
      >
        {isPlaying ? <PauseRounded fontSize="small" /> : <PlayArrowRounded fontSize="small" />}
      </IconButton>
      <IconButton
        size="small"
        aria-label="The next one"
        title="↓"
        onClick={(event) => go(1, event.timeStamp)}
      >
        <SkipNextRounded fontSize="small" />
      </IconButton>
      <IconButton size="small" aria-label="Once more" title="a" onClick={again}>
        <ReplayRounded fontSize="small" />
      </IconButton>
      <Box
        className="mono"
        sx={{ color: failed ? 'bad' : 'ink2', maxWidth: 320, overflow: 'hidden', textOverflow: 'ellipsis' }}
      >
        {failed || `${number(at + 1)} of ${number(total)}${item ? `, ${nameOf(item.path)}` : ''}`}
      </Box>
      <Button size="small" sx={{ minWidth: 0 }} title="< and >" aria-label="Speed" onClick={nextSpeed}>
        {speed} ×
      </Button>
      <Button size="small" title="p" onClick={onEnd}>
        Stop
      </Button>
    </Box>
  );
}
