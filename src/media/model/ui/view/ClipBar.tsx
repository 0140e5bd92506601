'use client';
import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import RepeatRounded from '@mui/icons-material/RepeatRounded';
import SkipNextRounded from '@mui/icons-material/SkipNextRounded';
import SkipPreviousRounded from '@mui/icons-material/SkipPreviousRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import { useEffect, useState } from 'react';
import type { PackedClip } from '../../core/view/pack';
import { momentOf } from './view-state';

const SPEEDS = [0.1, 0.25, 0.5, 1, 2];
/** Where nothing says a rate, a step is so long. */
const USUAL_RATE = 30;

/** Clips by their groups, in the order in which the groups come. */
export function grouped(
  clips: readonly PackedClip[],
): (readonly [group: string, numbers: readonly number[]])[] {
  const groups = new Map<string, number[]>();
  clips.forEach(({ group }, i) => groups.set(group, [...(groups.get(group) ?? []), i]));
  return [...groups];
}

/** Plays a clip: chosen by its group, sought frame by frame, at any speed, over and over or once. */
export function ClipBar({
  clips,
  chosen,
  onChoose,
  seconds,
  onSeconds,
}: {
  readonly clips: readonly PackedClip[];
  readonly chosen: number;
  readonly onChoose: (clip: number) => void;
  readonly seconds: number;
  readonly onSeconds: (seconds: number) => void;
}) {
  const clip = clips[chosen];
  const [isPlaying, setPlaying] = useState(false);
  const [isLoop, setLoop] = useState(true);
  const [speed, setSpeed] = useState(1);
  const length = clip?.seconds ?? 0;
  useEffect(() => {
    if (!isPlaying || length <= 0) return;
    let last = performance.now();
    let at = seconds;
    let frame = requestAnimationFrame(function step(now) {
      at += ((now - last) / 1000) * speed;
      last = now;
      if (at >= length) {
        if (!isLoop) {
          onSeconds(length);
          setPlaying(false);
          return;
        }
        at %= length;
      }
      onSeconds(at);
      frame = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(frame);
    // It goes on from where it is; its own steps do not begin it anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isPlaying, isLoop, speed, length, chosen]);
  const step = 1 / (clip && clip.rate > 0 ? clip.rate : USUAL_RATE);
  const go = (by: number): void => {
    setPlaying(false);
    onSeconds(Math.min(length, Math.max(0, Math.round((seconds + by * step) / step) * step)));
  };
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, flexWrap: 'wrap' }}>
      <Select
        size="small"
        value={chosen}
        onChange={({ target }) => {
          setPlaying(false);
          onSeconds(0);
          onChoose(Number(target.value));
        }}
        inputProps={{ 'aria-label': 'Clip' }}
        sx={{ minWidth: 120, maxWidth: 220 }}
      >
        <MenuItem value={-1}>Still</MenuItem>
        {grouped(clips).flatMap(([group, numbers]) => [
          ...(group === '' ? [] : [<ListSubheader key={`group ${group}`}>{group}</ListSubheader>]),
          ...numbers.map((number) => (
            <MenuItem key={number} value={number}>
              {clips[number]!.name}
            </MenuItem>
          )),
        ])}
      </Select>
      {clip && (
        <>
          <IconButton size="small" aria-label="Frame before" onClick={() => go(-1)}>
            <SkipPreviousRounded fontSize="small" />
          </IconButton>
          <IconButton
            size="small"
            aria-label={isPlaying ? 'Pause the clip' : 'Play the clip'}
            onClick={() => {
              if (!isPlaying && seconds >= length) onSeconds(0);
              setPlaying(!isPlaying);
            }}
          >
            {isPlaying ? <PauseRounded fontSize="small" /> : <PlayArrowRounded fontSize="small" />}
          </IconButton>
          <IconButton size="small" aria-label="Frame behind" onClick={() => go(1)}>
            <SkipNextRounded fontSize="small" />
          </IconButton>
          <Slider
            size="small"
            aria-label="Place in the clip"
            min={0}
            max={length}
            step={step}
            value={Math.min(seconds, length)}
            getAriaValueText={(at) => momentOf(at, clip.rate)}
            onChange={(_event, at) => {
              setPlaying(false);
              onSeconds(at as number);
            }}
            sx={{ flex: 1, minWidth: 80 }}
          />
          <Box sx={{ color: 'ink2', fontSize: 12.5, minWidth: 112, fontVariantNumeric: 'tabular-nums' }}>
            {momentOf(seconds, clip.rate)}
          </Box>
          <Select
            size="small"
            value={speed}
            onChange={({ target }) => setSpeed(Number(target.value))}
            inputProps={{ 'aria-label': 'Speed' }}
          >
            {SPEEDS.map((one) => (
              <MenuItem key={one} value={one}>
                {one} x
              </MenuItem>
            ))}
          </Select>
          <ToggleButton
            size="small"
            value="loop"
            selected={isLoop}
            onChange={() => setLoop(!isLoop)}
            aria-label="Over and over"
            title="Over and over"
            sx={{ p: 0.4 }}
          >
            <RepeatRounded fontSize="small" />
          </ToggleButton>
        </>
      )}
    </Box>
  );
}
