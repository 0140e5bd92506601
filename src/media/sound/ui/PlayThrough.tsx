'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import ReplayRounded from '@mui/icons-material/ReplayRounded';
import SkipNextRounded from '@mui/icons-material/SkipNextRounded';
import SkipPreviousRounded from '@mui/icons-material/SkipPreviousRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ThroughProps } from '@/media/medium-ui';
import { nameOf, number } from '@/ui/format';
import { lettersWork } from '@/ui/letter-keys';
import { SoundStore } from './sound-store';

const SPEEDS = [0.75, 1, 1.25, 1.5, 2];
/** So many of the next ones are fetched ahead, and the one before stays. */
const AHEAD = [1, 2, -1];

/** Plays a list of sounds one after the other: the arrow keys go to the next, which begins at once. */
export function PlayThrough({ gameId, entries, selected, onSelect }: ThroughProps) {
  const [isOn, setOn] = useState(false);
  useEffect(() => {
    if (isOn) return;
    const press = (event: KeyboardEvent): void => {
      if (event.key !== 'p' || !isForUs(event) || !lettersWork()) return;
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

/** Keys belong to fields and dialogs where one is at work in them. */
const isForUs = (event: KeyboardEvent): boolean =>
  !event.ctrlKey &&
  !event.metaKey &&
  !event.altKey &&
  !(event.target as HTMLElement).closest(
    'input:not([type=checkbox]), textarea, [contenteditable], [role=dialog]',
  );

function Playing({ gameId, entries, selected, onSelect, onEnd }: ThroughProps & { onEnd: () => void }) {
  const store = useMemo(() => new SoundStore(gameId), [gameId]);
  const audio = useRef<HTMLAudioElement>(null);
  const [isPlaying, setPlaying] = useState(false);
  const [speed, setSpeed] = useState(1);
  const [failed, setFailed] = useState('');
  /** From when one was asked for until it was heard, in milliseconds. */
  const [waited, setWaited] = useState<number>();
  const at = Math.max(0, selected);
  const item = entries.at(at);
  const latest = useRef({ at, entries, onSelect, speed });
  useEffect(() => {
    latest.current = { at, entries, onSelect, speed };
  });
  const go = (by: number): void => {
    const { at: now, entries: all, onSelect: choose } = latest.current;
    const next = now + by;
    if (next >= 0 && next < all.total) choose(next);
  };
  const again = (): void => {
    if (!audio.current) return;
    audio.current.currentTime = 0;
    void audio.current.play();
  };
  const turn = (): void => void (audio.current?.paused ? audio.current.play() : audio.current?.pause());
  const faster = (by: number): void =>
    setSpeed((old) => SPEEDS[Math.max(0, Math.min(SPEEDS.length - 1, SPEEDS.indexOf(old) + by))]!);
  const keys = useRef<Record<string, () => void>>({});
  useEffect(() => {
    keys.current = { p: onEnd, a: again, '>': () => faster(1), '<': () => faster(-1) };
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const isLetter = /^[a-z<>]$/.test(event.key);
      const act = isLetter && isForUs(event) && lettersWork() ? keys.current[event.key] : undefined;
      if (!act) return;
      event.preventDefault();
      act();
    };
    // Space is this one's while it plays; the inspector's wave rests.
    const look = (event: Event): void => {
      event.stopImmediatePropagation();
      turn();
    };
    window.addEventListener('keydown', press);
    window.addEventListener('zero-latch-look', look, { capture: true });
    return () => {
      window.removeEventListener('keydown', press);
      window.removeEventListener('zero-latch-look', look, { capture: true });
    };
  }, []);
  useEffect(() => () => store.end(), [store]);
  const key = item && `${item.archiveId}:${item.index}`;
  useEffect(() => {
    const { entries: all, at: now } = latest.current;
    const wanted = all.at(now);
    const player = audio.current;
    if (!wanted || !player) return;
    let isOver = false;
    const asked = performance.now();
    void store
      .address(wanted)
      .then(async (address) => {
        if (isOver) return;
        player.src = address;
        player.playbackRate = latest.current.speed;
        await player.play();
        if (!isOver) setWaited(performance.now() - asked);
        setFailed('');
      })
      .catch((error: unknown) => {
        // Another one was asked for before this one began.
        if (isOver || (error as Error).name === 'AbortError') return;
        setFailed((error as Error).message);
      });
    for (const by of AHEAD) {
      const near = all.at(now + by);
      if (near) void store.address(near).catch(() => undefined);
    }
    return () => {
      isOver = true;
    };
  }, [key, store]);
  useEffect(() => {
    if (audio.current) audio.current.playbackRate = speed;
  }, [speed]);
  return (
    <Box
      role="region"
      aria-label="Playing through"
      data-waited={waited === undefined ? undefined : Math.round(waited)}
      data-playing={isPlaying}
      sx={{ display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 0.5, fontSize: 13 }}
    >
      {/* Sounds of games have no words beside them here. */}
      {/* eslint-disable-next-line jsx-a11y/media-has-caption */}
      <audio
        ref={audio}
        onPlay={() => setPlaying(true)}
        onPause={() => setPlaying(false)}
        onEnded={() => go(1)}
      />
      <IconButton size="small" aria-label="The one before" title="↑" onClick={() => go(-1)}>
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
      <IconButton size="small" aria-label="The next one" title="↓" onClick={() => go(1)}>
        <SkipNextRounded fontSize="small" />
      </IconButton>
      <IconButton size="small" aria-label="Once more" title="a" onClick={again}>
        <ReplayRounded fontSize="small" />
      </IconButton>
      <Box
        className="mono"
        sx={{ color: failed ? 'bad' : 'ink2', maxWidth: 320, overflow: 'hidden', textOverflow: 'ellipsis' }}
      >
        {failed || `${number(at + 1)} of ${number(entries.total)}${item ? `, ${nameOf(item.path)}` : ''}`}
      </Box>
      <Button
        size="small"
        sx={{ minWidth: 0 }}
        title="< and >"
        aria-label="Speed"
        onClick={() => setSpeed(SPEEDS[(SPEEDS.indexOf(speed) + 1) % SPEEDS.length]!)}
      >
        {speed} ×
      </Button>
      <Button size="small" title="p" onClick={onEnd}>
        Stop
      </Button>
    </Box>
  );
}
