'use client';
import { useEffect, useRef, type RefObject } from 'react';
import type WaveSurfer from 'wavesurfer.js';
import type { Stretch } from './use-wave';

interface Wanted {
  /** What is played; all of it where none is given. */
  readonly stretch: Stretch | undefined;
  readonly isAgain: boolean;
}

/**
 * Plays a stretch of a wave instead of all of it, again and again where that is asked for.
 * `remade` tells one wave of a view from the next.
 */
export function useStretch(player: RefObject<WaveSurfer | null>, wanted: Wanted, remade: string): void {
  const now = useRef(wanted);
  useEffect(() => {
    now.current = wanted;
  });
  useEffect(() => {
    const wave = player.current;
    if (!wave) return;
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
      for (const end of off) end();
    };
  }, [player, remade]);
}
