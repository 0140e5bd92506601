'use client';
import { useSyncExternalStore } from 'react';
import { useMods } from './queries';

const listeners = new Set<() => void>();
const keyOf = (gameId: number): string => `zero-latch-mod-${gameId}`;

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

/** The mod that is being worked on, remembered by the browser; the newest one until another is chosen. */
export function useMod(gameId: number): {
  mod: { id: number; title: string } | undefined;
  choose: (id: number) => void;
  loaded: boolean;
} {
  const { data: mods } = useMods(gameId);
  const chosen = useSyncExternalStore(
    subscribe,
    () => localStorage.getItem(keyOf(gameId)),
    () => null,
  );
  const mod = mods?.find(({ id }) => id === Number(chosen)) ?? mods?.at(-1);
  return {
    mod,
    loaded: mods !== undefined,
    choose(id) {
      localStorage.setItem(keyOf(gameId), String(id));
      for (const listener of listeners) listener();
    },
  };
}
