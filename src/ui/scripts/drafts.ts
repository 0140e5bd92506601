'use client';
import { useCallback, useSyncExternalStore } from 'react';

const KEY = 'zero-latch-script-drafts';
const listeners = new Set<() => void>();
const EMPTY = '{}';

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

/** Texts that are not saved yet, by script; the browser keeps them when the page is left. */
export function useDrafts(): [
  Readonly<Record<string, string>>,
  (id: string, text: string | undefined) => void,
] {
  const kept = useSyncExternalStore(
    subscribe,
    () => localStorage.getItem(KEY) ?? EMPTY,
    () => EMPTY,
  );
  const set = useCallback((id: string, text: string | undefined) => {
    const all = JSON.parse(localStorage.getItem(KEY) ?? EMPTY) as Record<string, string>;
    if (text === undefined) delete all[id];
    else all[id] = text;
    localStorage.setItem(KEY, JSON.stringify(all));
    for (const listener of listeners) listener();
  }, []);
  return [JSON.parse(kept) as Record<string, string>, set];
}
