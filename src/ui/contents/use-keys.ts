'use client';
import { useEffect, useRef } from 'react';
import { isForPage, lettersWork } from '../letter-keys';

interface Keys {
  /** Whether the list stands at its first row. */
  isFirst: boolean;
  search: () => void;
  move: (by: number) => void;
  /** How far up and down go. */
  step: number;
  /** Whether left and right move as well. */
  sideways: boolean;
  pick: () => void;
  extract: () => void;
  clear: () => void;
}

const tell = (name: string) => (): void => void window.dispatchEvent(new Event(`zero-latch-${name}`));

/** The keys of the Contents screen; none of them works while one types or a dialog is open. */
export function useContentsKeys(keys: Keys): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const at = event.target as HTMLElement;
      if (!isForPage(event)) return;
      const now = latest.current;
      const actions: Record<string, (() => void) | undefined> = {
        '/': now.search,
        ArrowDown: () => now.move(now.step),
        ArrowUp: () => (now.isFirst ? now.search() : now.move(-now.step)),
        ArrowRight: now.sideways ? () => now.move(1) : undefined,
        ArrowLeft: now.sideways ? () => now.move(-1) : undefined,
        ' ': at.closest('button') ? undefined : tell('look'),
        x: now.pick,
        e: now.extract,
        r: tell('replace'),
        b: tell('bytes'),
        o: tell('original'),
        n: tell('namesake'),
        N: tell('namesake-back'),
        Escape: now.clear,
      };
      const action = /^[a-zA-Z]$/.test(event.key) && !lettersWork() ? undefined : actions[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}
