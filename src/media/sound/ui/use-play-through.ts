'use client';
import { useEffect, useRef, useState } from 'react';
import { api } from '@/ui/api';
import type { ThroughProps } from '@/media/medium-ui';
import { ThroughPlayer, type PlayerState } from './through-player';
import { useThroughKeys } from './use-through-keys';

const SPEEDS = [0.75, 1, 1.25, 1.5, 2];
/** The tag that a key gives, and takes away. */
const MARKED = 'marked';

/** Those around the chosen one are made ready, the next ones first. */
const AHEAD = [1, 2, 3, -1];

/** Playing a list through: what the bar shows, and what its buttons and keys do. */
export function usePlayThrough({ gameId, entries, selected, onSelect }: ThroughProps, onEnd: () => void) {
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
  /** Whoever writes a tag or a name writes it for the one that was heard, so that nothing goes on meanwhile. */
  const write = (field: 'tag' | 'name'): void => {
    player.current?.hold();
    window.dispatchEvent(new Event(`zero-latch-${field}`));
  };
  const mark = (): void => {
    const now = latest.current.entries.at(latest.current.at);
    if (!now) return;
    const change = now.tags.includes(MARKED) ? 'remove' : 'add';
    api
      .post(`games/${gameId}/marks`, { paths: [now.path], [change]: [MARKED] })
      .catch((error: unknown) => setState((old) => ({ ...old, failed: (error as Error).message })));
  };
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
  useThroughKeys({
    turn: () => player.current?.turn(),
    // The list moves as well; what is heard does not wait for it.
    step: (by, asked) => {
      const near = latest.current.entries.at(latest.current.at + by);
      if (near) player.current?.begin(near, asked);
    },
    letters: {
      ...{ p: onEnd, a: () => player.current?.again() },
      ...{ '>': () => faster(1), '<': () => faster(-1) },
      ...{ m: mark, t: () => write('tag'), n: () => write('name') },
    },
  });
  const key = item && `${item.archiveId}:${item.index}`;
  useEffect(() => {
    const { entries: all, at: now } = latest.current;
    const wanted = all.at(now);
    if (!wanted) return;
    player.current?.begin(wanted, performance.now());
    player.current?.prepare(AHEAD.map((by) => all.at(now + by)));
  }, [key]);
  useEffect(() => player.current?.setSpeed(speed), [speed]);
  return {
    ...{ isPlaying, failed, waited, speed, at, item, go },
    turn: () => player.current?.turn(),
    again: () => player.current?.again(),
    nextSpeed: () => setSpeed(SPEEDS[(SPEEDS.indexOf(speed) + 1) % SPEEDS.length]!),
  };
}
