'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import ReplayRounded from '@mui/icons-material/ReplayRounded';
import SkipNextRounded from '@mui/icons-material/SkipNextRounded';
import SkipPreviousRounded from '@mui/icons-material/SkipPreviousRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useEffect, useRef, useState } from 'react';
import type { ThroughProps } from '@/media/medium-ui';
import { nameOf, number } from '@/ui/format';
import { lettersWork } from '@/ui/letter-keys';
import { ThroughPlayer, type PlayerState } from './through-player';

const SPEEDS = [0.75, 1, 1.25, 1.5, 2];
/** Those around the chosen one are made ready, the next ones first. */
const AHEAD = [1, 2, 3, -1];

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
    'input:not([type=checkbox]), textarea, [contenteditable], [role=dialog], [role=tree], [role=tablist], [role=separator]',
  );

function Playing({ gameId, entries, selected, onSelect, onEnd }: ThroughProps & { onEnd: () => void }) {
  const [{ isPlaying, failed, waited }, setState] = useState<PlayerState>({
    ...{ isPlaying: false, failed: '', waited: undefined },
  });
  const [speed, setSpeed] = useState(1);
  const player = useRef<ThroughPlayer>(null);
  const at = Math.max(0, selected);
  const item = entries.at(at);
  const latest = useRef({ at, entries, onSelect });
  useEffect(() => {
    latest.current = { at, entries, onSelect };
  });
  const go = (by: number, asked: number): void => {
    const { at: now, entries: all, onSelect: choose } = latest.current;
    const to = now + by;
    if (to < 0 || to >= all.total) return;
    const next = all.at(to);
    // Heard before anything is drawn; one that is not listed yet once it is.
    if (next) player.current?.begin(next, asked);
    choose(to);
  };
  const faster = (by: number): void =>
    setSpeed((old) => SPEEDS[Math.max(0, Math.min(SPEEDS.length - 1, SPEEDS.indexOf(old) + by))]!);
  useEffect(() => {
    const own = new ThroughPlayer(
      gameId,
      (state) => setState((old) => ({ ...old, ...state })),
      () => go(1, performance.now()),
    );
    player.current = own;
    return () => own.end();
  }, [gameId]);
  const keys = useRef<Record<string, () => void>>({});
  useEffect(() => {
    keys.current = {
      ...{ p: onEnd, a: () => player.current?.again() },
      ...{ '>': () => faster(1), '<': () => faster(-1) },
    };
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (!isForUs(event)) return;
      const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      // The list moves as well; what is heard does not wait for it.
      const near = by === undefined ? undefined : latest.current.entries.at(latest.current.at + by);
      if (near) player.current?.begin(near, event.timeStamp);
      const act = /^[a-z<>]$/.test(event.key) && lettersWork() ? keys.current[event.key] : undefined;
      if (!act) return;
      event.preventDefault();
      // Whoever begins by the same key must not hear the press that ended it.
      event.stopPropagation();
      act();
    };
    // Space is this one's while it plays; the inspector's wave rests.
    const look = (event: Event): void => {
      event.stopImmediatePropagation();
      player.current?.turn();
    };
    window.addEventListener('keydown', press, { capture: true });
    window.addEventListener('zero-latch-look', look, { capture: true });
    return () => {
      window.removeEventListener('keydown', press, { capture: true });
      window.removeEventListener('zero-latch-look', look, { capture: true });
    };
  }, []);
  const key = item && `${item.archiveId}:${item.index}`;
  useEffect(() => {
    const { entries: all, at: now } = latest.current;
    const wanted = all.at(now);
    if (!wanted) return;
    player.current?.begin(wanted, performance.now());
    player.current?.prepare(AHEAD.map((by) => all.at(now + by)));
  }, [key]);
  useEffect(() => player.current?.setSpeed(speed), [speed]);
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
        onClick={() => player.current?.turn()}
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
      <IconButton size="small" aria-label="Once more" title="a" onClick={() => player.current?.again()}>
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
