'use client';
import { useSyncExternalStore } from 'react';

const listeners = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

/** A text that the browser keeps under a key; null where there is none, and while the server renders. */
export const useKeptText = (key: string): string | null =>
  useSyncExternalStore(
    subscribe,
    () => localStorage.getItem(key),
    () => null,
  );

export function keepText(key: string, text: string): void {
  localStorage.setItem(key, text);
  for (const listener of listeners) listener();
}
